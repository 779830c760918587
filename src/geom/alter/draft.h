// Leaning faces, so that a part comes out of its mould.
#pragma once

#include "base/finding.h"
#include "geom/alter/altered.h"

#include <gp_Pln.hxx>

namespace kervo::geom {

/// Leans flat, cylindrical and conical faces of a body by `angle` (rad, signed) about where they meet the `neutral`
/// plane, whose normal is the way in which the mould opens: for positive angles the body narrows that way. Their
/// neighbours are cut anew. The kernel's draft; the result is closed and valid, and each face was measured. Findings,
/// with their places: draft.face (cannot lean), draft.failed.
Result<Altered> draft_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces, const gp_Pln& neutral,
                            double angle);

} // namespace kervo::geom
