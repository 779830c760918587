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
#include <numbers>

namespace kervo::model {

namespace {

constexpr double smooth = 0.1 * std::numbers::pi / 180.0; // what is more is told

// The edge as it lies in its only face; of one with two faces, or none, without.
geom::BorderSide beside(const Body& body, const TopoDS_Edge& edge) {
    std::vector<geom::BorderSide> found;
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        for (const TopoDS_Shape& each : geom::edges_of(face)) {
            if (each.IsSame(edge)) {
                found.emplace_back(TopoDS::Edge(each), TopoDS::Face(face));
            }
        }
    }
    return found.size() == 1 ? found.front() : geom::BorderSide(edge, {});
}

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

void tell_worst(const geom::Filled& filled, Answers& answers) {
    if (filled.lean > smooth) {
        Finding finding = warning_finding(
            "fill.not_tangent", "It is off being tangent here by " + format_quantity(filled.lean, "deg", 3) + " deg.",
            "Let it only touch, or blend from border to border.");
        geom::add_place(finding, filled.lean_at);
        answers.report("meets", std::move(finding));
    }
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
        for (const TopoDS_Edge& edge : taken) {
            all.push_back(beside(*body, edge));
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
    tell_worst(*filled, answers);
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
