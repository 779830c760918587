// Trim: surfaces, bodies and curves divided by others, and by each other; every piece stays until it is said to go.
#pragma once

#include "model/cutting/cutters.h"

namespace kervo::model {

struct Trim {
    static constexpr const char* kind = "trim";
    static constexpr const char* title = "Trim";
    static constexpr const char* summary = "Divides surfaces, bodies and curves by others, or all of them by each "
                                           "other; each piece stays until it is clicked away.";

    References workpieces;
    Choice by{"cutters"};
    References cutter_bodies;
    References points;
    Choice cutters_are{"kept"};
    Reaching reach;
    Choice stays{"all"};
    Choice seams{"cleaned"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Trimmed", Q::what_is_cut, "Surfaces, solids and curves that are trimmed.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        visit(FieldInfo("by", "By", Q::what_cuts_it, "What divides them.")
                  .one_of({{"cutters", "Other bodies"}, {"each_other", "Each other, and other bodies"}}),
              self.by);
        visit(FieldInfo("cutters", "Cutters", Q::what_cuts_it, "Surfaces, solids and blades; curves on surfaces.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker()
                  .changes_them(self.cutters_are.value == "used_up"),
              self.cutter_bodies);
        visit(FieldInfo("points", "Points", Q::what_cuts_it, "Vertices of bodies: curves are divided there.")
                  .picks({ElementKind::vertex})
                  .several()
                  .by_marker()
                  .folds(),
              self.points);
        visit(FieldInfo("cutters_are", "Cutters are", Q::what_cuts_it, "Blades are always kept.")
                  .one_of({{"kept", "Kept"}, {"used_up", "Used up"}})
                  .folds(),
              self.cutters_are);
        Reaching::fields(self.reach, visit);
        visit(FieldInfo("stays", "Stays", Q::what_stays, "Until a piece is clicked.")
                  .one_of({{"all", "Every piece"},
                           {"front", "What is in front of the cutters"},
                           {"back", "What is behind the cutters"}}),
              self.stays);
        visit(FieldInfo("seams", "Seams", Q::what_stays, "Between pieces of one face that stay side by side.")
                  .one_of({{"cleaned", "Cleaned away"}, {"kept", "Kept"}})
                  .folds(),
              self.seams);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece."), self.verdicts);
    }

    /// What divides the bodies.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Trim&, const Trim&) = default;

private:
    [[nodiscard]] CutterList list(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
};

} // namespace kervo::model
