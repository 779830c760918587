// Body cut: workpieces, cut by other bodies, surfaces and blades.
#pragma once

#include "model/cutting/cutters.h"

namespace kervo::model {

struct BodyCut {
    static constexpr const char* kind = "body_cut";
    static constexpr const char* title = "Body cut";
    static constexpr const char* summary = "Cuts bodies with other bodies, surfaces and blades, piece by piece.";

    References workpieces, cutter_bodies;
    Spared spared;
    Choice cutters_are{"used_up"};
    Choice keeps{"outside"};
    Choice blades_keep{"both"};
    Choice short_ends{"told"};
    Reaching reach;
    Choice pieces{"united"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Workpieces", Q::what_is_cut, "Only the bodies that are ticked are cut.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        Spared::fields(self.spared, visit);
        visit(FieldInfo("cutters", "Cutters", Q::what_cuts_it, "Solids, surfaces and blades.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker()
                  .changes_them(self.cutters_are.value == "used_up"),
              self.cutter_bodies);
        visit(FieldInfo("cutters_are", "Cutters are", Q::what_cuts_it, "Blades are always kept.")
                  .one_of({{"used_up", "Used up"}, {"kept", "Kept"}})
                  .folds(),
              self.cutters_are);
        visit(FieldInfo("short_ends", "Ends inside", Q::how_far, "A solid that enters and does not pass through.")
                  .one_of({{"told", "Are pointed out"}, {"meant", "Are meant"}})
                  .folds(),
              self.short_ends);
        Reaching::fields(self.reach, visit);
        visit(FieldInfo("keeps", "Stays", Q::what_stays, "Of what the solids among the cutters divide.")
                  .one_of({{"outside", "What is outside the cutters"},
                           {"inside", "What is inside a cutter"},
                           {"all", "All, each a body"}}),
              self.keeps);
        visit(FieldInfo("blades_keep", "Blades leave", Q::what_stays, "Of what blades and surfaces divide.")
                  .one_of(sides_of_a_blade()),
              self.blades_keep);
        visit(FieldInfo("pieces", "Its pieces", Q::what_stays, "Those of one body that stay and touch each other.")
                  .one_of({{"united", "Grow together again"}, {"kept", "Stay apart, in one body"}}),
              self.pieces);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece."), self.verdicts);
    }

    /// What divides the bodies.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const BodyCut&, const BodyCut&) = default;

private:
    [[nodiscard]] CutterList list(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
};

} // namespace kervo::model
