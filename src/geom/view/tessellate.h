// Triangles and polylines that approximate exact shapes within a chord tolerance.
#pragma once

#include "geom/kernel/shape.h"

#include <array>

namespace kervo::geom {

struct TessellationOptions {
    double chord = 0.1;  ///< mm, largest distance from the true surface
    double angle = 0.35; ///< rad, largest turn between neighbouring facets
};

/// Computes triangles and keeps them with the faces. Does nothing where they exist and are fine enough.
void tessellate(const TopoDS_Shape& shape, const TessellationOptions& options);

/// All triangles of a tessellated shape, outward orientation: three points each.
std::vector<std::array<gp_Pnt, 3>> triangles_of(const TopoDS_Shape& shape);

/// The edge as points within `deflection` mm, from its first to its last end.
std::vector<gp_Pnt> polyline_of(const TopoDS_Shape& edge, double deflection);

} // namespace kervo::geom
