// Copied faces: faces of bodies as a surface of their own, which follows them, or stays as they were after some step.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct CopiedFaces {
    static constexpr const char* kind = "copied_faces";
    static constexpr const char* title = "Copied faces";
    static constexpr const char* summary =
        "Copies faces of bodies as a surface, which follows them or stays as they were after an earlier step.";

    References faces;
    StateLink state;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("faces", "Faces", Question::source, "The faces that are copied, of any body.")
                  .picks({ElementKind::face})
                  .several()
                  .by_marker(),
              self.faces);
        visit(FieldInfo("state", "As", Question::source,
                        "Whether they are as they are here, or as they were after a step before: two bodies can cut "
                        "each other in that way.")
                  .folds(),
              self.state);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const CopiedFaces&, const CopiedFaces&) = default;
};

} // namespace kervo::model
