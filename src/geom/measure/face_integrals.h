// Integrals over faces that the kernel's own quadrature gets wrong: it samples a border or an extruded wall that
// follows a B-spline as if it were one smooth curve, and misses by up to a percent. Here flat faces are integrated
// along their border by Green's theorem, and extruded and turned ones and splines along the border in their parameters,
// span by span, with enough Gauss points to be exact for splines up to the fifth degree, and close for those of higher
// ones.
#pragma once

#include <GProp_GProps.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::geom {

struct FaceIntegral {
    double area = 0; ///< mm^2; of free-form faces within about 1e-9 where they are no wilder than their spans
    gp_Pnt center{}; ///< centre of the area; of flat faces only
    double cone = 0; ///< signed volume (mm^3) of the cone from the apex over the face, as it is oriented FORWARD
    gp_XYZ moment{}; ///< the cone's volume times its centre
};

/// Nothing for faces that are neither flat, cylinders, cones, spheres, tori, extruded nor splines: the kernel's
/// quadrature serves those.
std::optional<FaceIntegral> integrate_face(const TopoDS_Face& face, const gp_Pnt& apex);

} // namespace kervo::geom
