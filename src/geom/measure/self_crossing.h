// Whether faces of a body run through each other: what neither closedness nor the kernel's validity check can see,
// since both look at one face, edge or vertex at a time.
#pragma once

#include "geom/kernel/by_shape.h"
#include "geom/kernel/shape.h"

#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::geom {

struct SelfCrossing {
    TopoDS_Shape one, other; ///< faces
    gp_Pnt place;            ///< on both
};

/// The first pair of faces that cross, apart from the edges and vertices that they share; faces that only touch do not.
/// Asked are the faces in `changed` against all, or all where it is empty. Where two bounded faces cross, an edge of
/// one pierces the other, or (where they share nothing) their distance is nothing and they are not tangent there; only
/// pairs whose boxes meet are asked, and flat faces only about what reaches to both of their sides.
std::optional<SelfCrossing> self_crossing(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& changed = {});
/// The same among some faces of a body: those in `changed` against all of `faces`.
std::optional<SelfCrossing> crossing_among(const std::vector<TopoDS_Shape>& faces,
                                           const std::vector<TopoDS_Shape>& changed);

/// The same within each of several pieces, of which two may share a face: pairs that both have are asked once. `from`:
/// which of some bodies a face is a part of; two of one body, that is known not to cross itself, are not asked.
std::optional<SelfCrossing> crossing_within(const std::vector<TopoDS_Shape>& pieces, const ByShape<int>& from);

/// The same of a body that was made from another: only faces that `before` does not have are asked.
std::optional<SelfCrossing> new_crossing(const TopoDS_Shape& before, const TopoDS_Shape& now);

/// Valid by the kernel's rules, and no two faces cross.
bool is_sound_body(const TopoDS_Shape& body);

} // namespace kervo::geom
