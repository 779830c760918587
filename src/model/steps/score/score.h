// Score: outlines of bodies, or curves, drawn into the faces of others.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Score {
    static constexpr const char* kind = "score";
    static constexpr const char* title = "Score";
    static constexpr const char* summary = "Marks the outlines of bodies or curves into the faces of others, so that "
                                           "contact faces match; nothing is removed.";

    References workpieces, by;
    Choice curves_reach{"as_they_are"};
    Choice ways{"both"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Workpieces", Q::what_is_cut,
                        "The bodies whose faces are scored, by each other "
                        "and by the others.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        visit(FieldInfo("by", "Scored by", Q::what_cuts_it, "Bodies or curves whose outlines are marked.")
                  .picks({ElementKind::body})
                  .one_by_one()
                  .by_marker()
                  .changes_them(self.ways.value == "both"),
              self.by);
        visit(FieldInfo("curves_reach", "Curves", Q::how_far,
                        "Those that end within a face mark nothing there; they can go on straight.")
                  .one_of({{"as_they_are", "As they are"}, {"extended", "Go on to the border"}})
                  .folds(),
              self.curves_reach);
        visit(FieldInfo("ways", "Marked", Q::what_stays, "Whether what scores is scored as well.")
                  .one_of({{"both", "Both ways"}, {"one", "Into the workpieces alone"}}),
              self.ways);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Score&, const Score&) = default;

private:
    // Adds what goes on from them to the borders of the workpieces' faces.
    void let_reach(TopoDS_Shape& curves, Answers& answers) const;
};

} // namespace kervo::model
