#include "model/steps/curves/curves.h"

#include "model/document/step_of.h"
#include "model/sketching/drawn_curves.h"

namespace kervo::model {

StepOutput Curves::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto drawn = answers.sketch("sketch", sketch);
    if (!drawn) {
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = body_of_curves(inputs.step, *drawn, which.value);
    output.births.push_back({id, {}, {}});
    if (!output.bodies[id]) {
        output = {};
        answers.report("which", error_finding("curves.none", "The sketch draws no such curves.",
                                              "Draw some, or choose which are wanted."));
    }
    return output;
}

std::vector<StepVerb> Curves::verbs() {
    return {{"curves", StepVerb::Group::draw, "Curves in space",
             "Makes what a sketch draws a body of curves, which other sketches can take.", "", "Curves",
             [] { return Curves(); }, true, "grid"}};
}

template struct StepOf<Curves>;

} // namespace kervo::model
