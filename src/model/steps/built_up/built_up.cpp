#include "model/steps/built_up/built_up.h"

#include "model/document/step_of.h"
#include "model/steps/built_up/building.h"

namespace kervo::model {

StepOutput BuiltUp::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    Building building(inputs.step, answers, output);
    building.take(taken_elements(taken, answers));
    if (answers.ok()) {
        building.work(rows);
    }
    if (answers.ok()) {
        building.hand_out(std::to_string(inputs.step));
    }
    return output;
}

std::vector<StepVerb> BuiltUp::verbs() {
    return {{"build_up", StepVerb::Group::shape, "Build up",
             "Makes points, edges, faces, a shell and a solid, from the bottom up.", "", "Built-up body",
             [] { return BuiltUp(); }, false, "copied_faces"}};
}

template struct StepOf<BuiltUp>;

} // namespace kervo::model
