#include "model/steps/measure/measure.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/continuity.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"
#include "model/document/step_of.h"

#include <TopoDS.hxx>

#include <algorithm>
#include <numbers>

namespace kervo::model {

namespace {

struct Way {
    gp_Dir direction;
    bool face = false;
};

// The outward normal of a flat face, the direction of a straight edge.
std::optional<Way> way_of(const TopoDS_Shape& element) {
    if (element.ShapeType() == TopAbs_FACE) {
        const auto plane = geom::plane_of(element);
        return plane ? std::optional(Way{plane->Axis().Direction(), true}) : std::nullopt;
    }
    const auto direction = geom::direction_of(element);
    return direction ? std::optional(Way{*direction, false}) : std::nullopt;
}

// Of two faces the angle in the material between them; else the smaller one between the lines.
double angle_between(const Way& a, const Way& b) {
    const double between = a.direction.Angle(b.direction);
    if (a.face && b.face) {
        return std::numbers::pi - between;
    }
    const double smaller = std::min(between, std::numbers::pi - between);
    return a.face != b.face ? std::numbers::pi / 2 - smaller : smaller; // a face against a line: from the plane
}

} // namespace

Quantity Measure::how_faces_meet(Answers& answers, StepOutput& output) const {
    const TopoDS_Shape element = answers.element("seam", seam);
    std::vector<TopoDS_Face> faces;
    if (!element.IsNull()) {
        for (const TopoDS_Shape& each : geom::faces_of(answers.body(seam.front().body)->shape)) {
            const auto edges = geom::edges_of(each);
            if (std::any_of(edges.begin(), edges.end(), [&](const auto& own) { return own.IsSame(element); })) {
                faces.push_back(TopoDS::Face(each));
            }
        }
    }
    const auto met =
        faces.size() == 2 ? geom::continuity_along(TopoDS::Edge(element), faces[0], faces[1]) : std::nullopt;
    if (!met) {
        if (answers.ok()) {
            answers.report("seam", error_finding("measure.no_seam", "This edge does not lie between two faces.",
                                                 "Pick an edge that does."));
        }
        return {};
    }
    const auto& worst = differs.value == "gap" ? met->gap : differs.value == "bend" ? met->bend : met->angle;
    output.facts["gap"] = format_quantity(met->gap.value, "mm", 4) + " mm";
    output.facts["angle"] = format_quantity(met->angle.value, "deg", 4) + " deg";
    output.facts["bend"] = format_quantity(met->bend.value, "", 4) + " /mm";
    Finding report =
        note_finding("measure.continuity",
                     "At most, the faces are " + output.facts["gap"] + " apart, turned by " + output.facts["angle"] +
                         ", and their curvatures across differ by " + output.facts["bend"] + ".",
                     "");
    geom::add_place(report, worst.at);
    answers.report("seam", std::move(report));
    return {worst.value,
            differs.value == "gap"    ? length_dimension
            : differs.value == "bend" ? Dimension{-1, 0}
                                      : angle_dimension,
            false};
}

StepOutput Measure::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    if (!is_parameter_name(parameter.text)) {
        answers.report("parameter",
                       error_finding("parameter.name", "\u201c" + parameter.text + "\u201d cannot be a name.",
                                     "Use letters, digits and underscores; not a unit or a function."));
    }
    Quantity value;
    if (what.value == "length") {
        const TopoDS_Shape element = answers.element("edge", edge);
        value = {element.IsNull() ? 0 : geom::length_of(element), length_dimension, false};
    } else if (what.value == "distance") {
        const TopoDS_Shape a = answers.element("from", from);
        const TopoDS_Shape b = answers.element("to", to);
        value = {a.IsNull() || b.IsNull() ? 0 : geom::gap_between(a, b).width, length_dimension, false};
    } else if (what.value == "angle") {
        const TopoDS_Shape a = answers.element("first", first);
        const TopoDS_Shape b = answers.element("second", second);
        if (!a.IsNull() && !b.IsNull()) {
            const auto one = way_of(a);
            const auto other = way_of(b);
            if (one && other) {
                value = {angle_between(*one, *other), angle_dimension, false};
            } else {
                answers.report(one ? "second" : "first",
                               error_finding("measure.curved", "It is neither a flat face nor a straight edge.",
                                             "Pick another one."));
            }
        }
    } else if (what.value == "area") {
        const TopoDS_Shape element = answers.element("face", face);
        value = {element.IsNull() ? 0 : geom::area_of(element), {2, 0}, false};
    } else if (what.value == "continuity") {
        value = how_faces_meet(answers, output);
    } else {
        const BodyPtr measured = answers.picked_body("body", body);
        const double volume = measured ? geom::volume_of(measured->shape) : 0;
        value = {volume, {3, 0}, false};
        if (what.value == "mass") {
            constexpr double cubic_mm_per_cubic_cm = 1000;
            value = {volume / cubic_mm_per_cubic_cm * answers.number("density", density, plain_number), plain_number,
                     false};
        }
    }
    if (answers.ok()) {
        output.measured[parameter.text] = value;
    }
    return output;
}

std::vector<StepVerb> Measure::verbs() {
    return {{"measure", StepVerb::Group::check, "Measure",
             "Measures a length, distance, angle, area, volume or mass, for the formulas of later steps.", "M",
             "Measure", [] { return Measure(); }, true, "first"}};
}

template struct StepOf<Measure>;

} // namespace kervo::model
