#include "model/steps/draft_faces/draft_faces.h"

#include "geom/alter/draft.h"
#include "geom/outline/profile.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"

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
    if (!answers.ok()) {
        return output;
    }
    if (way.value == "in") {
        plane = gp_Pln(plane->Location(), plane->Axis().Direction().Reversed());
    }
    const AlterFaces alter = [&](const TopoDS_Shape& body, const std::vector<TopoDS_Face>& leaning) {
        return geom::draft_faces(body, leaning, *plane, lean);
    };
    alter_faces(inputs.step, "draft", "faces", faces, alter, answers, output);
    return output;
}

std::vector<StepVerb> DraftFaces::verbs() {
    return {{"draft_faces", StepVerb::Group::shape, "Draft",
             "Leans the selected faces, or those clicked next, for a mould.", "", "Draft", [] { return DraftFaces(); },
             true, "bevel_edges"}};
}

template struct StepOf<DraftFaces>;

} // namespace kervo::model
