#include "model/steps/trim/trim.h"

#include "model/document/step_of.h"

namespace kervo::model {

CutterList Trim::list(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const {
    CutterList list(bodies, Choice{stays.value == "all" ? "both" : stays.value});
    const bool mutual = by.value == "each_other";
    for (const Reference& reference : cutter_bodies) {
        if (names_body(workpieces, reference.body)) {
            answers.report("cutters",
                           error_finding("cut.itself", "A body cannot trim itself.", "Take it off one of the lists."));
        }
    }
    if (!cutter_bodies.empty() || (!mutual && points.empty())) {
        list.add_chosen(cutter_bodies, answers, output);
    }
    if (!points.empty()) {
        const auto chosen = answers.elements("points", points);
        for (size_t i = 0; i < chosen.size(); ++i) {
            list.cutters.emplace_back("point/" + std::to_string(i + 1), geom::ShapeWithRoles{chosen[i].element, {}});
            list.sides[list.cutters.back().key] = {Verdict::stays, Verdict::stays};
        }
    }
    for (size_t i = 0; mutual && i < workpieces.size(); ++i) {
        const size_t before = list.cutters.size();
        if (const BodyPtr body = answers.body(workpieces[i].body)) {
            list.add(workpieces[i].body, *body);
        }
        for (size_t k = before; k < list.cutters.size(); ++k) {
            list.sides[list.cutters[k].key] = {Verdict::stays, Verdict::stays};
        }
    }
    if (stays.value == "all") {
        for (const SweptRegion& cutter : list.cutters) {
            list.sides[cutter.key] = {Verdict::stays, Verdict::stays};
        }
    }
    reach.apply(list.cutters, bodies, "cutters", answers);
    return list;
}

std::vector<SweptRegion> Trim::cutters(const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) const {
    CutterList all = list(bodies, answers, output);
    return answers.ok() ? std::move(all.cutters) : std::vector<SweptRegion>{};
}

StepOutput Trim::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    if (answers.ok() && by.value == "each_other" && bodies.size() + cutter_bodies.size() < 2) {
        answers.report("workpieces", error_finding("trim.alone", "There is nothing to trim it by.",
                                                   "Tick another surface, or choose a cutter."));
    }
    CutterList all = list(bodies, answers, output);
    if (!answers.ok()) {
        return output;
    }
    CutRules rules(stays.value == "back" && all.has_solids() ? Keeps::inside : Keeps::outside);
    rules.sides = std::move(all.sides);
    rules.grow_together = seams.value == "cleaned";
    rules.cutters_field = "cutters";
    rules.trims = true;
    rules.can_go_on = true;
    rules.by_each_other = by.value == "each_other";
    cut_bodies(bodies, all.cutters, verdicts, rules, inputs, output, answers);
    if (answers.ok() && cutters_are.value == "used_up") {
        use_up(cutter_bodies, answers, output);
    }
    return output;
}

std::vector<StepVerb> Trim::verbs() {
    return {{"trim_surfaces", StepVerb::Group::cut, "Trim surfaces",
             "Divides surfaces and curves by others, or all by each other; click away the pieces that go.", "",
             "Trimmed", [] { return Trim(); }, true, "body_cut"}};
}

template struct StepOf<Trim>;

} // namespace kervo::model
