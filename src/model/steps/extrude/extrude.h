// Extrude: regions of a sketch, swept. One card makes a body, unites, keeps the common part, or cuts.
#pragma once

#include "model/cutting/purpose.h"

namespace kervo::model {

struct Extrude : Purpose {
    static constexpr const char* kind = "extrude";
    static constexpr const char* title = "Extrude";
    static constexpr const char* cut_title = "Extrude cut";
    static constexpr const char* summary = "Sweeps regions or curves of a sketch from here to there: to a new body or "
                                           "surface, united with one, cutting some, or keeping what is common.";

    SketchLink sketch;
    RegionReferences regions;
    Taking taking;
    Expression outside{"0 mm"}, inside{"2 mm"};
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
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions or curves are swept."),
              self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them.")
                .length()
                .each("Distance")
                .when("filled", {"filled", "outline"}),
            self.regions);
        Taking::taken(self.taking, {{"filled", "What regions enclose"}, {"outline", "A wall along their outlines"}},
                      visit);
        visit(FieldInfo("inside", "Inside", Q::what_cuts_it, "How wide the wall is, into what the regions enclose.")
                  .length()
                  .when("filled", {"outline"}),
              self.inside);
        visit(FieldInfo("outside", "Outside", Q::what_cuts_it, "How wide it is away from what the regions enclose.")
                  .length()
                  .when("filled", {"outline"}),
              self.outside);
        Extent::fields(self.extent, visit);
        visit(FieldInfo("ends_among", "Bodies that it may end at", Q::how_far,
                        "Everything, the next face and walls are those of the bodies ticked here.")
                  .picks({ElementKind::body})
                  .several()
                  .when("result", {"new_body", "surface", "united"})
                  .when("to", Extent::ends_at_bodies()),
              self.ends_among);
        Taking::left(self.taking, visit);
        fields_after(self, visit);
    }

    /// The chosen regions, or walls along their outlines.
    std::vector<Profile> profiles(Answers& answers, StepOutput& output) const;
    /// The swept regions; `bodies` are what they may pass through.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Extrude&, const Extrude&) = default;
};

} // namespace kervo::model
