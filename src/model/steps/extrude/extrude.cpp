#include "model/steps/extrude/extrude.h"

namespace kervo::model {

std::vector<SweptRegion> Extrude::cutters(const StepInputs& inputs, const std::vector<BodyPtr>& bodies,
                                          Answers& answers, StepOutput& output) const {
    const auto drawn = inputs.sketches.find(sketch.step);
    if (drawn == inputs.sketches.end()) {
        answers.report("sketch",
                       error_finding("profile.no_sketch", "There is no sketch to sweep.", "Choose a sketch."));
        return {};
    }
    std::vector<BodyPtr> met = bodies;
    if (!cuts()) {
        met = extent.ends_at_some_body() ? answers.bodies("ends_among", ends_among) : std::vector<BodyPtr>{};
    }
    const auto chosen = chosen_regions(*drawn->second, regions, answers, output);
    return answers.ok() ? sweep_regions(extent, *drawn->second, chosen, met, answers, output)
                        : std::vector<SweptRegion>{};
}

StepOutput Extrude::evaluate(const StepInputs& inputs) const {
    return carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
        return cutters(inputs, bodies, answers, output);
    });
}

} // namespace kervo::model
