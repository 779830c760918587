// The volume that a carried profile must have, by integration along its path: independent of how the sweep is built.
#pragma once

#include "geom/make/along_path.h"

namespace kervo::geom {

/// Area of the profile times the way of its centre along its own normal: Pappus for a profile that stands square to its
/// path or not, turns with it or twists (mm^3, accurate to about 1e-7 relative). Corners are mitred. It holds where no
/// part of the sweep runs through another.
double swept_volume(const ProfileFace& profile, const Path& path, const Carrying& carrying);

} // namespace kervo::geom
