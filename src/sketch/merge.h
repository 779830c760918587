// One sketch drawn into another: points, curves, constraints and figures, with fresh ids.
#pragma once

#include "sketch/figures.h"

namespace kervo::sketch {

struct Merged {
    Sketch sketch;
    size_t left_out = 0; ///< level, plumb and signed constraints that make no sense in a plane that is turned
};

/// `into` with all of `other` beside what it has, each place laid by `moved`, which keeps sizes. What is level there
/// is plumb here where the planes are turned by a right angle. Words are broken up to curves where they would be
/// mirrored.
Merged merge(const Sketch& into, Sketch other, const Similarity& moved);

} // namespace kervo::sketch
