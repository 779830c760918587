// Straight cuts whose sides meet no edge: holes and pockets that enter and leave through flat faces, or end in the
// material. The faces they pass through get a loop each and the body new sides, without any general algorithm; all else
// stays what it is. Cutters of which it is not proven that this is the cut are left, and the general way must be gone.
#pragma once

#include "geom/cut/divide.h"
#include "geom/measure/body_index.h"
#include "geom/outline/walls.h"

namespace kervo::geom {

/// A profile swept along the normal of its frame, from one plane across it to another.
struct StraightCutter {
    gp_Ax3 frame;
    std::vector<OutlineLoop> loops; ///< the outer one first
    Level low, high;                ///< `low` lies below `high` all over the profile
};

struct StraightDivision {
    Division division; ///< origins of the new faces that lie on faces of the workpiece
    struct Made {
        TopoDS_Shape face; ///< shared by the plug and what is left
        int cutter = 0;
        int piece = 0; ///< of the outer loop; `low_end` or `high_end`
    };
    static constexpr int low_end = -1, high_end = -2;
    std::vector<Made> made;
    std::vector<int> unproven; ///< cutters that are left to another way, apart from these; ascending
    IndexChange left;          ///< how the first piece, what is left of the workpiece, differs from it
};

/// The division by the cutters of which it is proven, the same as the general one: what lies outside of them first,
/// then each cutter's plugs, from low to high. In `why_not`, what is not proven of the first of the others; nothing
/// where it is not proven of any. The profiles must keep 1e-5 mm from all edges and from each other; other faces near
/// the sweep must be flat or ruled along it.
std::optional<StraightDivision>
divide_straight(const LazyIndex& workpiece, const std::vector<const StraightCutter*>& cutters, std::string& why_not);

} // namespace kervo::geom
