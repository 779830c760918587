#include "model/steps/space_curve/space_curve.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/curves_on_face.h"
#include "geom/make/joined_curves.h"
#include "geom/make/space_curves.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/route/row_points.h"

#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::model {

void SpaceCurve::make_of_points(Answers& answers, StepOutput& output, std::vector<TopoDS_Shape>& edges) const {
    const auto points = stand_points(rows, taken, answers, output);
    if (!points) {
        return;
    }
    const bool closed = ends.value == "closed";
    if (made.value == "on_face" || made.value == "shortest") {
        const TopoDS_Shape on = answers.element("face", face);
        const auto make = made.value == "on_face" ? geom::curve_on_face : geom::shortest_on_face;
        const auto curve = on.IsNull() ? std::nullopt : std::optional(make(TopoDS::Face(on), *points, closed));
        if (curve && !*curve) {
            answers.report("rows", curve->finding());
        } else if (curve) {
            edges.insert(edges.end(), (*curve)->edges.begin(), (*curve)->edges.end());
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

void SpaceCurve::make_halfway(Answers& answers, std::vector<TopoDS_Shape>& edges) const {
    const TopoDS_Shape first = answers.element("one", one);
    const TopoDS_Shape second = answers.element("other", other);
    if (!answers.ok()) {
        return;
    }
    const auto curve = geom::curve_halfway(TopoDS::Edge(first), TopoDS::Edge(second));
    if (!curve) {
        answers.report("other", curve.finding());
        return;
    }
    edges.push_back(*curve);
}

void SpaceCurve::make_of_curves(Answers& answers, std::vector<TopoDS_Shape>& edges) const {
    std::vector<TopoDS_Edge> chosen;
    for (const Answers::Picked& picked : answers.elements("curves", curves)) {
        if (std::none_of(chosen.begin(), chosen.end(),
                         [&](const TopoDS_Edge& known) { return known.IsSame(picked.element); })) {
            chosen.push_back(TopoDS::Edge(picked.element));
        }
    }
    const auto take = [&](const Result<std::vector<TopoDS_Edge>>& found) {
        if (!found) {
            answers.report("curves", found.finding());
        } else {
            edges.insert(edges.end(), found->begin(), found->end());
        }
    };
    if (made.value == "beside") {
        const TopoDS_Shape on = answers.element("face", face);
        const double distance = answers.number("away", away, length_dimension);
        if (answers.ok()) {
            const auto found = geom::offset_on_face(TopoDS::Face(on), chosen, distance, answers.progress());
            take(found ? Result<std::vector<TopoDS_Edge>>(found->edges) : found.finding());
        }
        return;
    }
    if (made.value == "joined") {
        const bool rounds = corners.value == "rounded";
        const double by = rounds ? answers.positive("reach", reach) : 0;
        const geom::Closing how = closing.value == "straight" ? geom::Closing::straight
                                  : closing.value == "smooth" ? geom::Closing::smooth
                                                              : geom::Closing::none;
        if (answers.ok()) {
            take(geom::joined_curves(chosen, by, how));
        }
        return;
    }
    const double first = answers.number("first_by", first_by, length_dimension);
    const double last = answers.number("last_by", last_by, length_dimension);
    if (answers.ok() && chosen.size() != 1) {
        answers.report("curves", error_finding("space.one_curve", "One curve at a time is made longer.",
                                               "Pick one; join several first."));
    } else if (answers.ok()) {
        take(geom::longer_curve(chosen.front(), first, last, goes_on.value == "round"));
    }
}

void SpaceCurve::make_of_parameter(Answers& answers, std::vector<TopoDS_Shape>& edges) const {
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
    const std::string& from = made.value;
    if (from == "halfway") {
        make_halfway(answers, edges);
    } else if (from == "parameter") {
        make_of_parameter(answers, edges);
    } else if (from == "beside" || from == "joined" || from == "longer") {
        make_of_curves(answers, edges);
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
             "Makes a curve through points or by control points, on a face, beside, between or of others.", "",
             "Curve in space", [] { return SpaceCurve(); }, false, "projected_curves"}};
}

template struct StepOf<SpaceCurve>;

} // namespace kervo::model
