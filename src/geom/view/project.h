// What is seen of a body from one side, and where a plane cuts it, as curves in a plane.
#pragma once

#include "geom/outline/profile.h"

#include <gp_Pln.hxx>

namespace kervo::geom {

/// The edge as it is seen along the frame's normal, in the frame's own coordinates (mm). Lines, circles and ellipses
/// stay what they are seen as, splines of a degree up to 5 too; anything else becomes a spline within 1e-6 mm. Nothing
/// where the edge is seen as a point.
std::optional<OutlinePiece> project_edge(const TopoDS_Shape& edge, const gp_Ax3& frame);

struct SectionEdge {
    TopoDS_Shape edge;
    TopoDS_Shape face; ///< of the body; null where none is known
};
/// Where the plane cuts the faces of a body. Finding: section.failed.
Result<std::vector<SectionEdge>> section_edges(const TopoDS_Shape& body, const gp_Pln& plane);

/// The curves along which a curved face turns away, seen along the frame's normal: generators of cylinders, cones and
/// swept faces, circles of spheres; of tori and free-form faces circles or splines within 1e-6 mm. They may reach
/// beyond the face. Nothing for a face with a crease, or on which such curves cross each other.
std::optional<std::vector<OutlinePiece>> turning_curves(const TopoDS_Shape& face, const gp_Ax3& frame);

} // namespace kervo::geom
