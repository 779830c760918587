// Sew: surfaces joined along their borders, to a solid where they close.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Sew {
    static constexpr const char* kind = "sew";
    static constexpr const char* title = "Sew";
    static constexpr const char* summary =
        "Joins surfaces along their borders to one, and makes it a solid where it closes.";

    References surfaces;
    Expression tolerance{"0.01 mm"};
    Choice becomes{"solid"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("surfaces", "Surfaces", Question::what_is_cut,
                        "The surfaces that are joined; the first one gives the name.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .changes_them(),
              self.surfaces);
        visit(FieldInfo("tolerance", "Gaps up to", Question::how_far, "Borders that are no farther apart become one.")
                  .length(),
              self.tolerance);
        visit(FieldInfo("becomes", "Closed, it is", Question::what_stays, "What it becomes where no border is left.")
                  .one_of({{"solid", "A solid"}, {"surface", "Still a surface"}}),
              self.becomes);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Sew&, const Sew&) = default;
};

} // namespace kervo::model
