// The regions of a sketch that a step takes.
#pragma once

#include "model/step_context.h"

namespace kervo::model {

/// The regions that the references choose, found again in the sketch; findings on the field "regions". References made
/// by hand are handed back in `output` with the names of what they were found to mean.
std::vector<const sketch::Region*> chosen_regions(const SketchResult& sketch, const RegionReferences& references,
                                                  Answers& answers, StepOutput& output);

/// "5+,6-": the identity of a region as text.
std::string region_key(const sketch::Region& region);

} // namespace kervo::model
