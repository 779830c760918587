#include "model/steps/shift_faces/shift_faces.h"

#include "geom/shift.h"
#include "model/altering.h"

#include <TopoDS.hxx>

namespace kervo::model {

namespace {

geom::Shift shift_of(const ShiftFaces& step, Answers& answers) {
    geom::Shift shift;
    if (step.motion.value == "turned") {
        const gp_Ax1 axis = answers.axis("about", step.axis, step.about);
        const double angle = answers.number("angle", step.angle, angle_dimension);
        shift.motion.emplace();
        shift.motion->SetRotation(axis, angle);
        return shift;
    }
    const double distance = answers.number("distance", step.distance, length_dimension);
    if (step.motion.value == "along") {
        const gp_Ax1 way = answers.axis("along", step.direction, step.along);
        shift.motion.emplace();
        shift.motion->SetTranslation(gp_Vec(way.Direction()) * distance);
    } else {
        shift.outwards = distance;
    }
    return shift;
}

} // namespace

StepOutput ShiftFaces::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto shift = shift_of(*this, answers);
    std::map<BodyId, std::vector<TopoDS_Face>> by_body;
    for (const auto& [body, face, own] : answers.elements("faces", faces)) {
        by_body[body].push_back(TopoDS::Face(face));
    }
    if (!answers.ok()) {
        return output;
    }
    for (const auto& [id, shifted] : by_body) {
        const BodyPtr before = answers.body(id);
        const auto altered = geom::shift_faces(before->shape, shifted, shift);
        if (!altered) {
            answers.report("faces", altered.finding());
            continue;
        }
        output.bodies[id] = name_altered(inputs.step, "shifted", *before, *altered);
        output.count_change(*before, *output.bodies[id]);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.removed = output.added = 0;
    }
    return output;
}

} // namespace kervo::model
