// Straight lines and circular arcs in the plane: where they meet, where they lie, what they enclose. A new curve type
// joins the arrangement by extending these few functions.
#pragma once

#include "sketch/sketch.h"

#include <utility>
#include <vector>

namespace kervo::sketch {

/// A stretch of a line or circle. Lines run from `start` to `end`; arcs from angle `from` over `sweep` radians
/// (signed).
struct Stretch {
    int curve = 0;
    bool round = false;
    Point2 start{}, end{};
    Point2 center{};
    double radius = 0;
    double from = 0, sweep = 0;

    [[nodiscard]] Point2 at(double t) const; ///< t in 0..1
    [[nodiscard]] double length() const;
    [[nodiscard]] Stretch part(double t0, double t1) const;
    [[nodiscard]] Stretch reversed() const;
    [[nodiscard]] double heading(bool at_start) const; ///< direction of travel at an end, rad
    [[nodiscard]] double bend() const;                 ///< signed curvature in the direction of travel, 1/mm
    [[nodiscard]] double area_term() const;            ///< its part of the area by Green's theorem, mm^2
    [[nodiscard]] std::array<double, 4> box() const;   ///< xmin ymin xmax ymax
};

double distance(const Point2& a, const Point2& b);

/// Parameter of the place on the stretch that is nearest to `p`.
double nearest_parameter(const Stretch& stretch, const Point2& p);

/// Pairs of parameters (on a, on b) where the two meet, also where they touch; for stretches that run along each other,
/// the ends of what they share. `tolerance` in mm.
std::vector<std::pair<double, double>> meetings(const Stretch& a, const Stretch& b, double tolerance);

/// How often the loop winds around `p` (0: outside). `p` must not lie on the loop.
int winding(const std::vector<Stretch>& loop, const Point2& p);

} // namespace kervo::sketch
