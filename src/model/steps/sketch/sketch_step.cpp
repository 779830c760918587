#include "model/steps/sketch/sketch_step.h"

#include "geom/outline/profile.h"
#include "model/document/step_of.h"
#include "model/sketching/taken.h"
#include "sketch/figures.h"

namespace kervo::model {

gp_Ax3 principal_frame(const std::string& plane) {
    const gp_Pnt origin(0, 0, 0);
    if (plane == "xz") {
        return {origin, gp_Dir(0, -1, 0), gp_Dir(1, 0, 0)};
    }
    if (plane == "yz") {
        return {origin, gp_Dir(1, 0, 0), gp_Dir(0, 1, 0)};
    }
    return {origin, gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)};
}

StepOutput SketchStep::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    gp_Ax3 frame = principal_frame(plane.value);
    if (plane.value == "face") {
        const TopoDS_Shape element = answers.element("face", face);
        if (!element.IsNull()) {
            if (const auto flat = geom::plane_of(element)) {
                frame = geom::frame_on_plane(*flat);
            } else {
                answers.report("face",
                               error_finding("sketch.curved_face", "A sketch needs a flat face.", "Pick a flat face."));
            }
        }
    }
    frame.Translate(gp_Vec(frame.Direction()) * answers.number("offset", offset, length_dimension));
    sketch::Sketch laid = drawing;
    for (const Finding& finding : follow_sources(laid, inputs.bodies, frame)) {
        answers.report("drawing", finding);
    }
    sketch::Solution solution = sketch::solve(drawing, *inputs.parameters, &laid);
    for (const Finding& finding : solution.findings) {
        answers.report("drawing", finding);
    }
    // A sketch that does not hold is shown as it is drawn, with what is in conflict, and has no regions.
    auto result = std::make_shared<SketchResult>();
    result->frame = frame;
    if (answers.ok()) {
        auto arranged = sketch::arrange(solution.sketch, *inputs.progress);
        for (const Finding& finding : arranged.findings) {
            answers.report("drawing", finding);
        }
        result->regions = std::move(arranged.regions);
        result->covered = sketch::regions_by_figure(solution.sketch, result->regions);
    } else {
        solution.sketch = laid;
    }
    result->solution = std::move(solution);
    output.sketch = std::move(result);
    return output;
}

template struct StepOf<SketchStep>;

} // namespace kervo::model
