// Outlines with a width: what a thin wall stands on.
#pragma once

#include "geom/outline/profile.h"

namespace kervo::geom {

/// Rings along the loops of a profile (the outer loop first, then holes), each an outline of its own: as wide as
/// `outside` (mm, >= 0) away from what the profile encloses and `inside` (mm, >= 0) into it. Their corners are sharp.
/// Sides that lie outside are called after their curve and ".out", the others ".in"; those that bend round a corner
/// after both curves. The kernel's offset of wires. Finding: profile.thin (no such ring can be made).
Result<std::vector<std::vector<OutlineLoop>>> rings_along(const std::vector<OutlineLoop>& loops, double outside,
                                                          double inside);

/// A place within a ring: on the border of its first loop, a little inwards.
std::array<double, 2> middle_of_ring(const std::vector<OutlineLoop>& ring);

} // namespace kervo::geom
