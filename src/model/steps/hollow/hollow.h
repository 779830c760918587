// Hollow: a body keeps its walls alone, open where faces are left out.
#pragma once

#include "model/cutting/cutters.h"

namespace kervo::model {

struct Hollow {
    static constexpr const char* kind = "hollow";
    static constexpr const char* title = "Hollow";
    static constexpr const char* summary =
        "Leaves the walls of a body, open at some faces; its core goes, or becomes a "
        "body of its own.";

    References workpiece;
    Spared spared;
    References open;
    Expression thickness{"2 mm"};
    References thick_faces;
    Expression other_thickness{"4 mm"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("workpiece", "Body", Question::what_is_cut, "The body that becomes hollow.")
                  .picks({ElementKind::body})
                  .changes_them(),
              self.workpiece);
        Spared::fields(self.spared, visit);
        visit(FieldInfo("open", "Open faces", Question::what_cuts_it, "Flat faces without a wall; none: it is closed.")
                  .picks({ElementKind::face})
                  .several(),
              self.open);
        const auto how_far = Question::how_far;
        visit(FieldInfo("thickness", "Thickness", how_far, "Of the walls, inwards from the faces.").length(),
              self.thickness);
        visit(FieldInfo("thick_faces", "Other walls", how_far, "Faces whose walls have a thickness of their own.")
                  .picks({ElementKind::face})
                  .length()
                  .each("Thickness")
                  .several(),
              self.thick_faces);
        visit(FieldInfo("other_thickness", "Of those", how_far,
                        "The thickness of the other walls that have none of their own.")
                  .length(),
              self.other_thickness);
        visit(FieldInfo("verdicts", "Verdicts", Question::what_stays, "What becomes of each piece."), self.verdicts);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Hollow&, const Hollow&) = default;
};

} // namespace kervo::model
