// Circles that touch three things: lines, circles, arcs and points in any mix (Apollonius).
//
//   const auto circle = circle_touching({side_a, side_b, side_c}, {{5, 0}, {8, 4}, {2, 3}});  // the inscribed circle
#pragma once

#include "sketch/stretch.h"

#include <optional>

namespace kervo::sketch {

struct CircleAt {
    Point2 center{};
    double radius = 0; ///< mm
};

/// The circle through three points; nothing where they lie on one line.
std::optional<CircleAt> circle_through(const Point2& a, const Point2& b, const Point2& c);

/// The circle that touches three lines or arcs, each near the place picked on it: of the up to eight circles the one
/// that is found from the circle through the picks. An arc of radius 0 is a point that it runs through. Nothing where
/// there is none, or where a stretch is neither line nor arc. Newton's method on the signed distances.
std::optional<CircleAt> circle_touching(const std::array<Stretch, 3>& touched, const std::array<Point2, 3>& picked);

} // namespace kervo::sketch
