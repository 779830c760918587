// A surface in a closed border that is not flat.
#pragma once

#include "base/finding.h"
#include "geom/surface/border_side.h"

namespace kervo::geom {

struct Filled {
    struct Part {
        TopoDS_Face face;
        std::vector<size_t> edges; ///< of the border, by index
    };
    std::vector<Part> parts;
    double gap = 0;  ///< mm, the most between the border and what spans it
    gp_Pnt gap_at;   ///< where that is
    double lean = 0; ///< rad, the most between its tangent planes and those of the faces beside it
    gp_Pnt lean_at;
};

/// In edges that run one after the other, back to the first. Where they have no faces it only touches: in two straight
/// lines from one to the other, in three or four a Coons patch, which has them exactly, in others lines to a place in
/// the middle. Where they have, it is a cap (`cap.h`) that is tangent to them. The gap is measured at places along
/// every edge; above 1e-4 mm it is the finding fill.gap. Others: fill.failed, fill.folds (it runs through itself or
/// turns over, with the place).
Result<Filled> fill_border(const std::vector<BorderSide>& border, double firmness = 1);

} // namespace kervo::geom
