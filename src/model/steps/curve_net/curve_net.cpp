#include "model/steps/curve_net/curve_net.h"

#include "geom/surface/curve_net.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/names/border_names.h"
#include "model/route/spanned.h"

#include <TopoDS.hxx>

namespace kervo::model {

StepOutput CurveNet::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Edge> edges;
    for (const auto& picked : answers.elements("curves", curves)) {
        edges.push_back(TopoDS::Edge(picked.element));
    }
    if (!answers.ok()) {
        return output;
    }
    const auto net = geom::surface_through_net(edges);
    if (!net) {
        answers.report("curves", net.finding());
        return output;
    }
    tell_turn(net->made.turns, "Take off the curves that lead it there.", "curves", answers);
    output.facts["curves"] = std::to_string(net->curves[0]) + " \u00d7 " + std::to_string(net->curves[1]);
    output.facts["gap"] = format_quantity(net->gap, "mm", 6) + " mm";
    const std::string step = std::to_string(inputs.step) + ":";
    FaceNames names;
    names.Bind(net->made.face, {step + "net", {}, false});
    for (const TopoDS_Shape& edge : geom::edges_of(net->made.face)) {
        static const std::array<const char*, 4> sides{"first-across", "last-across", "first", "last"};
        if (const int* side = net->made.side_of_edge.Seek(edge)) {
            names.Bind(edge, border_towards(step + sides[static_cast<size_t>(*side)]));
        }
    }
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = body_of_faces({net->made.face}, names);
    output.births.push_back({id, {}, {}});
    return output;
}

std::vector<StepVerb> CurveNet::verbs() {
    return {{"curve_net", StepVerb::Group::join, "Surface through a net",
             "Spans a surface through curves that cross each other.", "", "Surface through a net",
             [] { return CurveNet(); }, true, "fill_border"}};
}

template struct StepOf<CurveNet>;

} // namespace kervo::model
