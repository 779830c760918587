#include "model/steps/remove/remove.h"

#include "geom/alter/remove_faces.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

namespace kervo::model {

StepOutput Remove::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    if (what.value == "faces") {
        alter_faces(inputs.step, "closed", "faces", faces,
                    place.value == "open" ? geom::open_without : geom::heal_without, answers, output);
        return output;
    }
    for (const BodyPtr& body : answers.bodies("bodies", bodies)) {
        output.removed += geom::solids_of(body->shape).empty() ? 0 : volume_of(*body);
    }
    if (!answers.ok()) {
        output.removed = 0;
        return output;
    }
    for (const Reference& reference : bodies) {
        output.bodies[reference.body] = nullptr;
    }
    return output;
}

template struct StepOf<Remove>;

} // namespace kervo::model
