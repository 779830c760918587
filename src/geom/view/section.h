// Where a plane cuts through bodies: exact flat faces, for caps and sections; and hatch lines on flat faces.
#pragma once

#include "geom/kernel/shape.h"

#include <gp_Pln.hxx>

#include <array>
#include <optional>
#include <vector>

namespace kervo::geom {

/// The parts of `plane` that lie inside the solids of `shape`, as planar faces (possibly none). Nothing where the
/// kernel cannot tell.
std::optional<std::vector<TopoDS_Shape>> section_faces(const TopoDS_Shape& shape, const gp_Pln& plane);

using Segment3 = std::array<gp_Pnt, 2>;

/// Parallel lines over a flat face, `spacing` mm apart, at `angle` radians to the frame's x direction, clipped to the
/// face (even-odd over its loops, which are followed within `deflection` mm). The lines lie on a raster that starts at
/// the frame's origin, so that faces in one plane hatch alike.
std::vector<Segment3> hatch_lines(const TopoDS_Shape& face, const gp_Ax3& frame, double spacing, double angle,
                                  double deflection);

} // namespace kervo::geom
