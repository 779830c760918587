#include "model/cutting/purpose.h"

namespace kervo::model {

StepOutput Purpose::carry_out(const StepInputs& inputs, const Sweep& sweep) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = cuts() ? answers.bodies("workpieces", workpieces) : std::vector<BodyPtr>{};
    auto swept = sweep(bodies, answers, output);
    if (cuts()) {
        CutRules rules(result.value == "cut" ? Keeps::outside : Keeps::inside);
        spared.add({&workpieces}, answers, swept, rules);
        cut_bodies(bodies, swept, verdicts, rules, inputs, output, answers);
    } else {
        add_bodies(swept, result.value == "united" ? &unite_with : nullptr, inputs, output, answers);
    }
    return output;
}

} // namespace kervo::model
