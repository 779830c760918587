#include "model/steps/repeat/repeat.h"

#include "geom/measure/measure.h"
#include "model/document/step_of.h"

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

std::vector<SweptRegion> Repeat::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                         StepOutput& output) const {
    std::vector<SweptRegion> copies;
    const auto swept = answers.swept("of", of);
    if (!swept) {
        return copies;
    }
    for (const auto& copy : pattern.copies(middle_of(*swept), answers, output)) {
        for (const SweptRegion& region : *swept) {
            auto made = region.copied_through(copy.move, copy.scale, copy.name, bodies);
            if (!made) {
                answers.report("scale", made.finding());
                return {};
            }
            copies.push_back(std::move(*made));
        }
    }
    output.facts["copies"] = std::to_string(copies.size() / swept->size());
    return copies;
}

StepOutput Repeat::evaluate(const StepInputs& inputs) const {
    StepOutput output = carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& made) {
        return cutters(bodies, answers, made);
    });
    // Who repeats this again means the whole chain, what was repeated included.
    if (const auto first = inputs.sweeps.find(of.step); output.swept && first != inputs.sweeps.end()) {
        SweptRegions chain = *first->second;
        chain.insert(chain.end(), output.swept->begin(), output.swept->end());
        output.swept = std::make_shared<SweptRegions>(std::move(chain));
    }
    return output;
}

template struct StepOf<Repeat>;

} // namespace kervo::model
