// Where a free-form surface turns away from the one who looks at it.
#pragma once

#include <Adaptor3d_Surface.hxx>
#include <Geom_BSplineCurve.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

struct SurfaceBounds {
    double u0 = 0, u1 = 0, v0 = 0, v1 = 0;
};

/// The curves of the surface, within the bounds, along which its normal lies across `sight` (unit length), as splines
/// of degree 3 with continuous tangents, within 1e-7 mm. Nothing where such curves cross each other or cannot be
/// followed.
///
/// Source: marching squares over the parameters find the curves and their order (what is smaller than 1/24 of a knot
/// span is missed); on them, nodes and tangents are exact, the spline between two nodes has the length of a circle's
/// arc, and nodes are added until its middle lies on the curve.
std::optional<std::vector<Handle(Geom_BSplineCurve)>> turning_splines(const Adaptor3d_Surface& surface,
                                                                      const SurfaceBounds& bounds, const gp_Vec& sight);

} // namespace kervo::geom
