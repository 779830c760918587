// Curves where bodies meet, as a result of their own.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Meeting {
    static constexpr const char* kind = "meeting_curves";
    static constexpr const char* title = "Curves where bodies meet";
    static constexpr const char* summary =
        "Makes the curves in which the faces of bodies meet; the bodies stay as they "
        "are.";

    References bodies, others;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("bodies", "Bodies", Question::source, "Bodies on one side.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker(),
              self.bodies);
        visit(FieldInfo("others", "Meet", Question::what_cuts_it, "Bodies on the other side.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker(),
              self.others);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Meeting&, const Meeting&) = default;
};

} // namespace kervo::model
