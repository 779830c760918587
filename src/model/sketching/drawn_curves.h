// What sketches draw, as curves in space.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

/// What a sketch draws, as pieces of which those that meet share a vertex; `which` as below.
std::vector<geom::OutlinePiece> drawn_pieces(const SketchResult& sketch, const std::string& which);

/// A body of the curves that a sketch draws: `which` is "outlines" (those of texts and pictures are among them),
/// "guides" or "all". Edges are called after the step and the curve. Null where there are none.
BodyPtr body_of_curves(int step, const SketchResult& sketch, const std::string& which);

} // namespace kervo::model
