// What bodies are called, and where they belong, from the step that makes them on.
#pragma once

#include "model/route/evaluate.h"

namespace kervo::model {

/// What the user says, else the group of the body that it came from (`inherited`; 0: none).
int group_of_born(const Document& document, const Birth& birth, int inherited);
/// Adds the traits of a body that `step` made: as those of what it came from, but for what the user says.
void name_born(Evaluation& evaluation, const Birth& birth, const Step& step, const Document& document);

} // namespace kervo::model
