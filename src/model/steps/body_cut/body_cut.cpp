#include "model/steps/body_cut/body_cut.h"

#include "geom/measure/measure.h"
#include "model/document/step_of.h"

#include <algorithm>

namespace kervo::model {

CutterList BodyCut::list(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const {
    CutterList list(bodies, blades_keep);
    list.add_chosen(cutter_bodies, answers, output);
    reach.apply(list.cutters, bodies, "cutters", answers);
    return list;
}

std::vector<SweptRegion> BodyCut::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                          StepOutput& output) const {
    std::vector<BodyPtr> others; // the list of bodies that are met asks about the cutters too
    std::copy_if(bodies.begin(), bodies.end(), std::back_inserter(others), [&](const BodyPtr& body) {
        return std::none_of(cutter_bodies.begin(), cutter_bodies.end(),
                            [&](const Reference& each) { return answers.body(each.body) == body; });
    });
    CutterList all = list(others, answers, output);
    return answers.ok() ? std::move(all.cutters) : std::vector<SweptRegion>{};
}

StepOutput BodyCut::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    for (const Reference& cutter : cutter_bodies) {
        if (names_body(workpieces, cutter.body)) {
            answers.report("cutters",
                           error_finding("cut.itself", "A body cannot cut itself.", "Take it off one of the lists."));
        }
    }
    CutterList all = list(bodies, answers, output);
    if (!answers.ok()) {
        return output;
    }
    CutRules rules(keeps.value == "inside" && all.has_solids() ? Keeps::inside : Keeps::outside);
    rules.sides = std::move(all.sides);
    if (keeps.value == "all") {
        rules.all_become = Verdict::apart;
    }
    rules.grow_together = pieces.value == "united";
    if (short_ends.value == "told") {
        rules.short_is_meant = {"It is meant to end there", {{"short_ends", "meant"}}};
    }
    rules.cutters_field = "cutters";
    spared.add({&workpieces, &cutter_bodies}, answers, all.cutters, rules);
    cut_bodies(bodies, all.cutters, verdicts, rules, inputs, output, answers);
    if (answers.ok() && cutters_are.value == "used_up") {
        use_up(cutter_bodies, answers, output);
    }
    return output;
}

std::vector<StepVerb> BodyCut::verbs() {
    return {{"body_cut", StepVerb::Group::cut, "Body cut", "Cuts bodies with other bodies, surfaces and blades.",
             "Shift+X", "Body cut", [] { return BodyCut(); }, true, "blade_from_view"}};
}

template struct StepOf<BodyCut>;

} // namespace kervo::model
