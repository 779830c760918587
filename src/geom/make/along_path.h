// Profiles carried along a path.
#pragma once

#include "base/progress.h"
#include "geom/make/named_path.h"
#include "geom/outline/profile.h"

namespace kervo::geom {

struct Carrying {
    bool turning = true; ///< with the path; or else the profile keeps its direction
    double twist = 0;    ///< rad, on the whole way, evenly; only where it turns
};

/// The solid that the profile covers on its way. Along lines and arcs it is exact, with mitred corners between lines;
/// along other curves within 1e-5 mm, by the kernel's pipes, or where it twists by a skin (twisted_sweep.h). A closed
/// path begins where the profile lies on it. The volume must be what `swept_volume` says. Roles: side/c<curve>/<name of
/// the part>, start, end. Findings: path.sideways (it is moved within its own plane), path.corner, path.failed (the
/// path bends more tightly than the profile is wide), path.apart (the profile does not lie at the start), path.crosses.
Result<ShapeWithRoles> sweep_along(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const Path& path,
                                   const Carrying& carrying, Progress& progress);

/// The first solid less the others, which lie in it as its holes; the roles of all. Finding: path.failed, and those of
/// `divide`.
Result<ShapeWithRoles> less_holes(const std::vector<ShapeWithRoles>& solids, Progress& progress);

} // namespace kervo::geom
