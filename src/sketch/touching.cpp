#include "sketch/touching.h"

#include <Eigen/Dense>

#include <cmath>

namespace kervo::sketch {

namespace {

// What a touched thing asks of a circle: `value` is how far the circle is from touching it, signed.
struct Asked {
    double value = 0;
    Eigen::Vector3d by; ///< its derivatives by centre and radius
};

// On which side of a touched thing the circle lies is settled by the first guess, and kept.
class Side {
public:
    Side(const Stretch& touched, const CircleAt& guess) : touched_(touched) {
        if (touched.kind == StretchKind::line) {
            sign_ = across(guess.center) < 0 ? -1 : 1;
            return;
        }
        const double apart = distance(guess.center, touched.center);
        const double outside = std::fabs(apart - (touched.radius + guess.radius));
        const double within = std::fabs(apart - std::fabs(touched.radius - guess.radius));
        if (within < outside) {
            own_ = guess.radius < touched.radius ? 1 : -1; // inside it, or around it
            sign_ = -own_;
        }
    }

    [[nodiscard]] Asked ask(const CircleAt& circle) const {
        if (touched_.kind == StretchKind::line) {
            const Point2 n = normal();
            return {across(circle.center) - sign_ * circle.radius, {n[0], n[1], -sign_}};
        }
        const double dx = circle.center[0] - touched_.center[0];
        const double dy = circle.center[1] - touched_.center[1];
        const double apart = std::max(std::hypot(dx, dy), 1e-300);
        return {apart - own_ * touched_.radius - sign_ * circle.radius, {dx / apart, dy / apart, -sign_}};
    }

private:
    [[nodiscard]] Point2 normal() const {
        const double length = distance(touched_.start, touched_.end);
        return {(touched_.start[1] - touched_.end[1]) / length, (touched_.end[0] - touched_.start[0]) / length};
    }
    [[nodiscard]] double across(const Point2& p) const {
        const Point2 n = normal();
        return (p[0] - touched_.start[0]) * n[0] + (p[1] - touched_.start[1]) * n[1];
    }

    const Stretch& touched_;
    double own_ = 1, sign_ = 1;
};

} // namespace

std::optional<CircleAt> circle_through(const Point2& a, const Point2& b, const Point2& c) {
    const double ax = b[0] - a[0];
    const double ay = b[1] - a[1];
    const double bx = c[0] - a[0];
    const double by = c[1] - a[1];
    const double d = 2 * (ax * by - ay * bx);
    if (std::fabs(d) < 1e-9 * (std::hypot(ax, ay) * std::hypot(bx, by) + 1e-12)) {
        return std::nullopt; // on one line
    }
    const double p = ax * ax + ay * ay;
    const double q = bx * bx + by * by;
    const Point2 center{a[0] + (by * p - ay * q) / d, a[1] + (ax * q - bx * p) / d};
    return CircleAt{center, distance(center, a)};
}

std::optional<CircleAt> circle_touching(const std::array<Stretch, 3>& touched, const std::array<Point2, 3>& picked) {
    auto circle = circle_through(picked[0], picked[1], picked[2]);
    for (const Stretch& each : touched) {
        const bool point_like = each.kind == StretchKind::line && distance(each.start, each.end) < 1e-12;
        if (each.free() || point_like) {
            return std::nullopt;
        }
    }
    if (!circle) {
        return std::nullopt;
    }
    const double size = circle->radius;
    const std::array<Side, 3> sides{Side(touched[0], *circle), Side(touched[1], *circle), Side(touched[2], *circle)};
    constexpr int most_rounds = 60;
    for (int round = 0; round < most_rounds; ++round) {
        Eigen::Matrix3d slope;
        Eigen::Vector3d off;
        for (int i = 0; i < 3; ++i) {
            const Asked asked = sides[static_cast<size_t>(i)].ask(*circle);
            off[i] = asked.value;
            slope.row(i) = asked.by.transpose();
        }
        if (off.norm() < 1e-12 * (1 + size)) {
            return circle->radius > 1e-9 ? circle : std::nullopt;
        }
        const Eigen::FullPivLU<Eigen::Matrix3d> lu(slope);
        if (lu.rank() < 3) {
            return std::nullopt;
        }
        Eigen::Vector3d step = lu.solve(off);
        step *= std::min(1.0, 2 * size / step.norm()); // far leaps end at another circle
        circle->center[0] -= step[0];
        circle->center[1] -= step[1];
        circle->radius -= step[2];
    }
    return std::nullopt;
}

} // namespace kervo::sketch
