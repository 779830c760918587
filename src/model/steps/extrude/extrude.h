// Extrude: regions of a sketch become a body of their own, or are united with one.
#pragma once

#include "model/extent.h"

namespace kervo::model {

struct Extrude {
    static constexpr const char* kind = "extrude";
    static constexpr const char* title = "Extrude";
    static constexpr const char* summary = "Sweeps regions of a sketch to a new body, or unites them with one.";

    SketchLink sketch;
    RegionReferences regions;
    Extent extent;
    Choice result{"new_body"};
    References unite_with;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions are swept."), self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them."),
            self.regions);
        Extent::fields(self.extent, visit, false);
        visit(FieldInfo("result", "Result", Q::what_stays, "What becomes of it.")
                  .one_of({{"new_body", "A new body"}, {"united", "United with a body"}}),
              self.result);
        visit(FieldInfo("unite_with", "United with", Q::what_stays, "The body it is united with.")
                  .picks({ElementKind::body})
                  .changes_them()
                  .when("result", {"united"}),
              self.unite_with);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Extrude&, const Extrude&) = default;
};

} // namespace kervo::model
