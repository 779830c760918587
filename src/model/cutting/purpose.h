// What swept regions are for: the questions that every step shares that makes bodies or cuts with them.
#pragma once

#include "model/cutting/cutters.h"

#include <functional>

namespace kervo::model {

struct Purpose {
    Choice result{"new_body"};
    References workpieces;
    Spared spared;
    References unite_with;
    VerdictRules verdicts;

    [[nodiscard]] bool cuts() const { return result.value == "cut" || result.value == "common"; }

    template <class Self, class Visit> static void fields_before(Self& self, Visit&& visit) {
        const auto asks = Question::what_is_cut;
        visit(FieldInfo("result", "Result", asks, "What it is for; all other answers stay when this changes.")
                  .one_of({{"new_body", "A new body"},
                           {"united", "United with a body"},
                           {"cut", "Cuts bodies"},
                           {"common", "Keeps the common part"}}),
              self.result);
        visit(FieldInfo("workpieces", "Workpieces", asks, "Only the bodies that are ticked are cut.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them()
                  .when("result", {"cut", "common"}),
              self.workpieces);
        Spared::fields(self.spared, visit, {{"result", {"cut", "common"}}});
    }
    template <class Self, class Visit> static void fields_after(Self& self, Visit&& visit) {
        const auto asks = Question::what_stays;
        visit(FieldInfo("unite_with", "United with", asks, "The body it is united with.")
                  .picks({ElementKind::body})
                  .changes_them()
                  .when("result", {"united"}),
              self.unite_with);
        visit(FieldInfo("verdicts", "Verdicts", asks, "What becomes of each piece.").when("result", {"cut", "common"}),
              self.verdicts);
    }

    /// Makes, unites, keeps or cuts with what `sweep` gives. It is called once, with the workpieces, of which there are
    /// none where nothing is cut.
    using Sweep = std::function<std::vector<SweptRegion>(const std::vector<BodyPtr>& bodies, Answers& answers,
                                                         StepOutput& output)>;
    [[nodiscard]] StepOutput carry_out(const StepInputs& inputs, const Sweep& sweep) const;

    friend bool operator==(const Purpose&, const Purpose&) = default;
};

} // namespace kervo::model
