#include "model/steps/split_faces/split_faces.h"

#include "geom/cut/line_between.h"
#include "geom/cut/score.h"
#include "geom/kernel/finding_place.h"
#include "geom/make/curves_on_face.h"
#include "geom/measure/along_edge.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"
#include "model/names/names.h"

#include <TopoDS.hxx>

namespace kervo::model {

namespace {

std::optional<gp_Pnt> place(const char* field, const References& picked, const char* share_field,
                            const Expression& share, Answers& answers) {
    const TopoDS_Shape element = answers.element(field, picked);
    const double at = answers.number(share_field, share, plain_number);
    if (element.IsNull() || !answers.ok()) {
        return std::nullopt;
    }
    if (element.ShapeType() == TopAbs_VERTEX) {
        return geom::center_of(element);
    }
    if (at < 0 || at > 1) {
        answers.report(share_field,
                       error_finding("split.share", "That is not on the edge.", "Give a number from 0 to 1."));
        return std::nullopt;
    }
    return geom::place_along(TopoDS::Edge(element), at);
}

} // namespace

Result<std::vector<TopoDS_Edge>> SplitFaces::drawn(const std::vector<TopoDS_Face>& chosen, const gp_Pnt& begin,
                                                   const gp_Pnt& end, Progress& progress) const {
    if (line.value == "straight") {
        return geom::line_between(chosen, begin, end, ends.value == "on");
    }
    if (chosen.size() != 1) {
        return error_finding("split.one_face", "Shortest is a line on one face alone.",
                             "Pick one face, or let the line be straight.");
    }
    const auto shortest = geom::shortest_on_face(chosen.front(), {begin, end}, false);
    if (!shortest) {
        return shortest.finding();
    }
    if (ends.value != "on") {
        return shortest->edges;
    }
    const TopoDS_Shape edges = geom::gather({shortest->edges.begin(), shortest->edges.end()});
    const auto more = geom::gone_on_to_borders(edges, chosen.front(), progress);
    return more ? Result<std::vector<TopoDS_Edge>>(geom::joined_with(edges, *more)) : more.finding();
}

StepOutput SplitFaces::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Face> chosen;
    BodyId id;
    for (const auto& [body, face, own] : answers.elements("faces", faces)) {
        if (!id.empty() && body != id) {
            answers.report("faces", error_finding("split.two_bodies", "These faces are of two bodies.",
                                                  "Pick faces of one of them."));
        }
        id = body;
        chosen.push_back(TopoDS::Face(face));
    }
    const auto begin = place("from", from, "from_at", from_at, answers);
    const auto end = place("to", to, "to_at", to_at, answers);
    if (!answers.ok() || !begin || !end) {
        return output;
    }
    const auto edges = drawn(chosen, *begin, *end, *inputs.progress);
    if (!edges) {
        answers.report("to", edges.finding());
        return output;
    }
    const BodyPtr body = answers.body(id);
    const auto scored = geom::score({body->shape, geom::gather({edges->begin(), edges->end()})}, *inputs.progress);
    if (!scored) {
        answers.report("faces", scored.finding());
        return output;
    }
    if (!scored->loose_ends.empty()) {
        Finding finding = error_finding("split.ends_within", "The line ends within a face here, and divides nothing.",
                                        "Let it go on to the border.");
        for (const gp_Pnt& loose : scored->loose_ends) {
            geom::add_place(finding, loose);
        }
        finding.offers = {{"Go on to the border", {{"ends", "on"}}}};
        answers.report("to", std::move(finding));
        return output;
    }
    const TopoDS_Shape& made = scored->bodies.front();
    if (geom::faces_of(made).size() == geom::faces_of(body->shape).size()) {
        answers.report("to", error_finding("split.nothing", "The line divides none of the faces.",
                                           "Pick places on two borders of a face."));
        return output;
    }
    output.bodies[id] = name_result(made, scored->origins, body->names);
    return output;
}

std::vector<StepVerb> SplitFaces::verbs() {
    return {{"split_faces", StepVerb::Group::shape, "Split faces",
             "Divides the selected faces, or those clicked next, by a line between two places.", "", "Split faces",
             [] { return SplitFaces(); }, true, "shift_faces"}};
}

template struct StepOf<SplitFaces>;

} // namespace kervo::model
