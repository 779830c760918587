#include "model/steps/resize/resize.h"

#include "geom/measure/measure.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

#include <algorithm>
#include <cmath>

namespace kervo::model {

std::array<double, 3> Resize::factors(const std::array<double, 6>& box, Answers& answers) const {
    std::array<double, 3> result{1, 1, 1};
    const auto above_zero = [&](const char* field, const Expression& expression) {
        const double value = answers.number(field, expression, plain_number);
        if (answers.ok() && value <= geom::coincidence) {
            answers.report(field, error_finding("step.size", "It must be above zero.", ""));
        }
        return value;
    };
    if (by.value == "factor") {
        result.fill(above_zero("factor", factor));
    } else if (by.value == "axes") {
        result = {above_zero("factor_x", factor_x), above_zero("factor_y", factor_y), above_zero("factor_z", factor_z)};
    } else {
        const size_t k = along.value == "x" ? 0 : along.value == "y" ? 1 : 2;
        const double now = box[k + 3] - box[k];
        const double wanted = answers.positive("size", size);
        if (answers.ok() && now <= geom::coincidence) {
            answers.report("along", error_finding("resize.flat", "It has no size along this axis.", "Choose another."));
        } else if (answers.ok()) {
            (others.value == "same") ? result.fill(wanted / now) : void(result[k] = wanted / now);
        }
    }
    return result;
}

namespace {

// Closed, and of the volume that the factors make of the one before.
bool is_as_large(const Body& made, double volume) {
    return geom::is_closed(made.shape) && std::fabs(geom::volume_of(made.shape) - volume) <= 1e-6 * volume;
}

} // namespace

StepOutput Resize::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("bodies", bodies);
    const TopoDS_Shape vertex = about.value == "point" ? answers.element("point", point) : TopoDS_Shape();
    for (const Reference& reference : answers.ok() ? bodies : References{}) {
        const BodyPtr body = answers.body(reference.body);
        const auto box = geom::box_of(body->shape);
        const auto by_axis = factors(box, answers);
        if (!answers.ok()) {
            break;
        }
        gp_Pnt fixed = middle_of(*body);
        if (about.value == "foot") {
            fixed.SetZ(box[2]);
        } else if (about.value != "middle") {
            fixed = vertex.IsNull() ? gp_Pnt() : geom::center_of(vertex);
        }
        const BodyPtr made = resized(*body, fixed, by_axis);
        const bool solid = !geom::solids_of(body->shape).empty();
        if (!made || (solid && !is_as_large(*made, volume_of(*body) * by_axis[0] * by_axis[1] * by_axis[2]))) {
            answers.report("bodies", error_finding("resize.failed", "This body could not be resized.",
                                                   "Use the same factor along all axes."));
            break;
        }
        output.bodies[reference.body] = made;
        if (solid) {
            output.count_change(*body, *made);
        }
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.removed = output.added = 0;
    }
    return output;
}

std::vector<StepVerb> Resize::verbs() {
    return {{"resize", StepVerb::Group::shape, "Resize", "Makes bodies larger or smaller, by factors or to a size.", "",
             "Resized", [] { return Resize(); }, true, "first"}};
}

template struct StepOf<Resize>;

} // namespace kervo::model
