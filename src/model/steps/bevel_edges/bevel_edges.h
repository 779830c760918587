// Bevelled edges: flat faces take the place of edges.
#pragma once

#include "model/names/edge_choice.h"

namespace kervo::model {

struct BevelEdges {
    static constexpr const char* kind = "bevel_edges";
    static constexpr const char* title = "Bevelled edges";
    static constexpr const char* summary = "Bevels edges of bodies by a distance, two distances, or a distance and an "
                                           "angle.";

    EdgeChoice choice;
    Choice size{"distance"};
    Expression distance{"1 mm"};
    Expression other_distance{"2 mm"};
    Expression angle{"30 deg"};
    Choice on{"first"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        EdgeChoice::fields(self.choice, visit);
        const auto how_far = Question::how_far;
        visit(FieldInfo("size", "Size", how_far, "How large the bevel is.")
                  .one_of({{"distance", "A distance, on both faces"},
                           {"two_distances", "Two distances"},
                           {"angle", "A distance and an angle"}}),
              self.size);
        visit(FieldInfo("distance", "Distance", how_far, "From the edge, along the face.").length(), self.distance);
        visit(FieldInfo("other_distance", "Other side", how_far, "From the edge, along the other face.")
                  .length()
                  .when("size", {"two_distances"}),
              self.other_distance);
        visit(FieldInfo("angle", "Angle", how_far, "Between that face and the bevel.").angle().when("size", {"angle"}),
              self.angle);
        visit(FieldInfo("on", "Lies on", how_far,
                        "The face that was picked, or that the rule names first; of an edge alone, the one whose name "
                        "comes first.")
                  .one_of({{"first", "The first face"}, {"second", "The other face"}})
                  .when("size", {"two_distances", "angle"}),
              self.on);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    static std::vector<StepVerb> verbs();
    friend bool operator==(const BevelEdges&, const BevelEdges&) = default;
};

} // namespace kervo::model
