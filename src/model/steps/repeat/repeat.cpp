#include "model/steps/repeat/repeat.h"

#include "geom/measure.h"

namespace kervo::model {

namespace {

// The middle of the box around what is repeated.
gp_Pnt middle_of(const SweptRegions& swept) {
    std::vector<TopoDS_Shape> solids;
    for (const SweptRegion& region : swept) {
        solids.push_back(region.solid().shape);
    }
    const auto box = geom::box_of(geom::gather(solids));
    return {(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2};
}

} // namespace

std::vector<SweptRegion> Repeat::cutters(const std::vector<BodyPtr>& /*bodies*/, Answers& answers,
                                         StepOutput& output) const {
    std::vector<SweptRegion> copies;
    const auto swept = answers.swept("of", of);
    if (!swept) {
        return copies;
    }
    for (const auto& copy : pattern.copies(middle_of(*swept), answers, output)) {
        for (const SweptRegion& region : *swept) {
            copies.push_back(region.copied(copy.move, copy.scale, copy.name));
        }
    }
    output.facts["copies"] = std::to_string(copies.size() / swept->size());
    return copies;
}

StepOutput Repeat::evaluate(const StepInputs& inputs) const {
    return carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
        return cutters(bodies, answers, output);
    });
}

} // namespace kervo::model
