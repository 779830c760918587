#include "model/steps/neighbour/neighbour.h"

#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/names/shifted_surface.h"

namespace kervo::model {

CutterList TrimByNeighbour::list(const std::vector<BodyPtr>& bodies, Answers& answers) const {
    CutterList list(bodies, Choice{stays.value == "all" ? "both" : stays.value});
    std::vector<TopoDS_Shape> chosen;
    FaceNames names;
    for (const auto& [body, face, own] : answers.elements("faces", faces)) {
        if (names_body(workpieces, body)) {
            answers.report("faces", error_finding("cut.itself", "A body cannot trim itself.",
                                                  "Pick faces of another, or take it off the list."));
        }
        names.add(answers.body(body)->names);
        chosen.push_back(face);
    }
    const double apart = answers.number("gap", gap, length_dimension);
    if (answers.ok() && apart < 0) {
        answers.report("gap", error_finding("neighbour.gap", "A gap is not less than zero.", "Give 0, or more."));
    }
    if (answers.ok() && apart > 0 && stays.value == "all") {
        answers.report("stays", error_finding("neighbour.both_sides", "With a gap, only one side can stay.",
                                              "Choose which one, or give no gap."));
    }
    if (!answers.ok()) {
        return list;
    }
    BodyPtr surface = body_of_faces(chosen, names);
    if (apart > 0) {
        auto shifted = shifted_surface(*surface, stays.value == "back" ? -apart : apart, answers.progress());
        if (!shifted) {
            answers.report("gap", shifted.finding());
            return list;
        }
        surface = *shifted;
    }
    constexpr const char* key = "outside";
    list.add(key, *surface);
    if (stays.value == "all") {
        list.sides[key] = {Verdict::stays, Verdict::stays};
    }
    reach.apply(list.cutters, bodies, "faces", answers);
    return list;
}

std::vector<SweptRegion> TrimByNeighbour::cutters(const std::vector<BodyPtr>& /*bodies*/, Answers& answers,
                                                  StepOutput& /*output*/) const {
    std::vector<BodyPtr> own; // it goes on for those that it trims alone
    for (const Reference& workpiece : workpieces) {
        if (const BodyPtr body = answers.body(workpiece.body)) {
            own.push_back(body);
        }
    }
    CutterList all = list(own, answers);
    return answers.ok() ? std::move(all.cutters) : std::vector<SweptRegion>{};
}

StepOutput TrimByNeighbour::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    CutterList all = list(bodies, answers);
    if (!answers.ok()) {
        return output;
    }
    CutRules rules;
    rules.sides = std::move(all.sides);
    rules.cutters_field = "faces";
    rules.trims = true;
    cut_bodies(bodies, all.cutters, verdicts, rules, inputs, output, answers);
    return output;
}

std::vector<StepVerb> TrimByNeighbour::verbs() {
    return {{"trim_by_neighbour", StepVerb::Group::cut, "Trim by a neighbour",
             "Ends bodies at the selected faces of another, or those clicked next; with a gap if wanted.", "",
             "Trimmed", [] { return TrimByNeighbour(); }, true, "trim_surfaces"}};
}

template struct StepOf<TrimByNeighbour>;

} // namespace kervo::model
