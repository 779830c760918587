// B-splines in the plane, of degree 1 (sharp corners) to 5 (smoothest), by control points or through points, open or
// closed. Not rational.
//
//   const Spline s = spline_through({{0, 0}, {10, 5}, {20, 0}}, 3, false);
//   const Point2 middle = s.at((s.first() + s.last()) / 2).place;
//
// Source of the algorithms: Piegl and Tiller, The NURBS Book, 2nd edition: A2.1 to A2.3 (basis functions and their
// derivatives), A5.1 (knot insertion), chapter 9.2.1 (interpolation; centripetal parameters).
#pragma once

#include "sketch/sketch.h"

#include <vector>

namespace kervo::sketch {

/// A place on a curve and how it moves on: first and second derivative by the curve's own parameter.
struct Motion {
    Point2 place{}, first{}, second{};
};

struct Spline {
    int degree = 3;
    std::vector<Point2> poles;
    std::vector<double> knots; ///< poles + degree + 1 of them, ascending, each as often as it counts

    [[nodiscard]] double first() const { return knots[static_cast<size_t>(degree)]; }
    [[nodiscard]] double last() const { return knots[poles.size()]; }
    [[nodiscard]] Motion at(double u) const; ///< u is held within first() and last()
    /// Knots within the range, each once, with both ends.
    [[nodiscard]] std::vector<double> breaks() const;
    /// The part from u0 to u1 (u0 < u1), clamped: it begins and ends at its first and last pole.
    [[nodiscard]] Spline segment(double u0, double u1) const;
    /// The same curve with a knot, and so a pole, more.
    [[nodiscard]] Spline with_knot(double u) const;
    friend bool operator==(const Spline&, const Spline&) = default;
};

inline constexpr int max_spline_degree = 10;

/// The degree that so many points allow, at most the wanted one.
int possible_degree(size_t points, int degree);

/// By control points. Open ones begin and end at the first and last point; closed ones have no corner at their seam.
/// At least two points, closed: three.
Spline spline_by_poles(const std::vector<Point2>& points, int degree, bool closed);
/// Open, by control points over knots of its own (points + degree + 1 of them, clamped, ascending).
Spline spline_over(const std::vector<Point2>& points, int degree, const std::vector<double>& knots);
/// Whether these are knots that `spline_over` takes.
bool are_knots(const std::vector<double>& knots, size_t points, int degree);
/// As a curve of a sketch says it.
Spline spline_of(const Curve& curve, const std::vector<Point2>& points);

/// Through points, in their order. Points that follow each other must differ. At least two points, closed: three.
Spline spline_through(const std::vector<Point2>& points, int degree, bool closed);

/// A spline's poles as sums of its points: linear as long as the parameters of the points stay what they are.
struct SplinePlan {
    int degree = 3;
    std::vector<double> knots;
    std::vector<std::vector<double>> weights; ///< poles x points
};
SplinePlan plan_spline(const Curve& curve, const std::vector<Point2>& points);

/// Index of the knot span that holds u.
template <class T> size_t span_of(const std::vector<double>& knots, int degree, const T& u) {
    const auto p = static_cast<size_t>(degree);
    size_t low = p;
    size_t high = knots.size() - p - 2; // the last span
    while (low < high) {
        const size_t middle = (low + high + 1) / 2;
        (u < T(knots[middle]) ? high : low) = u < T(knots[middle]) ? middle - 1 : middle;
    }
    // An empty span has no inside.
    while (low > p && knots[low] == knots[low + 1]) {
        --low;
    }
    return low;
}

/// The degree + 1 basis functions that are not zero in the span, at u (A2.2).
template <class T>
std::vector<T> basis_functions(const std::vector<double>& knots, int degree, size_t span, const T& u) {
    const auto p = static_cast<size_t>(degree);
    std::vector<T> values(p + 1, T(0));
    std::vector<T> left(p + 1, T(0));
    std::vector<T> right(p + 1, T(0));
    values[0] = T(1);
    for (size_t j = 1; j <= p; ++j) {
        left[j] = u - T(knots[span + 1 - j]);
        right[j] = T(knots[span + j]) - u;
        T saved(0);
        for (size_t r = 0; r < j; ++r) {
            const T part = values[r] / (right[r + 1] + left[j - r]);
            values[r] = saved + right[r + 1] * part;
            saved = left[j - r] * part;
        }
        values[j] = saved;
    }
    return values;
}

} // namespace kervo::sketch
