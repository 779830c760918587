#include "model/steps/curves/curves.h"

#include "geom/profile.h"
#include "sketch/figures.h"

#include <algorithm>
#include <iterator>

namespace kervo::model {

StepOutput Curves::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto drawn = answers.sketch("sketch", sketch);
    if (!drawn) {
        return output;
    }
    const sketch::Sketch& solved = drawn->solution.sketch;
    std::vector<sketch::Stretch> wanted = sketch::stretches_of(solved, true);
    std::erase_if(wanted, [&](const sketch::Stretch& stretch) {
        const auto* curve = solved.curve(stretch.curve);
        const bool guide = curve != nullptr && curve->construction;
        return which.value != "all" && guide != (which.value == "guides");
    });
    if (which.value != "guides") {
        for (const auto& outline : sketch::figure_outlines(solved)) {
            std::copy_if(outline.stretches.begin(), outline.stretches.end(), std::back_inserter(wanted),
                         [](const auto& stretch) { return stretch.length() > sketch::joining_tolerance; });
        }
    }
    if (wanted.empty()) {
        answers.report("which", error_finding("curves.none", "The sketch draws no such curves.",
                                              "Draw some, or choose which are wanted."));
        return output;
    }
    const BodyId id = std::to_string(inputs.step);
    output.bodies[id] = name_fresh(inputs.step, geom::make_curves(drawn->frame, sketch::pieces_of(wanted)));
    output.births.push_back({id, {}, {}});
    return output;
}

} // namespace kervo::model
