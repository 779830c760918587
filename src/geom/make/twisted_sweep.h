// A profile that twists while it is carried along a path.
#pragma once

#include "base/progress.h"
#include "geom/make/along_path.h"

namespace kervo::geom {

/// The solid that the loops (the outer one first) cover on their way along an open path without corners, turned evenly
/// by `twist` (rad) in all: a skin through the profile at many places, as many as bring it within 1e-6 mm of the true
/// way of places on the outline. Roles: side/c<curve>/<name of the first part>, start, end. Findings: path.apart,
/// path.corner, path.failed, path.cancelled.
Result<ShapeWithRoles> sweep_twisted(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const Path& path,
                                     double twist, Progress& progress);

} // namespace kervo::geom
