#include "model/cutting/purpose.h"

#include "model/sketching/drawn_curves.h"

#include <algorithm>

namespace kervo::model {

namespace {

// Curves alone make no solid, and nothing is common with what they sweep.
void check_result(const std::string& result, const std::vector<SweptRegion>& swept, Answers& answers) {
    if (result != "cut" && result != "surface" &&
        std::any_of(swept.begin(), swept.end(), [](const SweptRegion& each) { return each.is_surface(); })) {
        Finding finding = error_finding("surface.no_solid", "What curves sweep encloses nothing, so it is no solid.",
                                        "Make it a surface, or cut with it.");
        finding.offers = {{"Make it a surface", {{"result", "surface"}}}, {"Cut with it", {{"result", "cut"}}}};
        answers.report("result", std::move(finding));
    }
}

} // namespace

bool Taking::offers_curves(const SketchLink& sketch, const RegionReferences& regions, const Choice& result,
                           Answers& answers) const {
    const auto drawn = regions.empty() ? answers.sketch("sketch", sketch) : nullptr;
    if (!drawn || !drawn->regions.empty() || drawn_pieces(*drawn, "outlines").empty()) {
        return false;
    }
    Finding finding = error_finding("surface.encloses_nothing", "The curves of this sketch enclose nothing.",
                                    "Close them, or take the curves themselves: they make a surface, or cut as one.");
    std::map<std::string, std::string> takes{{"filled", "curves"}};
    if (result.value != "cut") {
        takes["result"] = "surface";
    }
    finding.offers = {{result.value == "cut" ? "Cut with the curves" : "Make a surface of the curves", takes}};
    answers.report("regions", std::move(finding));
    return true;
}

StepOutput Purpose::carry_out(const StepInputs& inputs, const Sweep& sweep, const Taking* taking) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = cuts() ? answers.bodies("workpieces", workpieces) : std::vector<BodyPtr>{};
    auto swept = sweep(bodies, answers, output);
    check_result(result.value, swept, answers);
    if (cuts()) {
        CutRules rules(result.value == "cut" ? Keeps::outside : Keeps::inside);
        for (const SweptRegion& each : swept) {
            if (each.is_surface()) { // copies of one leave both sides
                rules.sides[each.key] = sides_kept(taking != nullptr ? taking->surfaces_leave : Choice{"both"});
            }
        }
        if (taking != nullptr) {
            taking->reach.apply(swept, bodies, "sketch", answers);
        }
        spared.add({&workpieces}, answers, swept, rules);
        cut_bodies(bodies, swept, verdicts, rules, inputs, output, answers);
    } else if (result.value == "surface") {
        add_surface(swept, inputs, output, answers);
    } else {
        add_bodies(swept, result.value == "united" ? &unite_with : nullptr, inputs, output, answers);
    }
    return output;
}

} // namespace kervo::model
