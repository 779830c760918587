#include "model/steps/copied_faces/copied_faces.h"

#include "geom/kernel/by_shape.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

#include <set>
#include <utility>

namespace kervo::model {

StepOutput CopiedFaces::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    std::vector<TopoDS_Shape> copied;
    FaceNames names; // also of what is beside them
    std::set<BodyId> bodies;
    geom::ByShape<bool> known;
    for (const auto& [body, face, own] : answers.elements("faces", faces)) {
        if (bodies.insert(body).second) {
            names.add(answers.body(body)->names);
        }
        if (!std::exchange(geom::entry(known, face), true)) {
            copied.push_back(face);
        }
    }
    if (!answers.ok()) {
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = body_of_faces(copied, names);
    output.births.push_back({id, {}, {}});
    return output;
}

std::vector<StepVerb> CopiedFaces::verbs() {
    return {{"copied_faces", StepVerb::Group::shape, "Copy faces",
             "Copies the selected faces, or those clicked next, as a surface that follows them.", "", "Copied faces",
             [] { return CopiedFaces(); }, true, "draft_faces"}};
}

template struct StepOf<CopiedFaces>;

} // namespace kervo::model
