#include "model/steps/separate/separate.h"

#include "model/document/step_of.h"

namespace kervo::model {

StepOutput Separate::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    CutRules rules;
    rules.all_become = lumps.value == "apart" ? Verdict::apart : Verdict::stays;
    rules.grow_together = false;
    rules.cutters_field = "workpieces";
    cut_bodies(bodies, {}, verdicts, rules, inputs, output, answers);
    return output;
}

std::vector<StepVerb> Separate::verbs() {
    return {{"separate", StepVerb::Group::join, "Separate",
             "Takes bodies apart into their lumps, or drops some of them.", "Shift+S", "Separate",
             [] { return Separate(); }, true, "meeting_curves"}};
}

template struct StepOf<Separate>;

} // namespace kervo::model
