#include "model/steps/round_edges/round_edges.h"

#include "model/document/step_of.h"

namespace kervo::model {

StepOutput RoundEdges::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const bool by_width = size.value == "width";
    const bool grows = size.value == "growing";
    geom::RoundedEdge round;
    round.by_width = by_width;
    round.size = by_width ? answers.positive("width", width) : answers.positive("radius", radius);
    if (grows) {
        round.end_size = answers.positive("end_radius", end_radius);
        round.from = answers.element("from_vertex", from_vertex);
    }
    const auto chosen = choice.resolve(answers);
    blend_bodies(
        chosen, "round", by_width ? "width" : "radius",
        [&](const EdgeChoice::OnBody& on) {
            std::vector<geom::RoundedEdge> edges;
            for (const auto& edge : on.edges) {
                edges.push_back(round);
                edges.back().edge = edge.edge;
            }
            return geom::round_edges(on.body->shape, edges);
        },
        inputs, output, answers);
    return output;
}

std::vector<StepVerb> RoundEdges::verbs() {
    return {{"round_edges", StepVerb::Group::shape, "Round edges", "Rounds the selected edges, or those clicked next.",
             "Shift+R", "Rounded edges", [] { return RoundEdges(); }, true, "shift_faces"}};
}

template struct StepOf<RoundEdges>;

} // namespace kervo::model
