#include "model/steps/extrude/extrude.h"

#include "model/cutting.h"

namespace kervo::model {

StepOutput Extrude::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto drawn = inputs.sketches.find(sketch.step);
    if (drawn == inputs.sketches.end()) {
        answers.report("sketch",
                       error_finding("profile.no_sketch", "There is no sketch to extrude.", "Choose a sketch."));
        return output;
    }
    const auto chosen = chosen_regions(*drawn->second, regions, answers, output);
    const auto swept =
        answers.ok() ? sweep_regions(extent, *drawn->second, chosen, {}, answers, output) : std::vector<SweptRegion>{};
    add_bodies(swept, result.value == "united" ? &unite_with : nullptr, inputs, output, answers);
    return output;
}

} // namespace kervo::model
