// From the plane of a sketch into space and back, and from one sketch's plane to another's.
//
//   const gp_Pnt place = in_space(frame, {10, 5});
//   if (const auto moved = between_planes(theirs, ours)) { mine = stretch.placed(*moved); }
#pragma once

#include "sketch/stretch.h"

#include <gp_Ax3.hxx>
#include <gp_Pnt.hxx>

#include <optional>

namespace kervo::model {

gp_Pnt in_space(const gp_Ax3& frame, const sketch::Point2& place);
/// Seen along the normal of the frame.
sketch::Point2 on_plane(const gp_Ax3& frame, const gp_Pnt& place);

/// How what lies in one plane is seen in another, along its normal, where the two are parallel; nothing where not.
std::optional<sketch::Similarity> between_planes(const gp_Ax3& from, const gp_Ax3& to);

} // namespace kervo::model
