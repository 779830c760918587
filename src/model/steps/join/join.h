// Join: bodies united, their common part, or everything but that.
#pragma once

#include "model/cutting/cutting.h"

namespace kervo::model {

struct Join {
    static constexpr const char* kind = "join";
    static constexpr const char* title = "Join";
    static constexpr const char* summary = "Unites bodies, keeps their common part, or everything but that.";

    References bodies;
    Choice operation{"unite"};
    Choice seams{"cleaned"};
    Choice sources{"used_up"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("bodies", "Bodies", Q::source, "Solids, two or more; the first one gives the result its name.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .changes_them(),
              self.bodies);
        visit(FieldInfo("operation", "Result", Q::what_stays, "What stays of them, as one body.")
                  .one_of({{"unite", "All, united"},
                           {"common", "What is common to all"},
                           {"all_but_common", "Everything but what is common to all"}}),
              self.operation);
        visit(FieldInfo("seams", "Seams", Q::what_stays, "Borders between faces that continue each other.")
                  .one_of({{"cleaned", "Cleaned away"}, {"kept", "Kept"}})
                  .folds(),
              self.seams);
        visit(FieldInfo("sources", "Others are", Q::what_stays, "What becomes of the bodies but the first.")
                  .one_of({{"used_up", "Used up"}, {"kept", "Kept"}})
                  .folds(),
              self.sources);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each part."), self.verdicts);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Join&, const Join&) = default;
};

} // namespace kervo::model
