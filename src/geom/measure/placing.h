// Bringing bodies into place by what they consist of: a point, a direction, a plane of theirs carried to those of
// others.
#pragma once

#include "geom/kernel/shape.h"

#include <gp_Trsf.hxx>

#include <optional>

namespace kervo::geom {

/// What an element can be carried by, or to.
struct Anchor {
    gp_Pnt point;              ///< a vertex, the middle of an edge or face, the centre of round ones, of a body
    std::optional<gp_Dir> way; ///< along a straight edge or an axis; of a flat face its normal out of the material
    bool flat = false;         ///< a flat face
};
Anchor anchor_of(const TopoDS_Shape& element);

/// The smallest turn about `at` that makes `from` look along `to`. Of opposite ones: about a level axis where there is
/// one.
gp_Trsf turn_onto(const gp_Dir& from, const gp_Dir& to, const gp_Pnt& at);

/// Turns the carried element parallel to the target about its own place, in the way that is nearer; `flipped`: the
/// other. Both have a way.
gp_Trsf turn_parallel(const Anchor& carried, const Anchor& target, bool flipped);
/// Brings a flat face into the plane of another, `gap` mm before it: looking at it, or (`same_way`) the way it looks.
gp_Trsf bring_flush(const Anchor& carried, const Anchor& target, bool same_way, double gap);
/// Brings an axis into another, turned the nearer way (`flipped`: the other), and moves it along by `shift` mm.
gp_Trsf make_concentric(const Anchor& carried, const Anchor& target, bool flipped, double shift);
/// Brings the carried point midway between two; between two parallel faces only square to them.
gp_Trsf bring_between(const Anchor& carried, const Anchor& one, const Anchor& other);

} // namespace kervo::geom
