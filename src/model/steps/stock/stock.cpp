#include "model/steps/stock/stock.h"

#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"
#include "model/sketching/place_of.h"

#include <gp_Trsf.hxx>

namespace kervo::model {

namespace {

gp_Ax3 placement(const Stock& stock, Answers& answers) {
    gp_Ax3 place(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
    const gp_Pnt origin(0, 0, 0);
    place.Rotate(gp_Ax1(origin, gp_Dir(1, 0, 0)), answers.number("turn_x", stock.turn_x, angle_dimension));
    place.Rotate(gp_Ax1(origin, gp_Dir(0, 1, 0)), answers.number("turn_y", stock.turn_y, angle_dimension));
    place.Rotate(gp_Ax1(origin, gp_Dir(0, 0, 1)), answers.number("turn_z", stock.turn_z, angle_dimension));
    place.Translate(gp_Vec(answers.number("x", stock.x, length_dimension),
                           answers.number("y", stock.y, length_dimension),
                           answers.number("z", stock.z, length_dimension)));
    return place;
}

// A cone may have one tip: a diameter of zero is fine, both zero or a negative one is not.
double tip_or_more(Answers& answers, const char* field, const Expression& expression) {
    const double value = answers.number(field, expression, length_dimension);
    if (value < 0) {
        answers.report(field, error_finding("step.size", "A diameter cannot be negative.", "Use zero for a tip."));
    }
    return value;
}

// Where the sizes stand on the body: heights along its axis, widths and diameters from the axis outwards.
void place_dimensions(const gp_Ax3& place, double width, double depth, double height, bool round, StepOutput& output,
                      const char* height_field = "height") {
    const auto at = [&](double x, double y, double z) {
        const gp_Pnt p = place.Location().Translated(gp_Vec(place.XDirection()) * x + gp_Vec(place.YDirection()) * y +
                                                     gp_Vec(place.Direction()) * z);
        return place_of(p);
    };
    if (round) {
        output.dimensions.push_back({"diameter", at(0, 0, 0), at(width / 2, 0, 0), 2});
    } else {
        output.dimensions.push_back({"width", at(0, -depth / 2, 0), at(width / 2, -depth / 2, 0), 2});
        output.dimensions.push_back({"depth", at(width / 2, 0, 0), at(width / 2, depth / 2, 0), 2});
    }
    if (height > 0) {
        output.dimensions.push_back({height_field, at(width / 2, -depth / 2, 0), at(width / 2, -depth / 2, height), 1});
    }
}

} // namespace

StepOutput Stock::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const gp_Ax3 place = placement(*this, answers);
    geom::ShapeWithRoles made;
    if (shape.value == "box") {
        const double w = answers.positive("width", width);
        const double d = answers.positive("depth", depth);
        const double h = answers.positive("height", height);
        if (answers.ok()) {
            made = geom::make_box(w, d, h, place);
            place_dimensions(place, w, d, h, false, output);
        }
    } else if (shape.value == "cylinder") {
        const double d = answers.positive("diameter", diameter);
        const double h = answers.positive("height", height);
        if (answers.ok()) {
            made = geom::make_cylinder(d, h, place);
            place_dimensions(place, d, 0, h, true, output);
        }
    } else if (shape.value == "sphere") {
        const double d = answers.positive("diameter", diameter);
        if (answers.ok()) {
            made = geom::make_sphere(d, place);
            place_dimensions(place, d, 0, 0, true, output);
        }
    } else if (shape.value == "ring") {
        const double d = answers.positive("diameter", diameter);
        const double thick = answers.positive("tube", tube);
        if (answers.ok() && thick >= d - geom::coincidence) {
            answers.report("tube",
                           error_finding("step.size", "The tube is as thick as the ring is wide: no hole is left.",
                                         "Make it thinner, or the diameter larger."));
        }
        if (answers.ok()) {
            made = geom::make_ring(d, thick, place);
            place_dimensions(place, d, 0, thick, true, output, "tube");
        }
    } else if (shape.value == "rectangle") {
        const double w = answers.positive("width", width);
        const double d = answers.positive("depth", depth);
        if (answers.ok()) {
            made = geom::make_rectangle(w, d, place);
            place_dimensions(place, w, d, 0, false, output);
        }
    } else {
        const double bottom = tip_or_more(answers, "diameter", diameter);
        const double top = tip_or_more(answers, "top_diameter", top_diameter);
        const double h = answers.positive("height", height);
        if (answers.ok() && bottom + top <= geom::coincidence) {
            answers.report("diameter",
                           error_finding("step.size", "Both ends of the cone are tips.", "Give one end a diameter."));
        }
        if (answers.ok()) {
            made = geom::make_cone(bottom, top, h, place);
            place_dimensions(place, bottom, 0, h, true, output);
        }
    }
    if (answers.ok()) {
        const BodyId id = std::to_string(inputs.step);
        output.bodies[id] = name_fresh(inputs.step, made);
        output.births.push_back({id, {}, {}});
        output.added = geom::solids_of(made.shape).empty() ? 0 : geom::volume_of(made.shape);
    }
    return output;
}

std::vector<StepVerb> Stock::verbs() {
    return {{"stock", StepVerb::Group::bring_in, "Stock",
             "Makes a box, cylinder, sphere, cone, ring or flat rectangle by number.", "S", "Stock",
             [] { return Stock(); }, false, "open"}};
}

template struct StepOf<Stock>;

} // namespace kervo::model
