// Borders that are the same curve from end to end, made one edge; without the kernel's general sewing, which looks for
// those that only nearly match.
#pragma once

#include "geom/kernel/shape.h"

namespace kervo::geom {

struct Matched {
    TopoDS_Shape shape;              ///< the faces, with shared edges where borders matched
    std::vector<FaceOrigin> origins; ///< of every face
    int joined = 0;                  ///< pairs of edges
};

/// Free border edges in pairs that run through the same places, at the ends and between, within `tolerance` (mm). Edges
/// with other edges along part of them are left. Writes to the edges of `own`, which nobody else may hold. Linear in
/// their number.
Matched match_borders(const TopoDS_Shape& own, double tolerance);

} // namespace kervo::geom
