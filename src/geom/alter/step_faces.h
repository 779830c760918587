// Faces shifted out of the plane of neighbours that stay: a step arises between them.
#pragma once

#include "base/progress.h"
#include "geom/alter/shift.h"

#include <optional>

namespace kervo::geom {

/// The body with what the faces sweep on their way added, or taken away: for flat faces, all shifted outwards or all
/// inwards, of which one at least has a neighbour in its own plane that stays, while all others stand along the way.
/// Between the two a wall stands, made from their edge. The volume changes by the areas times the way, square to them.
/// Nothing where the faces are others. Findings: shift.runs_past (with the place).
std::optional<Result<Altered>> step_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces,
                                          const Shift& shift, Progress& progress);

} // namespace kervo::geom
