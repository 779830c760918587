// Delete: bodies, or faces of them.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Remove {
    static constexpr const char* kind = "delete";
    static constexpr const char* title = "Delete";
    static constexpr const char* summary = "Deletes bodies, or faces of them: healed, or left open.";

    Choice what{"bodies"};
    References bodies, faces;
    Choice place{"healed"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("what", "Deleted", Q::what_is_cut, "What goes.")
                  .one_of({{"bodies", "Bodies"}, {"faces", "Faces of bodies"}}),
              self.what);
        visit(FieldInfo("bodies", "Bodies", Q::what_is_cut, "The bodies that go.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them()
                  .when("what", {"bodies"}),
              self.bodies);
        visit(FieldInfo("faces", "Faces", Q::what_is_cut, "All faces of a feature: of a pocket its floor and sides.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them()
                  .when("what", {"faces"}),
              self.faces);
        visit(FieldInfo("place", "Their place", Q::what_stays, "What becomes of the body there.")
                  .one_of({{"healed", "Is closed by what is beside"}, {"open", "Is left open"}})
                  .when("what", {"faces"}),
              self.place);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Remove&, const Remove&) = default;
};

} // namespace kervo::model
