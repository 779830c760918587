// Whether a free-form face runs through itself, as the wall of a pipe does whose path crosses itself. Nothing that
// looks at two faces, at edges, or at the volume sees that.
#pragma once

#include <Geom_BSplineSurface.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::geom {

/// A place where one of the faces crosses itself: facets of its surface that meet though they are not neighbours say
/// where to look, and Newton's method in the parameters of both places, on the exact surface, decides. What only
/// touches itself does not cross.
std::optional<gp_Pnt> folded_at(const TopoDS_Shape& faces);

/// Whether its control points prove that a surface is the graph of a function over some plane: then it neither runs
/// through itself nor turns over. False says nothing.
bool is_graph(const Geom_BSplineSurface& surface);

} // namespace kervo::geom
