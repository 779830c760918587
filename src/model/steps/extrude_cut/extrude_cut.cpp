#include "model/steps/extrude_cut/extrude_cut.h"

#include "model/cutting.h"

namespace kervo::model {

std::vector<SweptRegion> ExtrudeCut::cutters(const StepInputs& inputs, const std::vector<BodyPtr>& bodies,
                                             Answers& answers, StepOutput& output) const {
    const auto drawn = inputs.sketches.find(sketch.step);
    if (drawn == inputs.sketches.end()) {
        answers.report("sketch",
                       error_finding("profile.no_sketch", "There is no sketch to cut with.", "Choose a sketch."));
        return {};
    }
    const auto chosen = chosen_regions(*drawn->second, regions, answers, output);
    return answers.ok() ? sweep_regions(extent, *drawn->second, chosen, bodies, answers, output)
                        : std::vector<SweptRegion>{};
}

StepOutput ExtrudeCut::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = ticked_bodies(workpieces, answers);
    const auto swept = cutters(inputs, bodies, answers, output);
    cut_bodies(bodies, swept, verdicts, Keeps::outside, inputs, output, answers);
    return output;
}

} // namespace kervo::model
