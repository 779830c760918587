// A surface from a closed border to a place in its middle.
#pragma once

#include "base/finding.h"
#include "geom/surface/border_way.h"

namespace kervo::geom {

struct Cap {
    std::vector<TopoDS_Face> faces; ///< one from each edge, in their order
    double lean = 0;                ///< rad, the most between its tangent planes and those of the faces beside it
    gp_Pnt lean_at;                 ///< where that is
};

/// Cubic from the border to the middle; each two places at opposite shares of its length lie on one curve (Hermite).
/// Where the way has faces, that leaves them tangent, so firmly that beside a circle it comes nearest to one, times
/// `firmness`; else straight to the middle. In the middle all have one tangent plane. Along the border cubic splines
/// with their measured error. Findings: fill.folds (normals turn over, with the place), fill.failed.
Result<Cap> cap(const BorderWay& way, double firmness);

} // namespace kervo::geom
