// Places, ways and frames in space as plain values, in mm. For all that lies outside of the kernel.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kervo {

/// A way: how far and where to. As a direction its length is 1.
struct Vector3 {
    double x = 0, y = 0, z = 0;

    Vector3() = default;
    Vector3(double x_, double y_, double z_) : x(x_), y(y_), z(z_) {}
    explicit Vector3(const std::array<double, 3>& a) : x(a[0]), y(a[1]), z(a[2]) {}

    friend bool operator==(const Vector3&, const Vector3&) = default;
    friend Vector3 operator+(const Vector3& a, const Vector3& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
    friend Vector3 operator-(const Vector3& a, const Vector3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
    friend Vector3 operator-(const Vector3& a) { return {-a.x, -a.y, -a.z}; }
    friend Vector3 operator*(const Vector3& a, double by) { return {a.x * by, a.y * by, a.z * by}; }

    [[nodiscard]] double dot(const Vector3& b) const { return x * b.x + y * b.y + z * b.z; }
    [[nodiscard]] Vector3 cross(const Vector3& b) const {
        return {y * b.z - z * b.y, z * b.x - x * b.z, x * b.y - y * b.x};
    }
    [[nodiscard]] double length() const { return std::sqrt(dot(*this)); }
    /// Of length 1; of no length where this has none.
    [[nodiscard]] Vector3 unit() const {
        const double size = length();
        return size > 0 ? *this * (1 / size) : Vector3();
    }
};

struct Point3 {
    double x = 0, y = 0, z = 0;

    Point3() = default;
    Point3(double x_, double y_, double z_) : x(x_), y(y_), z(z_) {}
    Point3(const std::array<double, 3>& a) : x(a[0]), y(a[1]), z(a[2]) {}

    friend bool operator==(const Point3&, const Point3&) = default;
    friend Vector3 operator-(const Point3& a, const Point3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
    friend Point3 operator+(const Point3& a, const Vector3& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
    friend Point3 operator-(const Point3& a, const Vector3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }

    [[nodiscard]] std::array<double, 3> array() const { return {x, y, z}; }
};

/// From a place along a direction, both ways without end.
struct Line3 {
    Point3 from;
    Vector3 along{0, 0, 1};

    [[nodiscard]] Point3 at(double distance) const { return from + along * distance; }
    /// How far along it the place nearest to `p` is.
    [[nodiscard]] double foot(const Point3& p) const { return (p - from).dot(along); }
};

/// An origin and three directions, square to each other.
struct Frame3 {
    Point3 origin;
    Vector3 x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1};

    [[nodiscard]] Point3 at(const std::array<double, 2>& on_plane) const {
        return origin + x * on_plane[0] + y * on_plane[1];
    }
    /// Where a place is seen in the plane of x and y, along z.
    [[nodiscard]] std::array<double, 2> seen(const Point3& p) const {
        return {(p - origin).dot(x), (p - origin).dot(y)};
    }
};

struct Box3 {
    Point3 low{1e300, 1e300, 1e300}, high{-1e300, -1e300, -1e300};

    [[nodiscard]] bool empty() const { return low.x > high.x; }
    void add(const Point3& p) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
    }
    void add(const Box3& other) {
        if (!other.empty()) {
            add(other.low);
            add(other.high);
        }
    }
    void enlarge(double by) {
        low = low - Vector3(by, by, by);
        high = high + Vector3(by, by, by);
    }
    /// From corner to corner; 0 where it is empty.
    [[nodiscard]] double diagonal() const { return empty() ? 0 : (high - low).length(); }
    [[nodiscard]] Point3 middle() const { return low + (high - low) * 0.5; }
    /// One of eight: bit 0 of `i` chooses x, bit 1 y, bit 2 z.
    [[nodiscard]] Point3 corner(int i) const {
        return {(i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y, (i & 4) != 0 ? high.z : low.z};
    }
    /// The part of a line within it, from and to along the line; from beyond to where they do not meet.
    [[nodiscard]] std::array<double, 2> part_of(const Line3& line) const {
        std::array<double, 2> part{-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
        const auto narrow = [&](double from, double along, double least, double most) {
            if (along == 0) {
                part = from < least || from > most ? std::array{1.0, -1.0} : part;
                return;
            }
            const double a = (least - from) / along;
            const double b = (most - from) / along;
            part = {std::max(part[0], std::min(a, b)), std::min(part[1], std::max(a, b))};
        };
        narrow(line.from.x, line.along.x, low.x, high.x);
        narrow(line.from.y, line.along.y, low.y, high.y);
        narrow(line.from.z, line.along.z, low.z, high.z);
        return part;
    }
};

} // namespace kervo
