// Blend: a surface from one border to another, which leaves each as the surface there does.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Blend {
    static constexpr const char* kind = "blend";
    static constexpr const char* title = "Blend";
    static constexpr const char* summary =
        "Spans a surface from one border to another, tangent to the surfaces there, and sews it to them if wanted.";

    References first, second;
    Choice takes{"whole"};
    Choice first_leaves{"tangent"}, second_leaves{"tangent"};
    Expression first_firmly{"1"}, second_firmly{"1"};
    Expression shift{"0 mm"};
    Choice turned{"least"};
    Choice result{"sewn"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        const bool sewn = self.result.value == "sewn";
        const std::vector<FieldOption> leaves{{"tangent", "Tangent"}, {"touching", "It only touches"}};
        visit(FieldInfo("first", "From", Q::source, "A free border of a surface.")
                  .picks({ElementKind::edge})
                  .several()
                  .changes_them(sewn),
              self.first);
        visit(FieldInfo("second", "To", Q::source, "Another one.")
                  .picks({ElementKind::edge})
                  .several()
                  .changes_them(sewn),
              self.second);
        visit(FieldInfo("takes", "Takes", Q::source, "What is picked may stand for the whole border.")
                  .one_of({{"whole", "The whole borders"}, {"picked", "The edges picked"}})
                  .folds(),
              self.takes);
        visit(FieldInfo("first_leaves", "Leaves", Q::size, "How it leaves the first border.").one_of(leaves),
              self.first_leaves);
        visit(FieldInfo("first_firmly", "Firmness", Q::size, "How long it keeps that direction; 1 is usual.")
                  .number()
                  .beside()
                  .when("first_leaves", {"tangent"}),
              self.first_firmly);
        visit(FieldInfo("second_leaves", "Arrives", Q::size, "How it arrives at the second border.").one_of(leaves),
              self.second_leaves);
        visit(FieldInfo("second_firmly", "Its firmness", Q::size, "How long it keeps that direction; 1 is usual.")
                  .number()
                  .beside()
                  .when("second_leaves", {"tangent"}),
              self.second_firmly);
        visit(FieldInfo("shift", "Twist", Q::place, "Along the second border, from where it is twisted least.")
                  .length()
                  .folds(),
              self.shift);
        visit(FieldInfo("turned", "Runs", Q::place, "Which way the second border is gone.")
                  .one_of({{"least", "As it is twisted least"}, {"other", "The other way"}})
                  .folds(),
              self.turned);
        visit(FieldInfo("result", "It is", Q::what_stays, "What becomes of it.")
                  .one_of({{"sewn", "Sewn to the surfaces"}, {"apart", "A surface of its own"}}),
              self.result);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Blend&, const Blend&) = default;
};

} // namespace kervo::model
