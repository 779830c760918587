// What is added to a surface beyond one border edge.
#pragma once

#include "base/finding.h"
#include "geom/surface/border_side.h"
#include "geom/surface/extend.h"

#include <array>

namespace kervo::geom {

struct Strip {
    TopoDS_Face face;
    TopoDS_Edge edge; ///< the border that it goes on from
    double area = 0;  ///< mm^2, by a formula of its own
};

/// A straight border beyond which the tangent planes of the face are one plane.
struct FlatSide {
    TopoDS_Edge edge;
    std::array<gp_Pnt, 2> ends; ///< as `along` runs
    gp_Vec along, off, normal;  ///< unit
};
std::optional<FlatSide> flat_side(const BorderSide& side);
/// Whether a straight border goes on round a cylinder.
bool bends_beyond(const BorderSide& side, Continuation continuation);

/// From the border to a line beside it that runs the same way.
Strip quad(const FlatSide& side, const gp_Pnt& outer_start, const gp_Pnt& outer_end);

/// Beyond a round border about whose axis the face turns a plane ring, cylinder, cone, or the face's own sphere or
/// torus; beyond others straight lines, of the same length, square to the border. Findings: extend.too_far,
/// extend.failed.
Result<Strip> round_or_ruled_strip(const BorderSide& side, double amount, Continuation continuation);

} // namespace kervo::geom
