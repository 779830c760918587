// Straight lines drawn on faces, flat or not, from a place to another.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>

namespace kervo::geom {

/// What the plane through both places that stands square on the faces, half-way between their normals there, leaves on
/// them: on a flat face the straight line, on a sphere the shortest. It ends at the places, or goes on both ways as far
/// as the faces do. Findings: split.off (a place is farther than 1e-4 mm from the faces), split.same (they are
/// one), split.no_line (the faces do not hang together between them).
Result<std::vector<TopoDS_Edge>> line_between(const std::vector<TopoDS_Face>& faces, const gp_Pnt& from,
                                              const gp_Pnt& to, bool goes_on);

} // namespace kervo::geom
