#include "model/steps/space_curve/space_curve.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/space_curves.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/route/row_points.h"

#include <TopoDS.hxx>

#include <cmath>

namespace kervo::model {

void SpaceCurve::make_of_points(Answers& answers, StepOutput& output, std::vector<TopoDS_Shape>& edges) const {
    const auto points = stand_points(rows, taken, answers, output);
    if (!points) {
        return;
    }
    const bool closed = ends.value == "closed";
    if (made.value == "on_face") {
        const TopoDS_Shape on = answers.element("face", face);
        const auto curve =
            on.IsNull() ? std::nullopt : std::optional(geom::curve_on_face(TopoDS::Face(on), *points, closed));
        if (curve && !*curve) {
            answers.report("rows", curve->finding());
        } else if (curve) {
            edges.push_back((*curve)->edge);
            constexpr double on_it = 1e-6; // mm
            if ((*curve)->brought > on_it) {
                Finding note =
                    note_finding("space.brought",
                                 "Points lie beside the face, up to " + format_quantity((*curve)->brought, "mm", 3) +
                                     " mm; the curve runs through the places nearest to them.",
                                 "");
                geom::add_place(note, (*curve)->from);
                answers.report("rows", std::move(note));
            }
        }
        return;
    }
    const double wanted = answers.number("degree", degree, plain_number);
    constexpr int most = 5;
    if (wanted < 1 || wanted > most || wanted != std::floor(wanted)) {
        answers.report("degree", error_finding("space.degree", "The degree is a whole number from 1 to 5.",
                                               "Give 1 for corners, 3 for a smooth curve."));
        return;
    }
    if (closed && made.value == "through" && wanted != 1 && wanted != 3) {
        answers.report("degree", error_finding("space.degree", "A closed curve through points is of degree 1 or 3.",
                                               "Give 3, or make it by control points."));
        return;
    }
    const auto curve =
        geom::curve_of_points(*points, made.value == "through" ? geom::PointsAre::passed : geom::PointsAre::control,
                              static_cast<int>(wanted), closed);
    if (!curve) {
        answers.report("rows", curve.finding());
        return;
    }
    edges.insert(edges.end(), curve->begin(), curve->end());
}

void SpaceCurve::make_of_others(Answers& answers, std::vector<TopoDS_Shape>& edges) const {
    if (made.value == "halfway") {
        const TopoDS_Shape first = answers.element("one", one);
        const TopoDS_Shape second = answers.element("other", other);
        if (answers.ok()) {
            const auto curve = geom::curve_halfway(TopoDS::Edge(first), TopoDS::Edge(second));
            if (!curve) {
                answers.report("other", curve.finding());
            } else {
                edges.push_back(*curve);
            }
        }
        return;
    }
    const TopoDS_Shape on = answers.element("face", face);
    const double at = answers.number("share", share, plain_number);
    if (answers.ok() && (at < 0 || at > 1)) {
        answers.report("share", error_finding("space.share", "Shares of a face run from 0 to 1.", "Give one between."));
    }
    if (!answers.ok()) {
        return;
    }
    const auto line = geom::line_of_parameter(TopoDS::Face(on), way.value == "first", at, answers.progress());
    if (!line) {
        answers.report("share", line.finding());
        return;
    }
    edges.insert(edges.end(), line->begin(), line->end());
}

StepOutput SpaceCurve::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Shape> edges;
    if (made.value == "halfway" || made.value == "parameter") {
        make_of_others(answers, edges);
    } else {
        make_of_points(answers, output, edges);
    }
    if (!answers.ok()) {
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    FaceNames names;
    double length = 0;
    for (size_t i = 0; i < edges.size(); ++i) {
        std::string name = id + ":curve";
        if (edges.size() > 1) {
            name += "/" + std::to_string(i + 1);
        }
        names.Bind(edges[i], FaceName{name, {}, false});
        length += geom::length_of(edges[i]);
    }
    output.bodies[id] = body_of_edges(edges, names);
    output.births.push_back({id, {}, {}});
    output.facts["length"] = format_fixed(length, "mm") + " mm";
    return output;
}

std::vector<StepVerb> SpaceCurve::verbs() {
    return {{"space_curve", StepVerb::Group::draw, "Curve in space",
             "Makes a curve through points, by control points, on a face, or half-way between two.", "",
             "Curve in space", [] { return SpaceCurve(); }, false, "projected_curves"}};
}

template struct StepOf<SpaceCurve>;

} // namespace kervo::model
