// Loft: a skin between regions of several sketches. One card makes a body, unites, keeps the common part, or cuts.
#pragma once

#include "model/cutting/purpose.h"

namespace kervo::model {

struct Loft : Purpose {
    static constexpr const char* kind = "loft";
    static constexpr const char* title = "Between outlines";
    static constexpr const char* cut_title = "Cut between outlines";
    static constexpr const char* summary =
        "Spans from one region to the next, in the order in which they are chosen: to "
        "a body, united with one, cutting some, or keeping what is common.";

    SketchLink sketch;
    RegionReferences regions;
    Choice skin{"smooth"};
    Choice leaves{"free"};
    Expression leave_firmly{"1"};
    Choice arrives{"free"};
    Expression arrive_firmly{"1"};

    static Loft cut() {
        Loft step;
        step.result.value = "cut";
        return step;
    }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        const std::vector<FieldOption> ends{{"free", "As it likes"}, {"square", "Square to it"}};
        fields_before(self, visit);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch of the first region."), self.sketch);
        visit(FieldInfo("regions", "Regions", Q::what_cuts_it,
                        "One of each sketch, in the order in which the skin runs through them."),
              self.regions);
        visit(FieldInfo("skin", "Skin", Q::how_far, "How it runs through outlines between the ends.")
                  .one_of({{"smooth", "Smooth"}, {"straight", "Straight from one to the next"}}),
              self.skin);
        visit(FieldInfo("leaves", "Begins", Q::how_far, "How it leaves the first outline.")
                  .one_of(ends)
                  .when("skin", {"smooth"}),
              self.leaves);
        visit(FieldInfo("leave_firmly", "Firmness", Q::how_far, "How far it keeps to that; 1 is usual.")
                  .number()
                  .beside()
                  .when("skin", {"smooth"})
                  .when("leaves", {"square"}),
              self.leave_firmly);
        visit(FieldInfo("arrives", "Ends", Q::how_far, "How it arrives at the last outline.")
                  .one_of(ends)
                  .when("skin", {"smooth"}),
              self.arrives);
        visit(FieldInfo("arrive_firmly", "End firmness", Q::how_far, "How early it turns to that; 1 is usual.")
                  .number()
                  .beside()
                  .when("skin", {"smooth"})
                  .when("arrives", {"square"}),
              self.arrive_firmly);
        fields_after(self, visit);
    }

    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Loft&, const Loft&) = default;
};

} // namespace kervo::model
