#include "model/steps/bevel_edges/bevel_edges.h"

#include "model/document/step_of.h"

#include <numbers>

namespace kervo::model {

StepOutput BevelEdges::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    geom::BevelledEdge bevel;
    bevel.distance = answers.positive("distance", distance);
    if (size.value == "two_distances") {
        bevel.other = answers.positive("other_distance", other_distance);
    } else if (size.value == "angle") {
        bevel.angle = answers.number("angle", angle, angle_dimension);
        if (answers.ok() && (*bevel.angle < 1e-3 || *bevel.angle > std::numbers::pi - 1e-3)) {
            answers.report("angle", error_finding("bevel.angle", "A bevel of this angle does not cut the edge.",
                                                  "Give an angle between 0 and 180 deg."));
        }
    }
    const auto chosen = choice.resolve(answers);
    blend_bodies(
        chosen, "bevel", "distance",
        [&](const EdgeChoice::OnBody& chosen_here) {
            std::vector<geom::BevelledEdge> edges;
            for (const auto& edge : chosen_here.edges) {
                edges.push_back(bevel);
                edges.back().edge = edge.edge;
                edges.back().on = on.value == "second" && !edge.other.IsNull() ? edge.other : edge.face;
            }
            return geom::bevel_edges(chosen_here.body->shape, edges);
        },
        inputs, output, answers);
    return output;
}

std::vector<StepVerb> BevelEdges::verbs() {
    return {{"bevel_edges", StepVerb::Group::shape, "Bevel edges", "Bevels the selected edges, or those clicked next.",
             "Shift+B", "Bevelled edges", [] { return BevelEdges(); }, true, "round_edges"}};
}

template struct StepOf<BevelEdges>;

} // namespace kervo::model
