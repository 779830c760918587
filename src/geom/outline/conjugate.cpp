#include "geom/outline/conjugate.h"

#include <cmath>

namespace kervo::geom {

EllipseAxes axes_from(const std::array<double, 2>& u, const std::array<double, 2>& v) {
    const double uu = u[0] * u[0] + u[1] * u[1];
    const double vv = v[0] * v[0] + v[1] * v[1];
    const double uv = u[0] * v[0] + u[1] * v[1];
    EllipseAxes axes;
    axes.phase = std::atan2(2 * uv, uu - vv) / 2;
    const double c = std::cos(axes.phase);
    const double s = std::sin(axes.phase);
    axes.major = {u[0] * c + v[0] * s, u[1] * c + v[1] * s};
    const std::array<double, 2> minor{v[0] * c - u[0] * s, v[1] * c - u[1] * s};
    axes.other = std::hypot(minor[0], minor[1]);
    axes.turned = axes.major[0] * minor[1] - axes.major[1] * minor[0] < 0;
    return axes;
}

} // namespace kervo::geom
