// Extrude cut: regions of a sketch, swept, divide the workpieces; pieces inside go unless the user says otherwise.
#pragma once

#include "model/extent.h"

namespace kervo::model {

struct ExtrudeCut {
    static constexpr const char* kind = "extrude_cut";
    static constexpr const char* title = "Extrude cut";
    static constexpr const char* summary = "Cuts chosen bodies with regions of a sketch, from here to there.";

    References workpieces;
    SketchLink sketch;
    RegionReferences regions;
    Extent extent = Extent::everything_behind();
    VerdictRules verdicts;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("workpieces", "Workpieces", Q::what_is_cut, "Only the bodies that are ticked are cut.")
                  .picks({ElementKind::body})
                  .several()
                  .changes_them(),
              self.workpieces);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions cut."), self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them."),
            self.regions);
        Extent::fields(self.extent, visit, true);
        visit(FieldInfo("verdicts", "Verdicts", Q::what_stays, "What becomes of each piece."), self.verdicts);
    }

    /// What it cuts with; `bodies` are what it may pass through.
    std::vector<SweptRegion> cutters(const StepInputs& inputs, const std::vector<BodyPtr>& bodies, Answers& answers,
                                     StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const ExtrudeCut&, const ExtrudeCut&) = default;
};

} // namespace kervo::model
