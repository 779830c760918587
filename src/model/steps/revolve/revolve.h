// Revolve: regions of a sketch turned about an axis. One card makes a body, unites, keeps the common part, or cuts.
#pragma once

#include "model/cutting/purpose.h"

namespace kervo::model {

struct Revolve : Purpose {
    static constexpr const char* kind = "revolve";
    static constexpr const char* title = "Revolve";
    static constexpr const char* cut_title = "Revolve cut";
    static constexpr const char* summary =
        "Turns regions or curves of a sketch about an axis: to a new body or surface, "
        "united with one, cutting some, or keeping what is common.";

    SketchLink sketch;
    RegionReferences regions;
    Taking taking;
    Choice axis{"guide"};
    References axis_element;
    Choice turn{"whole"};
    Expression angle{"90 deg"};
    Choice way{"left"};
    References to_face;

    static Revolve cut() {
        Revolve step;
        step.result.value = "cut";
        return step;
    }

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        fields_before(self, visit);
        visit(FieldInfo("sketch", "Sketch", Q::what_cuts_it, "The sketch whose regions or curves are turned."),
              self.sketch);
        visit(
            FieldInfo("regions", "Regions", Q::what_cuts_it, "Click regions of the sketch to take them or leave them.")
                .when("filled", {"filled"}),
            self.regions);
        Taking::taken(self.taking, {{"filled", "What regions enclose"}}, visit);
        visit(FieldInfo("axis", "Axis", Q::what_cuts_it, "What they turn about; it lies in the plane of the sketch.")
                  .one_of({{"guide", "The guide line of the sketch"},
                           {"x", "The sketch's x-axis"},
                           {"y", "The sketch's y-axis"},
                           {"element", "An edge, or the axis of a round face"}}),
              self.axis);
        visit(FieldInfo("axis_element", "Follows", Q::what_cuts_it, "The axis follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("axis", {"element"}),
              self.axis_element);
        visit(FieldInfo("turn", "Turn", Q::how_far, "How far they turn.")
                  .one_of({{"whole", "All round"},
                           {"angle", "By an angle"},
                           {"symmetric", "Both ways, symmetric"},
                           {"face", "To a face"}}),
              self.turn);
        visit(FieldInfo("angle", "Angle", Q::how_far, "Symmetric: the whole angle.")
                  .angle()
                  .beside()
                  .when("turn", {"angle", "symmetric"}),
              self.angle);
        visit(FieldInfo("to_face", "To face", Q::how_far, "A flat face in whose plane the axis lies; it is followed.")
                  .picks({ElementKind::face})
                  .when("turn", {"face"}),
              self.to_face);
        visit(FieldInfo("way", "Way", Q::how_far, "Seen along the axis: left is counterclockwise.")
                  .one_of({{"left", "Left about the axis"}, {"right", "Right about the axis"}})
                  .when("turn", {"angle", "face"}),
              self.way);
        Taking::left(self.taking, visit);
        fields_after(self, visit);
    }

    /// The turned regions or curves; `bodies` are not asked for.
    std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const;
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const Revolve&, const Revolve&) = default;
};

} // namespace kervo::model
