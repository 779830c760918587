// Repeat: what a step sweeps, again at other places: to cut, to unite, or to make a body.
#pragma once

#include "model/cutting/pattern.h"
#include "model/cutting/purpose.h"

namespace kervo::model {

struct Repeat : Purpose {
    static constexpr const char* kind = "repeat";
    static constexpr const char* title = "Repeat";
    static constexpr const char* summary =
        "Repeats what a step sweeps in lines, grids and rings, along edges, mirrored "
        "or at points; each as large as a formula says.";

    SweepLink of;
    Pattern pattern;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        fields_before(self, visit);
        visit(FieldInfo("of", "Step", Question::what_cuts_it, "The step whose swept regions are repeated."), self.of);
        Pattern::fields(self.pattern, visit);
        fields_after(self, visit);
    }

    /// The copies; what the step itself swept is not among them.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Repeat&, const Repeat&) = default;
};

} // namespace kervo::model
