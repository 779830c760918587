// Rounded edges: faces of a radius take the place of edges.
#pragma once

#include "model/names/edge_choice.h"

namespace kervo::model {

struct RoundEdges {
    static constexpr const char* kind = "round_edges";
    static constexpr const char* title = "Rounded edges";
    static constexpr const char* summary = "Rounds edges of bodies by a radius, one that grows along them, or a width.";

    EdgeChoice choice;
    Choice size{"radius"};
    Expression radius{"2 mm"};
    Expression end_radius{"4 mm"};
    Expression width{"3 mm"};
    References from_vertex;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        EdgeChoice::fields(self.choice, visit);
        const auto how_far = Question::how_far;
        visit(FieldInfo("size", "Size", how_far, "How large the round is.")
                  .one_of({{"radius", "A radius"},
                           {"growing", "A radius that grows or shrinks"},
                           {"width", "A width, border to border"}}),
              self.size);
        visit(FieldInfo("radius", "Radius", how_far, "Of the round.").length().when("size", {"radius", "growing"}),
              self.radius);
        visit(FieldInfo("end_radius", "End radius", how_far, "It changes evenly along the edges.")
                  .length()
                  .when("size", {"growing"}),
              self.end_radius);
        visit(FieldInfo("from_vertex", "From vertex", how_far, "The end of the edges where the first radius holds.")
                  .picks({ElementKind::vertex})
                  .when("size", {"growing"}),
              self.from_vertex);
        visit(FieldInfo("width", "Width", how_far, "The straight distance from border to border of the round.")
                  .length()
                  .when("size", {"width"}),
              self.width);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const RoundEdges&, const RoundEdges&) = default;
};

} // namespace kervo::model
