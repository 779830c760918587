// Sketch: outlines on a plane or on a flat face, which they follow.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct SketchStep {
    static constexpr const char* kind = "sketch";
    static constexpr const char* title = "Sketch";
    static constexpr const char* summary = "Outlines on a principal plane or on a flat face.";

    Choice plane{"xy"};
    References face;
    Expression offset{"0 mm"};
    sketch::Sketch drawing;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        using Q = Question;
        visit(FieldInfo("plane", "Plane", Q::place, "What the sketch lies on.")
                  .one_of({{"xy", "xy, level"}, {"xz", "xz, front"}, {"yz", "yz, side"}, {"face", "A flat face"}}),
              self.plane);
        visit(FieldInfo("face", "Face", Q::place, "The sketch follows this face.")
                  .picks({ElementKind::face})
                  .when("plane", {"face"}),
              self.face);
        visit(FieldInfo("offset", "Offset", Q::place, "Distance from the plane, along its normal.").length(),
              self.offset);
        visit(FieldInfo("drawing", "Drawing", Q::drawing, "Points, curves and constraints."), self.drawing);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const SketchStep&, const SketchStep&) = default;
};

/// The frame of a principal plane: "xy" looks down z, "xz" along y from the front, "yz" along x from the right.
gp_Ax3 principal_frame(const std::string& plane);

} // namespace kervo::model
