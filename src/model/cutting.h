// What every step that cuts with swept regions does: divide the workpieces into pieces, tell them apart, apply the
// verdicts; and what steps do that add with them.
#pragma once

#include "model/extent.h"

namespace kervo::model {

/// Divides the bodies by the cutters and keeps what the verdicts say. Findings on the fields "workpieces", "regions"
/// and "verdicts"; where there is an error, nothing has been cut.
void cut_bodies(const std::vector<BodyPtr>& bodies, const std::vector<SweptRegion>& cutters,
                const VerdictRules& verdicts, Keeps keeps, const StepInputs& inputs, StepOutput& output,
                Answers& answers);

/// Unites what was made to a new body (`unite_with` null) or with the body that is referred to. Finding on the field
/// "unite_with": extrude.no_body, and why it does not unite.
void add_bodies(const std::vector<SweptRegion>& made, const References* unite_with, const StepInputs& inputs,
                StepOutput& output, Answers& answers);

/// The solids that the cutters meet, by an exact test of each.
std::vector<BodyId> bodies_met(const std::vector<SweptRegion>& cutters, const std::map<BodyId, BodyPtr>& bodies);

} // namespace kervo::model
