#include "model/steps/extrude/extrude.h"

#include "geom/measure.h"
#include "geom/unite.h"

namespace kervo::model {

namespace {

void unite_all(const std::vector<BodyPtr>& parts, const BodyId& id, StepOutput& output, Answers& answers,
               Progress& progress) {
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    for (const BodyPtr& part : parts) {
        shapes.push_back(part->shape);
        for (FaceNames::Iterator it(part->names); it.More(); it.Next()) {
            names.Bind(it.Key(), it.Value());
        }
    }
    const auto united = geom::unite(shapes, {}, progress);
    if (!united) {
        answers.report("unite_with", united.finding());
        return;
    }
    output.bodies[id] = name_result(united->shape, united->origins, names);
}

} // namespace

StepOutput Extrude::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto drawn = inputs.sketches.find(sketch.step);
    if (drawn == inputs.sketches.end()) {
        answers.report("sketch",
                       error_finding("profile.no_sketch", "There is no sketch to extrude.", "Choose a sketch."));
        return output;
    }
    const bool united = result.value == "united";
    BodyPtr target;
    if (united) {
        target = unite_with.empty() ? nullptr : answers.body(unite_with.front().body);
        if (target == nullptr || geom::solids_of(target->shape).empty()) {
            answers.report("unite_with", error_finding("extrude.no_body", "There is no solid to unite it with.",
                                                       "Pick a solid body."));
        }
    }
    const auto chosen = chosen_regions(*drawn->second, regions, answers, output);
    const auto swept =
        answers.ok() ? sweep_regions(extent, *drawn->second, chosen, {}, answers, output) : std::vector<SweptRegion>{};
    if (!answers.ok() || swept.empty()) {
        return output;
    }
    std::vector<BodyPtr> parts;
    if (united) {
        parts.push_back(target);
    }
    for (const SweptRegion& region : swept) {
        parts.push_back(name_fresh(inputs.step, region.solid));
    }
    const BodyId id = united ? unite_with.front().body : std::to_string(inputs.step);
    unite_all(parts, id, output, answers, *inputs.progress);
    if (answers.ok()) {
        output.added = geom::volume_of(output.bodies[id]->shape) - (united ? geom::volume_of(target->shape) : 0);
        if (!united) {
            output.births.push_back({id, {}, {}});
        }
    }
    return output;
}

} // namespace kervo::model
