// The room inside a body whose walls have a thickness.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

namespace kervo::geom {

struct WallThickness {
    TopoDS_Face face;
    double thickness = 0; ///< mm
};

/// What is to be cut out of a solid to leave walls.
struct Core {
    TopoDS_Shape shape;
    struct Made {
        TopoDS_Shape face;
        TopoDS_Shape source; ///< the face or edge of the solid that it runs along; null: the side of an opening
    };
    std::vector<Made> made;
};

/// The solid less walls of `thickness` (mm), on some faces of one of their own; the flat faces that are `open` have
/// none. Where walls meet at an edge that points inwards, they are as thick as elsewhere: along a round. The kernel's
/// offset, and prisms up to the open faces. The walls are measured from inside at several places on every face.
/// Findings: hollow.curved_opening, hollow.too_thick (says what would fit), hollow.failed.
Result<Core> core_of(const TopoDS_Shape& solid, double thickness, const std::vector<WallThickness>& own,
                     const std::vector<TopoDS_Face>& open, Progress& progress);

} // namespace kervo::geom
