// What swept regions are for: the questions that every step shares that makes bodies or cuts with them.
#pragma once

#include "model/cutting/cutters.h"

#include <functional>

namespace kervo::model {

/// What of a sketch is swept, where curves may be: they make surfaces, or cut as such.
struct Taking {
    Choice filled{"filled"};
    Choice surfaces_leave{"both"};
    Reaching reach;

    [[nodiscard]] bool curves() const { return filled.value == "curves"; }
    /// Where no region is chosen and the sketch, which draws something, has none: the finding surface.encloses_nothing
    /// on "regions", which offers to take its curves.
    [[nodiscard]] bool offers_curves(const SketchLink& sketch, const RegionReferences& regions, const Choice& result,
                                     Answers& answers) const;

    template <class Self, class Visit> static void taken(Self& self, std::vector<FieldOption> options, Visit&& visit) {
        options.push_back({"curves", "The curves themselves"});
        visit(FieldInfo("filled", "Taken", Question::what_cuts_it, "What of the sketch is swept.")
                  .one_of(std::move(options))
                  .folds(),
              self.filled);
    }
    template <class Self, class Visit> static void left(Self& self, Visit&& visit) {
        Reaching::fields(self.reach, visit, {{"filled", {"curves"}}, {"result", {"cut"}}});
        visit(FieldInfo("surfaces_leave", "They leave", Question::what_stays, "Of what the swept curves divide.")
                  .one_of(sides_of_a_blade())
                  .when("filled", {"curves"})
                  .when("result", {"cut"}),
              self.surfaces_leave);
    }
    friend bool operator==(const Taking&, const Taking&) = default;
};

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
                           {"surface", "A surface"},
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
    /// `taking`: what becomes of surfaces that cut, where there may be any.
    [[nodiscard]] StepOutput carry_out(const StepInputs& inputs, const Sweep& sweep,
                                       const Taking* taking = nullptr) const;

    friend bool operator==(const Purpose&, const Purpose&) = default;
};

} // namespace kervo::model
