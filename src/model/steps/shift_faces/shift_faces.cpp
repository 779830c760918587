#include "model/steps/shift_faces/shift_faces.h"

#include "geom/alter/shift.h"
#include "geom/alter/step_faces.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

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
    const AlterFaces alter = [&](const TopoDS_Shape& body, const std::vector<TopoDS_Face>& chosen) {
        if (auto stepped = geom::step_faces(body, chosen, shift, *inputs.progress)) {
            return std::move(*stepped);
        }
        return geom::shift_faces(body, chosen, shift);
    };
    alter_faces(inputs.step, "shifted", "faces", faces, alter, answers, output);
    return output;
}

std::vector<StepVerb> ShiftFaces::verbs() {
    return {{"shift_faces", StepVerb::Group::shape, "Shift faces",
             "Moves, offsets or turns the selected faces, or those clicked next.", "Shift+F", "Shifted faces",
             [] { return ShiftFaces(); }, true, "delete"}};
}

template struct StepOf<ShiftFaces>;

} // namespace kervo::model
