#include "model/steps/measure/measure.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"
#include "model/document/step_of.h"

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
