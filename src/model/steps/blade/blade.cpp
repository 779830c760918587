#include "model/steps/blade/blade.h"

#include "geom/kernel/finding_place.h"
#include "geom/outline/profile.h"
#include "model/cutting/chosen_regions.h"
#include "model/document/step_of.h"
#include "model/sketching/place_of.h"
#include "model/sketching/sketch_plane.h"

namespace kervo::model {

namespace {

// Wide enough to be seen and picked; what it cuts it cuts endlessly.
constexpr double shown_half = 100;

} // namespace

std::vector<TopoDS_Shape> BladeStep::window(const gp_Ax3& frame, Answers& answers, StepOutput& output) const {
    std::vector<TopoDS_Shape> faces;
    if (bounds.value == "rectangle") {
        const double w = answers.positive("width", width);
        const double h = answers.positive("height", height);
        const double x = answers.number("middle_x", middle_x, length_dimension);
        const double y = answers.number("middle_y", middle_y, length_dimension);
        if (answers.ok()) {
            faces.push_back(geom::rectangle(frame, {x - w / 2, y - h / 2, x + w / 2, y + h / 2}));
            const auto at = [&](double across, double up) { return place_of(in_space(frame, {across, up})); };
            output.dimensions.push_back({"width", at(x, y), at(x + w / 2, y), 2});
            output.dimensions.push_back({"height", at(x, y), at(x, y + h / 2), 2});
            output.dimensions.push_back(
                {"middle_x", at(0, y - h / 2), at(x, y - h / 2), 1, place_of(frame.XDirection())});
            output.dimensions.push_back(
                {"middle_y", at(x - w / 2, 0), at(x - w / 2, y), 1, place_of(frame.YDirection())});
        }
    } else if (bounds.value == "regions") {
        for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
            const Profile profile = profile_of(taken);
            const gp_Dir& normal = profile.frame.Direction();
            if (!normal.IsParallel(frame.Direction(), 1e-9)) {
                answers.report("sketch",
                               error_finding("blade.not_parallel", "This sketch is not parallel to the blade.",
                                             "Draw it on the face or plane that the blade is made from."));
                break;
            }
            const gp_Vec onto = gp_Vec(frame.Direction()) *
                                gp_Vec(profile.frame.Location(), frame.Location()).Dot(gp_Vec(frame.Direction()));
            faces.push_back(geom::make_profile_face(profile.frame.Translated(onto), profile.loops).face);
        }
        if (answers.ok() && faces.empty()) {
            answers.report("regions", error_finding("blade.no_region", "No region bounds the blade.",
                                                    "Click regions of the sketch."));
        }
    }
    return faces;
}

std::optional<geom::Blade> BladeStep::blade(Answers& answers, StepOutput& output) const {
    const auto frame = plane.frame(answers, output);
    const double lost = answers.number("kerf", kerf, length_dimension);
    if (answers.ok() && lost < 0) {
        answers.report("kerf", error_finding("blade.kerf", "A kerf cannot be negative.", "Use zero or more."));
    }
    if (!frame || !answers.ok()) {
        return std::nullopt;
    }
    geom::Blade made{*frame, window(*frame, answers, output)};
    made.front = kerf_lies.value == "front" ? lost : kerf_lies.value == "back" ? 0 : lost / 2;
    made.back = lost - made.front;
    return answers.ok() ? std::optional(std::move(made)) : std::nullopt;
}

std::optional<CutterList> BladeStep::list(const std::vector<BodyPtr>& bodies, Answers& answers,
                                          StepOutput& output) const {
    const auto own = blade(answers, output);
    std::vector<std::pair<std::string, std::shared_ptr<const geom::Blade>>> blades;
    for (const Reference& reference : more) {
        const BodyPtr known = answers.body(reference.body);
        if (!known || !known->blade) {
            answers.report("more", error_finding("blade.not_one", "This is no blade.", "Take it off the list."));
        } else {
            blades.emplace_back(reference.body, known->blade);
        }
    }
    if (!own || !answers.ok()) {
        return std::nullopt;
    }
    CutterList list(bodies, keeps);
    output.blades.push_back(*own);
    check_reach(*own, bodies, "bounds", 0, answers);
    list.add_blade("blade", *own, "");
    for (const auto& [id, other] : blades) {
        output.blades.push_back(*other);
        check_reach(*other, bodies, "more", maker_of(id), answers);
        list.add_blade(id, *other, id);
    }
    return list;
}

std::vector<SweptRegion> BladeStep::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                            StepOutput& output) const {
    auto all = list(bodies, answers, output);
    return all ? std::move(all->cutters) : std::vector<SweptRegion>{};
}

StepOutput BladeStep::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    if (!cuts()) {
        if (auto made = blade(answers, output)) {
            const BodyId id = std::to_string(inputs.step);
            geom::Blade shown = *made;
            if (made->endless()) {
                shown.window = {geom::rectangle(made->frame, {-shown_half, -shown_half, shown_half, shown_half})};
            }
            output.blades.push_back(*made);
            auto body = std::make_shared<Body>(*name_fresh(inputs.step, geom::bounded_sheet(shown)));
            body->blade = std::make_shared<geom::Blade>(std::move(*made));
            output.bodies[id] = std::move(body);
            output.births.push_back({id, {}, {}});
        }
        return output;
    }
    const auto bodies = answers.bodies("workpieces", workpieces);
    auto all = list(bodies, answers, output);
    if (all) {
        CutRules rules;
        rules.sides = std::move(all->sides);
        rules.cutters_field = "plane";
        spared.add({&workpieces, &more}, answers, all->cutters, rules);
        cut_bodies(bodies, all->cutters, verdicts, rules, inputs, output, answers);
    }
    return output;
}

template struct StepOf<BladeStep>;

} // namespace kervo::model
