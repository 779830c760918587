// Curves: what a sketch draws as a body of its own, made of edges alone. They can be taken into other sketches, as
// edges of any body can.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Curves {
    static constexpr const char* kind = "curves";
    static constexpr const char* title = "Curves";
    static constexpr const char* summary = "What a sketch draws, as curves in space that other sketches can take.";

    SketchLink sketch;
    Choice which{"outlines"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("sketch", "Sketch", Q::source, "The sketch whose curves are wanted."), self.sketch);
        visit(FieldInfo("which", "Which", Q::source, "Outlines, guides or both.")
                  .one_of({{"outlines", "Outlines"}, {"guides", "Guides"}, {"all", "Outlines and guides"}}),
              self.which);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Curves&, const Curves&) = default;
};

} // namespace kervo::model
