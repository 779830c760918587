// Extrude: regions of a sketch, swept. One card makes a body, unites, keeps the common part, or cuts.
#pragma once

#include "model/purpose.h"

namespace kervo::model {

struct Extrude : Purpose {
    static constexpr const char* kind = "extrude";
    static constexpr const char* title = "Extrude";
    static constexpr const char* summary = "Sweeps regions of a sketch from here to there: to a new body, united with "
                                           "one, cutting some, or keeping what is common.";

    SketchLink sketch;
    RegionReferences regions;
    Extent extent;
    References ends_among;

    /// What a cut starts out with: from the sketch plane through everything behind it.
    static Extrude cut() {
        Extrude step;
        step.result.value = "cut";
        step.extent = Extent::everything_behind();
        return step;
    }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        fields_before(self, visit);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions are swept."), self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them."),
            self.regions);
        Extent::fields(self.extent, visit);
        visit(FieldInfo("ends_among", "Bodies that it may end at", Q::how_far,
                        "Everything, the next face and walls are those of the bodies ticked here.")
                  .picks({ElementKind::body})
                  .several()
                  .when("result", {"new_body", "united"})
                  .when("to", Extent::ends_at_bodies()),
              self.ends_among);
        fields_after(self, visit);
    }

    /// The swept regions; `bodies` are what they may pass through.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Extrude&, const Extrude&) = default;
};

} // namespace kervo::model
