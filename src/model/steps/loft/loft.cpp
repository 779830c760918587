#include "model/steps/loft/loft.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/loft.h"
#include "model/document/step_of.h"

namespace kervo::model {

std::vector<SweptRegion> Loft::cutters(const std::vector<BodyPtr>& /*bodies*/, Answers& answers,
                                       StepOutput& output) const {
    std::vector<SweptRegion> spanned;
    std::vector<geom::LoftSection> sections;
    std::string key;
    for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
        Profile profile = profile_of(taken);
        if (profile.loops.size() != 1) {
            Finding finding = error_finding("loft.holes", "This region has holes; a skin runs round outlines alone.",
                                            "Choose regions without holes; cut the hole by a step of its own.");
            geom::add_place(finding, taken.inside());
            answers.report("regions", std::move(finding));
        }
        key += (key.empty() ? "" : "~") + profile.key;
        sections.push_back({profile.frame, std::move(profile.loops.front())});
    }
    geom::Lofting lofting;
    lofting.straight = skin.value == "straight";
    const auto firmness = [&](const Choice& end, const char* field, const Expression& value) {
        const bool asked = !lofting.straight && end.value == "square";
        return asked ? answers.firmness(field, value) : 0;
    };
    lofting.leaves = firmness(leaves, "leave_firmly", leave_firmly);
    lofting.arrives = firmness(arrives, "arrive_firmly", arrive_firmly);
    if (!answers.ok()) {
        return spanned;
    }
    auto solid = geom::loft_through(sections, lofting);
    if (!solid) {
        answers.report("regions", solid.finding());
        return spanned;
    }
    spanned.emplace_back(key, std::move(*solid));
    return spanned;
}

StepOutput Loft::evaluate(const StepInputs& inputs) const {
    return carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
        return cutters(bodies, answers, output);
    });
}

std::vector<StepVerb> Loft::verbs() {
    return {{"loft_cut", StepVerb::Group::cut, "Cut between outlines",
             "Cuts with what spans from one region to the next.", "", "Cut between outlines", Loft::cut, true,
             "along_path_cut"},
            {"loft", StepVerb::Group::join, "Between outlines", "Spans a body from one region to the next.", "",
             "Between outlines", [] { return Loft(); }, true, "along_path"}};
}

template struct StepOf<Loft>;

} // namespace kervo::model
