// What kind of blade a selection makes: a flat face, two of them, a round one, an edge and a face, three vertices ...
#pragma once

#include "app/view/shown_model.h"
#include "model/cutting/blade_plane.h"

namespace kervo::app {

/// Answers the questions for the plane as far as the selected elements do; whole bodies say nothing. A plane by numbers
/// stays as it is.
void take_plane(model::BladePlane& plane, const model::References& selected, const ShownModel& shown);

} // namespace kervo::app
