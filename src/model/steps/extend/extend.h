// Extend: surfaces go on beyond their borders.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Extend {
    static constexpr const char* kind = "extend";
    static constexpr const char* title = "Extend";
    static constexpr const char* summary =
        "Lets surfaces go on beyond their borders, each by its own amount or as far as it must to pass through bodies.";

    References borders;
    Choice chain{"edges"};
    Choice by{"amount"};
    Expression amount{"10 mm"};
    References through;
    Choice continues{"straight"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("borders", "Borders", Question::what_is_cut, "Free borders of surfaces.")
                  .length()
                  .picks({ElementKind::edge})
                  .several()
                  .changes_them()
                  .each("By"),
              self.borders);
        visit(
            FieldInfo("chain", "Goes on", Question::what_is_cut, "Whether what is picked stands for its whole border.")
                .one_of({{"edges", "The edges picked"}, {"whole", "All of their borders"}}),
            self.chain);
        visit(FieldInfo("by", "By", Question::how_far, "How far it goes on.")
                  .one_of({{"amount", "An amount"}, {"through", "What is missing to pass through"}}),
              self.by);
        visit(FieldInfo("amount", "Amount", Question::how_far, "Square to the border, along what is added.")
                  .length()
                  .beside()
                  .when("by", {"amount"}),
              self.amount);
        visit(FieldInfo("through", "Bodies", Question::how_far, "What the surface is to pass through.")
                  .picks({ElementKind::body})
                  .several()
                  .when("by", {"through"}),
              self.through);
        visit(FieldInfo("continues", "Runs", Question::how_far, "How it goes on from a curved face.")
                  .one_of({{"straight", "Straight"}, {"bends", "Round, as a round face is"}})
                  .folds(),
              self.continues);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Extend&, const Extend&) = default;
};

} // namespace kervo::model
