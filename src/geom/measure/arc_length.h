// How long curves are. The kernel's own integrals over edges take a fixed number of places: a parabola 20 wide and 300
// high came out 5 % short.
#pragma once

#include <Adaptor3d_Curve.hxx>

namespace kervo::geom {

/// Between two parameters (mm), 1e-11 relative: lines and circles by formula, others by adaptive Gauss-Kronrod
/// integration between their knots.
double arc_length(const Adaptor3d_Curve& curve, double from, double to);
inline double arc_length(const Adaptor3d_Curve& curve) {
    return arc_length(curve, curve.FirstParameter(), curve.LastParameter());
}

/// Where one comes to on the curve that goes `length` mm on from a parameter (back where it is less than zero), 1e-10
/// mm: by Newton's method, halving where that leaves the curve. Of lines and circles also beyond their ends; of others
/// not, there it is the end.
double parameter_after(const Adaptor3d_Curve& curve, double from, double length);

} // namespace kervo::geom
