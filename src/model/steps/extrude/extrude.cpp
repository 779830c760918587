#include "model/steps/extrude/extrude.h"

namespace kervo::model {

std::vector<SweptRegion> Extrude::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                          StepOutput& output) const {
    const auto drawn = answers.sketch("sketch", sketch);
    if (!drawn) {
        return {};
    }
    std::vector<BodyPtr> met = bodies;
    if (!cuts()) {
        met = extent.ends_at_some_body() ? answers.bodies("ends_among", ends_among) : std::vector<BodyPtr>{};
    }
    const auto chosen = chosen_regions(*drawn, regions, answers, output);
    return answers.ok() ? sweep_regions(extent, *drawn, chosen, met, answers, output) : std::vector<SweptRegion>{};
}

StepOutput Extrude::evaluate(const StepInputs& inputs) const {
    return carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
        return cutters(bodies, answers, output);
    });
}

} // namespace kervo::model
