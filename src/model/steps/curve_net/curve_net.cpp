#include "model/steps/curve_net/curve_net.h"

#include "geom/surface/curve_net.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
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
    const BodyId id = std::to_string(inputs.step);
    FaceNames names;
    names.Bind(net->made.face, {id + ":net", {}, false});
    name_sides(inputs.step, net->made, {"first-across", "last-across", "first", "last"}, names);
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
