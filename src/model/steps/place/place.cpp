#include "model/steps/place/place.h"

#include "geom/measure/measure.h"
#include "geom/measure/placing.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/sketching/place_of.h"

#include <algorithm>
#include <optional>

namespace kervo::model {

gp_Trsf PlaceBodies::by_amounts(const BodyPtr& first, Answers& answers, StepOutput& output) const {
    const gp_Vec by(answers.number("x", x, length_dimension), answers.number("y", y, length_dimension),
                    answers.number("z", z, length_dimension));
    const double turn = answers.number("angle", angle, angle_dimension);
    gp_Ax1 about = answers.axis("axis_element", axis, axis_element);
    if (!answers.ok()) {
        return {};
    }
    if (axis.value != "element" && pivot.value != "origin") {
        const TopoDS_Shape at =
            pivot.value == "point" ? answers.element("pivot_element", pivot_element) : TopoDS_Shape();
        if (pivot.value == "middle") {
            about.SetLocation(middle_of(*first));
        } else if (!at.IsNull()) {
            about.SetLocation(geom::anchor_of(at).point);
        }
    }
    gp_Trsf rotation;
    rotation.SetRotation(about, turn);
    gp_Trsf translation;
    translation.SetTranslation(by);
    // Handles: out of its middle by half of its size, so that they are apart, each from where it would be without its
    // amount.
    const auto box = geom::box_of(first->shape);
    const double size = std::max({box[3] - box[0], box[4] - box[1], box[5] - box[2]});
    gp_Pnt at = middle_of(*first).Transformed(rotation);
    const std::tuple<const char*, double, gp_Dir> ways[] = {
        {"x", by.X(), gp_Dir(1, 0, 0)}, {"y", by.Y(), gp_Dir(0, 1, 0)}, {"z", by.Z(), gp_Dir(0, 0, 1)}};
    for (const auto& [field, amount, unit] : ways) {
        const gp_Pnt next = at.Translated(gp_Vec(unit) * amount);
        const gp_Vec out = gp_Vec(unit) * (size / 2);
        output.dimensions.push_back(
            {field, place_of(at.Translated(out)), place_of(next.Translated(out)), 1, place_of(unit), {}});
        at = next;
    }
    const double arm = size * 0.35;
    const gp_Ax3 dial(about.Location(), about.Direction());
    const gp_Pnt zero = dial.Location().Translated(gp_Vec(dial.XDirection()) * arm);
    const gp_Dir& spin = about.Direction();
    PlacedDimension handle{"angle", place_of(zero), place_of(zero.Transformed(rotation)), 1, {}, {}};
    handle.dial = PlacedDimension::Dial{place_of(dial.Location()), place_of(spin)};
    output.dimensions.push_back(std::move(handle));
    return translation * rotation;
}

gp_Trsf PlaceBodies::by_elements(Answers& answers) const {
    const TopoDS_Shape own = answers.element("carried", carried);
    const TopoDS_Shape other = answers.element("target", target);
    const TopoDS_Shape third = way.value == "between" ? answers.element("second", second) : TopoDS_Shape();
    const double apart = way.value == "flush" ? answers.number("gap", gap, length_dimension) : 0;
    const double along_axis = way.value == "concentric" ? answers.number("shift", shift, length_dimension) : 0;
    if (!answers.ok()) {
        return {};
    }
    const geom::Anchor from = geom::anchor_of(own);
    const geom::Anchor to = geom::anchor_of(other);
    const auto lacks = [&](const char* field, const geom::Anchor& anchor, bool flat) {
        if (!anchor.way || (flat && !anchor.flat)) {
            answers.report(
                field,
                error_finding("place.no_direction", flat ? "This is no flat face." : "This element has no direction.",
                              flat ? "Pick a flat face." : "Pick a straight or round edge, or a flat or round face."));
        }
    };
    gp_Trsf move;
    if (way.value == "to_point") {
        move.SetTranslation(from.point, to.point);
        return move;
    }
    if (way.value == "between") {
        return geom::bring_between(from, to, geom::anchor_of(third));
    }
    lacks("carried", from, way.value == "flush");
    lacks("target", to, way.value == "flush");
    if (!answers.ok()) {
        return move;
    }
    return way.value == "flush"        ? geom::bring_flush(from, to, facing.value == "along", apart)
           : way.value == "concentric" ? geom::make_concentric(from, to, turned.value == "flipped", along_axis)
                                       : geom::turn_parallel(from, to, turned.value == "flipped");
}

// Front is where one looks from along y: what looks there looks against y.
gp_Trsf PlaceBodies::by_origin(Answers& answers) const {
    const auto anchor = [&](const char* field, const References& references, bool needs_way) {
        const TopoDS_Shape element = references.empty() ? TopoDS_Shape() : answers.element(field, references);
        std::optional<geom::Anchor> found;
        if (!element.IsNull()) {
            found = geom::anchor_of(element);
            if (needs_way && !found->way) {
                answers.report(field, error_finding("place.no_direction", "This element has no direction.",
                                                    "Pick a straight or round edge, or a flat or round face."));
            }
        }
        return found;
    };
    const auto point = anchor("origin", origin, false);
    const auto upwards = anchor("up", up, true);
    const auto forwards = anchor("front", front, true);
    if (!answers.ok()) {
        return {};
    }
    gp_Trsf turn;
    const gp_Dir plumb(0, 0, 1);
    if (upwards) {
        turn = geom::turn_onto(*upwards->way, plumb, gp_Pnt());
    }
    if (forwards) {
        gp_Vec level = gp_Vec(*forwards->way).Transformed(turn);
        level.SetZ(0);
        if (level.Magnitude() < 1e-6) {
            answers.report("front", error_finding("place.no_front", "What looks up cannot look to the front as well.",
                                                  "Pick a face or edge across the other."));
            return {};
        }
        gp_Trsf about;
        about.SetRotation(gp_Ax1(gp_Pnt(), plumb), level.AngleWithRef(gp_Vec(0, -1, 0), gp_Vec(plumb)));
        turn = about * turn;
    }
    gp_Trsf carry;
    if (point) {
        carry.SetTranslation(point->point.Transformed(turn), gp_Pnt());
    }
    return carry * turn;
}

gp_Trsf PlaceBodies::aligned(const BodyPtr& body, const BodyPtr& first) const {
    const auto own = geom::box_of(body->shape);
    const auto lead = geom::box_of(first->shape);
    const size_t k = along.value == "x" ? 0 : along.value == "y" ? 1 : 2;
    const auto at = [&](const std::array<double, 6>& box) {
        return side.value == "low" ? box[k] : side.value == "high" ? box[k + 3] : (box[k] + box[k + 3]) / 2;
    };
    gp_XYZ by;
    by.SetCoord(static_cast<int>(k) + 1, at(lead) - at(own));
    gp_Trsf move;
    move.SetTranslation(gp_Vec(by));
    return move;
}

gp_Trsf PlaceBodies::common_move(const BodyPtr& first, Answers& answers, StepOutput& output) const {
    return way.value == "amounts"     ? by_amounts(first, answers, output)
           : way.value == "to_origin" ? by_origin(answers)
                                      : by_elements(answers);
}

StepOutput PlaceBodies::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto found = answers.bodies("bodies", bodies);
    if (!answers.ok()) {
        return output;
    }
    const bool align = way.value == "align";
    if (way.value != "amounts" && way.value != "to_origin" && !align && !carried.empty() &&
        carried.front().body != bodies.front().body) {
        answers.report("carried", error_finding("place.other_body", "This is not an element of the first body.",
                                                "Pick what is carried on the body that is placed."));
    }
    const gp_Trsf move = align ? gp_Trsf() : common_move(found.front(), answers, output);
    if (!answers.ok()) {
        return output;
    }
    for (const Reference& reference : bodies) {
        const BodyPtr body = answers.body(reference.body);
        const BodyPtr there = copied(*body, align ? aligned(body, found.front()) : move);
        if (copies.value == "copies") {
            const BodyId id = std::to_string(inputs.step) + ":" + reference.body;
            output.bodies[id] = there;
            output.births.push_back({id, "copy", {}, reference.body});
            output.added += geom::solids_of(there->shape).empty() ? 0 : volume_of(*there);
        } else {
            output.bodies[reference.body] = there;
        }
    }
    return output;
}

template struct StepOf<PlaceBodies>;

} // namespace kervo::model
