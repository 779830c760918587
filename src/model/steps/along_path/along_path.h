// Along a path: regions of a sketch carried along edges or curves. One card makes a body, unites, keeps the common
// part, or cuts: grooves, beads, cable channels.
#pragma once

#include "model/cutting/purpose.h"

namespace kervo::model {

struct AlongPath : Purpose {
    static constexpr const char* kind = "along_path";
    static constexpr const char* title = "Along a path";
    static constexpr const char* cut_title = "Cut along a path";
    static constexpr const char* summary =
        "Carries regions of a sketch along edges or the curves of another sketch: to a "
        "body, united with one, cutting some, or keeping what is common.";

    SketchLink sketch;
    RegionReferences regions;
    Choice path{"edges"};
    References path_edges;
    SketchLink path_sketch;
    Choice placed{"drawn"};
    Choice carried{"turning"};
    Expression twist{"0 deg"};

    static AlongPath cut() {
        AlongPath step;
        step.result.value = "cut";
        return step;
    }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        fields_before(self, visit);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions are carried."), self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them."),
            self.regions);
        visit(FieldInfo("path", "Path", Q::how_far, "What they are carried along, from its end that is nearest.")
                  .one_of({{"edges", "Edges"}, {"sketch", "The curves of a sketch"}}),
              self.path);
        visit(FieldInfo("path_edges", "Edges", Q::how_far, "Edges that follow each other end to end, in any order.")
                  .picks({ElementKind::edge})
                  .several()
                  .when("path", {"edges"}),
              self.path_edges);
        visit(FieldInfo("path_sketch", "Of sketch", Q::how_far, "All of its curves that are no guides are the path.")
                  .when("path", {"sketch"}),
              self.path_sketch);
        visit(FieldInfo("placed", "Begins", Q::how_far, "Where the regions stand when they set out.")
                  .one_of({{"drawn", "Where they are drawn"}, {"start", "Square to the path, at its start"}}),
              self.placed);
        visit(FieldInfo("carried", "Carried", Q::how_far, "Whether they turn as the path does.")
                  .one_of({{"turning", "Turning with the path"}, {"kept", "Keeping their direction"}}),
              self.carried);
        visit(FieldInfo("twist", "Twist", Q::how_far, "About the path, evenly over its whole length.")
                  .angle()
                  .when("carried", {"turning"}),
              self.twist);
        fields_after(self, visit);
    }

    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const AlongPath&, const AlongPath&) = default;
};

} // namespace kervo::model
