// Faces that continue each other become one, and edges too. The kernel's own tool for this may never end.
#pragma once

#include "geom/kernel/shape.h"

namespace kervo::geom {

struct Merged {
    TopoDS_Shape shape;
    std::vector<FaceOrigin> origins; ///< of every face of the result; several where it was merged
};

/// Faces that share an edge and lie on one plane, cylinder, cone, sphere or torus (within 1e-7 mm) with the material on
/// the same side become one face, as do parts of one free-form surface; then edges between the same two faces that run
/// on one line, circle or ellipse. Where the border of such faces goes once round a closed surface, one of the edges
/// inside becomes the seam. Faces whose common border is not that of one face in one way only (loops that touch, poles
/// within) are left as they are. Each step takes something away, so that it ends; the result is not proven here.
/// `shape` is changed in its edges' parameter curves: hand in a copy.
Merged merge_faces(const TopoDS_Shape& shape);

} // namespace kervo::geom
