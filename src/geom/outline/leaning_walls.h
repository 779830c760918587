// Prisms with leaning walls over straight lines and arcs that follow each other smoothly, and over straight lines that
// meet in corners: flat and conical walls between an outline and another one inside of it, built piece by piece.
#pragma once

#include "geom/outline/profile.h"

namespace kervo::geom {

/// The loop with everything shifted by `distance` (mm, signed) to its left, which of outlines is inwards. Nothing where
/// it is of other curves, where an arc meets its neighbour in a corner, or where a piece would vanish.
std::optional<OutlineLoop> shifted_inwards(const OutlineLoop& loop, double distance);

/// The prism over the loops (the outer one first) from height `start` to `end` along the frame's normal (mm), its walls
/// leaning inwards by `angle` (rad, signed, not 0) on the way. Roles: side/<curve>, start, end. Null where
/// `shifted_inwards` gives nothing, or where the result is not sound: its walls must not cross, and its volume is what
/// Simpson's rule gives for the areas below, half way and above (exact, since the area of shifted outlines is quadratic
/// in the shift).
ShapeWithRoles make_leaning_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start, double end,
                                  double angle);

} // namespace kervo::geom
