// Solids of surfaces that get a thickness.
#pragma once

#include "base/finding.h"
#include "base/progress.h"
#include "geom/kernel/shape.h"

namespace kervo::geom {

struct Thickened {
    TopoDS_Shape solid; ///< one for each part of the surface that hangs together
    enum class Side { front, back, rim };
    struct Made {
        TopoDS_Shape face;
        TopoDS_Shape source; ///< the face of the surface that it lies along, or the edge of its border; null: unknown
        Side side = Side::front;
    };
    std::vector<Made> made; ///< for every face
};

/// The solid between the surface shifted by `front` to the side that it looks to and by `back` to the other (mm, both
/// at least 0, one of them more). Its walls stand square on the surface's borders; where faces meet in an edge, so do
/// the shifted ones. By the kernel's offset, in a process of its own (`inset`); walls are measured from the surface,
/// and the solid is closed, valid and does not cross itself. Findings: thicken.failed, thicken.uneven (with the place),
/// thicken.no_helper, divide.cancelled.
Result<Thickened> thickened(const TopoDS_Shape& surface, double front, double back, Progress& progress);

} // namespace kervo::geom
