// Copies of bodies that follow them, at other places.
#pragma once

#include "model/cutting/pattern.h"

namespace kervo::model {

struct CopyBodies {
    static constexpr const char* kind = "copy_bodies";
    static constexpr const char* title = "Copies";
    static constexpr const char* summary =
        "Copies bodies in lines, grids and rings, along edges, mirrored or at points; "
        "the copies follow them.";

    References bodies;
    Pattern pattern;
    Choice result{"apart"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("bodies", "Bodies", Question::source, "The bodies that are copied.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(self.result.value == "united"),
              self.bodies);
        Pattern::fields(self.pattern, visit);
        visit(FieldInfo("result", "Copies are", Question::what_stays, "What becomes of them.")
                  .one_of({{"apart", "Each a body of its own"},
                           {"together", "One body for each copied body"},
                           {"united", "United with what is copied"}}),
              self.result);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const CopyBodies&, const CopyBodies&) = default;
};

} // namespace kervo::model
