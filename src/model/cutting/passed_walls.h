// Which walls a profile passes on its way: all that it sweeps is asked, not samples of it.
#pragma once

#include "model/cutting/swept_region.h"
#include "model/names/names.h"

namespace kervo::model {

/// Material that a sweep passes in one go. Heights are over the frame of the sweep, positive on its way, mm.
struct PassedWall {
    double from = 0, to = 0;
    std::optional<TopoDS_Shape> flat_exit; ///< where it leaves all of the wall through one flat face: that face
};

struct WallsPassed {
    std::vector<PassedWall> walls; ///< in the order in which they are passed
    bool interlocked = false;      ///< some lie beside and behind each other, so that no plane parts them
};

/// `sweep`: all that the profile covers, from where it begins to beyond everything; it rises along the normal of
/// `frame` where `sign` is 1, against it where it is -1. `single`: a body that touches another is a wall of its own.
/// Findings: those of dividing.
Result<WallsPassed> walls_passed(const SweptRegion& sweep, const gp_Ax3& frame, double sign,
                                 const std::vector<BodyPtr>& bodies, bool single);

} // namespace kervo::model
