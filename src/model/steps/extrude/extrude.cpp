#include "model/steps/extrude/extrude.h"

#include "geom/kernel/finding_place.h"
#include "geom/outline/thin.h"
#include "model/document/step_of.h"

namespace kervo::model {

std::vector<Profile> Extrude::profiles(Answers& answers, StepOutput& output) const {
    std::vector<Profile> profiles;
    const bool thin = taking.filled.value == "outline";
    const double out = thin ? answers.number("outside", outside, length_dimension) : 0;
    const double in = thin ? answers.number("inside", inside, length_dimension) : 0;
    if (answers.ok() && thin && (out < 0 || in < 0 || out + in < geom::coincidence)) {
        answers.report("inside", error_finding("profile.no_width", "The wall has no width.",
                                               "Give widths of at least zero, one of them more."));
    }
    for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
        Profile profile = profile_of(taken);
        if (!thin) {
            profiles.push_back(std::move(profile));
        } else if (answers.ok()) {
            const auto rings = geom::rings_along(profile.loops, out, in);
            if (!rings) {
                Finding finding = rings.finding();
                geom::add_place(finding, taken.inside());
                answers.report("inside", std::move(finding));
                continue;
            }
            for (size_t i = 0; i < rings->size(); ++i) {
                Profile ring = profile;
                ring.key += i == 0 ? "" : "~" + std::to_string(i);
                ring.loops = (*rings)[i];
                ring.inside = geom::middle_of_ring(ring.loops);
                profiles.push_back(std::move(ring));
            }
        }
    }
    return profiles;
}

std::vector<SweptRegion> Extrude::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                          StepOutput& output) const {
    std::vector<BodyPtr> met = bodies;
    if (!cuts()) {
        met = extent.ends_at_some_body() ? answers.bodies("ends_among", ends_among) : std::vector<BodyPtr>{};
    }
    if (taking.curves()) {
        const auto chains = drawn_chains(sketch, answers);
        return answers.ok()
                   ? sweep_curves(extent, answers.sketch("sketch", sketch)->frame, chains, met, answers, output)
                   : std::vector<SweptRegion>{};
    }
    if (taking.offers_curves(sketch, regions, result, answers)) {
        return {};
    }
    const auto outlines = profiles(answers, output);
    return answers.ok() ? sweep_profiles(extent, outlines, met, answers, output) : std::vector<SweptRegion>{};
}

StepOutput Extrude::evaluate(const StepInputs& inputs) const {
    return carry_out(
        inputs,
        [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
            return cutters(bodies, answers, output);
        },
        &taking);
}

std::vector<StepVerb> Extrude::verbs() {
    return {{"extrude_cut", StepVerb::Group::cut, "Extrude cut", "Cuts chosen bodies with regions of a sketch.", "X",
             "Extrude cut", Extrude::cut, true, "first"},
            {"extrude", StepVerb::Group::join, "Extrude",
             "Sweeps regions of a sketch to a body, or unites them with one.", "E", "Extrude", [] { return Extrude(); },
             true, "out_of_groups"}};
}

template struct StepOf<Extrude>;

} // namespace kervo::model
