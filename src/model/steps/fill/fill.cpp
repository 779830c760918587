#include "model/steps/fill/fill.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/edge_net.h"
#include "geom/surface/borders.h"
#include "geom/surface/fill_border.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/route/spanned.h"

#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::model {

namespace {

// The edges one after the other; nothing and a finding where they do not close, or close several times.
std::vector<geom::BorderSide> in_order(const std::vector<geom::BorderSide>& edges, Answers& answers) {
    geom::EdgeNet net;
    std::vector<size_t> all;
    std::vector<size_t> source; // by index in the net
    for (size_t i = 0; i < edges.size(); ++i) {
        if (const auto added = net.taken(edges[i].edge); added.fresh) {
            all.push_back(added.index);
            source.push_back(i);
        }
    }
    const auto chains = net.closed_chains(all);
    if (chains.closed.size() == 1) {
        std::vector<geom::BorderSide> ordered;
        std::transform(chains.closed.front().begin(), chains.closed.front().end(), std::back_inserter(ordered),
                       [&](size_t i) { return edges[source[i]]; });
        return ordered;
    }
    Finding finding = chains.trouble.empty()
                          ? error_finding("fill.several", "These edges are several borders.", "Fill them one by one.")
                          : error_finding("fill.open", "These edges do not close to one border.",
                                          "Pick the edges that are missing, or take those off that are too many.");
    for (const size_t point : chains.trouble) {
        geom::add_place(finding, net.place(point));
    }
    answers.report("border", std::move(finding));
    return {};
}

} // namespace

std::vector<geom::BorderSide> Fill::edges(Answers& answers, std::vector<BodyId>& bodies) const {
    std::vector<geom::BorderSide> all;
    for (const auto& [id, element, own] : answers.elements("border", border)) {
        const BodyPtr body = answers.body(id);
        if (std::find(bodies.begin(), bodies.end(), id) == bodies.end()) {
            bodies.push_back(id);
        }
        const TopoDS_Edge picked = TopoDS::Edge(element);
        std::vector<TopoDS_Edge> taken{picked};
        for (const geom::Border& each :
             takes.value == "whole" ? geom::free_borders(body->shape) : std::vector<geom::Border>{}) {
            if (std::any_of(each.edges.begin(), each.edges.end(), [&](const auto& e) { return e.IsSame(picked); })) {
                taken = each.closed ? each.edges : taken;
            }
        }
        const auto sides = geom::border_sides(body->shape); // what is none of them has no face, or two
        for (const TopoDS_Edge& edge : taken) {
            const auto side =
                std::find_if(sides.begin(), sides.end(), [&](const auto& each) { return each.edge.IsSame(edge); });
            all.push_back(side != sides.end() ? *side : geom::BorderSide(edge, {}));
        }
    }
    return all;
}

StepOutput Fill::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<BodyId> bodies;
    const auto picked = edges(answers, bodies);
    const auto chain = answers.ok() ? in_order(picked, answers) : std::vector<geom::BorderSide>{};
    const bool touches = meets.value == "touching";
    const double firmness = touches ? 1 : answers.firmness("firmly", firmly);
    for (const geom::BorderSide& each : chain) {
        if (!touches && each.face.IsNull()) {
            Finding finding = error_finding("fill.beside",
                                            "This edge is no free border, so it does not say to which face "
                                            "the surface is to be tangent.",
                                            "Let it only touch, or copy the faces that count as a surface first.");
            geom::add_place(finding, geom::center_of(each.edge));
            answers.report("meets", std::move(finding));
        }
    }
    const bool all_surfaces =
        std::all_of(bodies.begin(), bodies.end(), [&](const BodyId& id) { return is_surface(*answers.body(id)); });
    if (answers.ok() && result.value == "sewn" && !all_surfaces) {
        answers.report("result", error_finding("fill.no_surface", "Only to surfaces it can be sewn.",
                                               "Let it be a surface of its own."));
        output.findings.back().offers = {{"Make it a surface of its own", {{"result", "apart"}}}};
    }
    if (!answers.ok()) {
        return output;
    }
    std::vector<geom::BorderSide> around = chain;
    for (geom::BorderSide& side : around) {
        side.face = touches ? TopoDS_Face() : side.face;
    }
    const auto filled = geom::fill_border(around, firmness);
    if (!filled) {
        answers.report("border", filled.finding());
        return output;
    }
    tell_lean(filled->lean, filled->lean_at, "fill.not_tangent", "Let it only touch, or blend from border to border.",
              "meets", answers);
    std::vector<TopoDS_Shape> faces;
    for (const geom::Filled::Part& part : filled->parts) {
        faces.push_back(part.face);
    }
    hand_out_spanned(inputs.step, geom::gather(faces), filled->gap, "fill", bodies, result.value == "sewn", "result",
                     answers, output);
    return output;
}

std::vector<StepVerb> Fill::verbs() {
    return {{"fill_border", StepVerb::Group::join, "Fill", "Spans a surface in a closed border.", "", "Filled",
             [] { return Fill(); }, true, "blend_surface"}};
}

template struct StepOf<Fill>;

} // namespace kervo::model
