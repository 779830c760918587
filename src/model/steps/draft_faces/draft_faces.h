// Draft: faces lean, so that a part comes out of its mould.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct DraftFaces {
    static constexpr const char* kind = "draft_faces";
    static constexpr const char* title = "Draft";
    static constexpr const char* summary = "Leans faces of a body about a plane, so that it comes out of its mould.";

    References faces;
    References neutral;
    Choice way{"out"};
    Expression angle{"2 deg"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("faces", "Faces", Question::what_is_cut, "Flat, cylindrical or conical faces that lean.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them(),
              self.faces);
        const auto how_far = Question::how_far;
        visit(FieldInfo("neutral", "Neutral", how_far, "A flat face; where it meets the others they stay.")
                  .picks({ElementKind::face}),
              self.neutral);
        visit(FieldInfo("way", "Opens", how_far, "Which way the mould opens; the body narrows that way.")
                  .one_of({{"out", "Where the neutral face looks"}, {"in", "The other way"}}),
              self.way);
        visit(FieldInfo("angle", "Angle", how_far, "By which the faces lean; negative: the body widens.").angle(),
              self.angle);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const DraftFaces&, const DraftFaces&) = default;
};

} // namespace kervo::model
