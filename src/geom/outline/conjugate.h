// Ellipses by conjugate half diameters: what an affine map or a view makes of a circle.
#pragma once

#include <array>

namespace kervo::geom {

/// The ellipse u cos t + v sin t, by its axes.
struct EllipseAxes {
    std::array<double, 2> major{};
    double other = 0;    ///< half of the axis across
    double phase = 0;    ///< rad: t is the angle between the axes plus this ...
    bool turned = false; ///< ... or, where it runs clockwise, this less the angle
    /// The angle between the axes that belongs to t.
    [[nodiscard]] double angle(double t) const { return turned ? phase - t : t - phase; }
};
/// Source: |u cos t + v sin t|^2 is largest where tan 2t = 2 u.v / (u.u - v.v).
EllipseAxes axes_from(const std::array<double, 2>& u, const std::array<double, 2>& v);

} // namespace kervo::geom
