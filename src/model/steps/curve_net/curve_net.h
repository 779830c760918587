// Surface through a net of curves.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct CurveNet {
    static constexpr const char* kind = "curve_net";
    static constexpr const char* title = "Surface through a net";
    static constexpr const char* summary =
        "Spans a surface through curves and edges that cross each other, of bodies or in space.";

    References curves;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("curves", "Curves", Question::source,
                        "All of them, in any order: each that goes one way must cross each that goes the other.")
                  .picks({ElementKind::edge})
                  .several()
                  .by_marker(),
              self.curves);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const CurveNet&, const CurveNet&) = default;
};

} // namespace kervo::model
