// Trimmed by a neighbour: bodies end at faces of another, as these are here or were after a step before, with a gap
// between them if wanted.
#pragma once

#include "model/cutting/cutters.h"

namespace kervo::model {

struct TrimByNeighbour {
    static constexpr const char* kind = "neighbour";
    static constexpr const char* title = "Trimmed by a neighbour";
    static constexpr const char* summary =
        "Ends bodies at faces of another one, which go on beyond their borders as far "
        "as they must; with a gap between if wanted.";

    References workpieces, faces;
    StateLink state;
    Expression gap{"0 mm"};
    Reaching reach{Choice{"extended"}};
    Choice stays{"front"};
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Trimmed", Q::what_is_cut, "Solids and surfaces that end at the neighbour.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        visit(FieldInfo("faces", "Faces", Q::what_cuts_it, "Faces of the neighbour at which they end.")
                  .picks({ElementKind::face})
                  .several()
                  .by_marker(),
              self.faces);
        visit(FieldInfo("state", "As", Q::what_cuts_it,
                        "Whether the faces are as they are here, or as they were after a step before: two bodies can "
                        "trim each other in that way.")
                  .folds(),
              self.state);
        visit(FieldInfo("gap", "Gap", Q::how_far, "Between the faces and what stays.").length(), self.gap);
        Reaching::fields(self.reach, visit);
        visit(FieldInfo("stays", "Stays", Q::what_stays, "Of what the faces divide; they look out of the neighbour.")
                  .one_of(
                      {{"front", "What is outside of it"}, {"back", "What is on its inside"}, {"all", "Every piece"}}),
              self.stays);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece."), self.verdicts);
    }

    /// What divides the bodies.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const TrimByNeighbour&, const TrimByNeighbour&) = default;

private:
    [[nodiscard]] CutterList list(const std::vector<BodyPtr>& bodies, Answers& answers) const;
};

} // namespace kervo::model
