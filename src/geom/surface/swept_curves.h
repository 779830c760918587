// Surfaces that curves sweep, open or closed.
#pragma once

#include "base/finding.h"
#include "geom/outline/profile.h"

namespace kervo::geom {

/// The curves from height `start` to height `end` along `rise`, which is what they cover while they rise by a
/// millimetre over the frame (mm, start != end). Roles: side/<curve>. The area is that of an integral along the curves.
/// Findings: surface.crosses (with the place), surface.failed.
Result<ShapeWithRoles> surface_over(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces, const gp_Vec& rise,
                                    double start, double end);

/// The curves turned from angle `start` by `sweep` (rad, 0 < |sweep| <= 2 pi) about `axis`, which lies in their plane.
/// The area is that by Pappus. Findings: surface.crosses_axis, surface.crosses (with the place), surface.failed.
Result<ShapeWithRoles> surface_about(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces, const gp_Ax1& axis,
                                     double start, double sweep);

} // namespace kervo::geom
