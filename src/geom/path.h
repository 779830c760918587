// Edges joined end to end, as one way to go along.
#pragma once

#include "base/finding.h"
#include "geom/shape.h"

#include <TopoDS_Wire.hxx>
#include <gp_Vec.hxx>

namespace kervo::geom {

/// The edges as one chain, whatever their order; finding: path.broken (they do not join, or branch).
Result<TopoDS_Wire> chain_of(const std::vector<TopoDS_Shape>& edges);

struct PlaceOnPath {
    gp_Pnt point;
    gp_Vec along; ///< unit
};
/// `count` places (>= 2), evenly by length, from one end to the other; round a closed chain, without its end twice.
std::vector<PlaceOnPath> places_along(const TopoDS_Wire& path, int count);

} // namespace kervo::geom
