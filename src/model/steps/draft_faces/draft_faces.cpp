#include "model/steps/draft_faces/draft_faces.h"

#include "geom/draft.h"
#include "geom/profile.h"
#include "model/altering.h"

#include <TopoDS.hxx>

#include <cmath>

namespace kervo::model {

StepOutput DraftFaces::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const TopoDS_Shape plane_face = answers.element("neutral", neutral);
    auto plane = plane_face.IsNull() ? std::nullopt : geom::plane_of(plane_face);
    if (answers.ok() && !plane) {
        answers.report("neutral", error_finding("draft.neutral", "The neutral face is curved.", "Pick a flat face."));
    }
    const double lean = answers.number("angle", angle, angle_dimension);
    if (answers.ok() && (std::fabs(lean) < 1e-9 || std::fabs(lean) > 1.5)) {
        answers.report("angle", error_finding("draft.angle", "Faces cannot lean by this angle.",
                                              "Give an angle above 0 and below 85 deg."));
    }
    std::map<BodyId, std::vector<TopoDS_Face>> by_body;
    for (const auto& [body, face, own] : answers.elements("faces", faces)) {
        by_body[body].push_back(TopoDS::Face(face));
    }
    if (!answers.ok()) {
        return output;
    }
    if (way.value == "in") {
        plane = gp_Pln(plane->Location(), plane->Axis().Direction().Reversed());
    }
    for (const auto& [id, leaning] : by_body) {
        const BodyPtr before = answers.body(id);
        const auto altered = geom::draft_faces(before->shape, leaning, *plane, lean);
        if (!altered) {
            answers.report("faces", altered.finding());
            continue;
        }
        output.bodies[id] = name_altered(inputs.step, "draft", *before, *altered);
        output.count_change(*before, *output.bodies[id]);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.removed = output.added = 0;
    }
    return output;
}

} // namespace kervo::model
