// Shift faces: faces of bodies move, grow or turn, and their neighbours are cut anew.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct ShiftFaces {
    static constexpr const char* kind = "shift_faces";
    static constexpr const char* title = "Shift faces";
    static constexpr const char* summary = "Moves, offsets or turns faces of bodies; what is beside them follows.";

    References faces;
    Choice motion{"outwards"};
    Expression distance{"5 mm"};
    Choice direction{"z"};
    References along;
    Choice axis{"element"};
    References about;
    Expression angle{"5 deg"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        const std::vector<FieldOption> directions{{"x", "x"}, {"y", "y"}, {"z", "z"}, {"element", "An edge or face"}};
        visit(FieldInfo("faces", "Faces", Question::what_is_cut, "Flat, round and conical faces, of any body.")
                  .picks({ElementKind::face})
                  .several()
                  .changes_them(),
              self.faces);
        const auto how_far = Question::how_far;
        visit(FieldInfo("motion", "Shifted", how_far, "How they go; flat faces stay flat.")
                  .one_of({{"outwards", "Out of the material"},
                           {"along", "Along a direction"},
                           {"turned", "Turned about an axis"}}),
              self.motion);
        visit(
            FieldInfo("direction", "Direction", how_far, "Which way they go: along an edge, or square to a flat face.")
                .one_of(directions)
                .when("motion", {"along"}),
            self.direction);
        visit(FieldInfo("along", "Follows", how_far, "The direction follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("motion", {"along"})
                  .when("direction", {"element"}),
              self.along);
        visit(FieldInfo("distance", "Distance", how_far, "Negative: the other way.")
                  .length()
                  .when("motion", {"outwards", "along"}),
              self.distance);
        visit(FieldInfo("axis", "Axis", how_far, "What they turn about: through the origin, or an element's own.")
                  .one_of(directions)
                  .when("motion", {"turned"}),
              self.axis);
        visit(FieldInfo("about", "Follows", how_far, "The axis follows it.")
                  .picks({ElementKind::edge, ElementKind::face})
                  .when("motion", {"turned"})
                  .when("axis", {"element"}),
              self.about);
        visit(
            FieldInfo("angle", "Angle", how_far, "Counterclockwise about the axis.").angle().when("motion", {"turned"}),
            self.angle);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const ShiftFaces&, const ShiftFaces&) = default;
};

} // namespace kervo::model
