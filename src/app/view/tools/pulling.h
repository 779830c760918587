// What all handles share that are pulled along a direction of the model.
#pragma once

#include "app/view/viewport.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

constexpr double handle_reach = 12; ///< pixels around a handle in which it is taken

/// How far in mm along the unit direction `along` the pointer has been pulled, by `total` pixels, when that direction
/// is seen from `a` to `b`.
inline double pulled(const Viewport& view, const QPointF& total, const QPointF& a, const QPointF& b,
                     const Vector3& along) {
    const QPointF way = b - a;
    const double length = std::max(std::hypot(way.x(), way.y()), 1.0);
    // A direction that points at the eye is seen short: the same pull means more there, but not without end.
    const Vector3 eye = view.looking_along();
    const double seen = std::max((along - eye * along.dot(eye)).length(), 0.1);
    return QPointF::dotProduct(total, way) / length / view.pixels_per_mm() / seen;
}

/// Round numbers as fine as the hand can place them: a pixel or more apart (mm).
inline double round_step(const Viewport& view) {
    return std::pow(10, std::ceil(std::log10(1 / view.pixels_per_mm())));
}
inline double rounded(const Viewport& view, double mm) {
    const double step = round_step(view);
    return std::round(mm / step) * step + 0.0; // no -0
}

} // namespace kervo::app
