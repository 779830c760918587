// Edges joined end to end, as one way to go along.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Wire.hxx>
#include <gp_Mat.hxx>
#include <gp_Quaternion.hxx>
#include <gp_Vec.hxx>

namespace kervo::geom {

/// The edges as one chain, whatever their order; finding: path.broken (they do not join, or branch).
Result<TopoDS_Wire> chain_of(const std::vector<TopoDS_Shape>& edges);

/// A frame on its way along a path, which never turns about it: by double reflection (Wang, Juettler, Zheng and Liu,
/// Computation of rotation minimizing frames, 2008), exact where the path is flat.
struct CarriedFrame {
    gp_Pnt at;
    gp_Vec along, side; ///< unit, square to each other

    static CarriedFrame at_start(const gp_Pnt& place, const gp_Vec& heading);
    /// `heading`: unit. At a corner the place stays and the heading changes.
    void carry_to(const gp_Pnt& next, const gp_Vec& heading);
    [[nodiscard]] gp_Mat axes() const; ///< columns: along, side, and what is square to both
};

struct PlaceOnPath {
    gp_Pnt point;
    gp_Vec along;       ///< unit
    gp_Quaternion turn; ///< of a frame that is carried here from the start of the path and never turns about it
};
/// `count` places (>= 2), evenly by length, from one end to the other; round a closed chain, without its end twice.
std::vector<PlaceOnPath> places_along(const TopoDS_Wire& path, int count);

} // namespace kervo::geom
