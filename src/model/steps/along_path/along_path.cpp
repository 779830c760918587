#include "model/steps/along_path/along_path.h"

#include "geom/kernel/copy.h"
#include "geom/make/along_path.h"
#include "model/document/step_of.h"

#include <TopoDS.hxx>

#include <cmath>

namespace kervo::model {

namespace {

// The edges of the path, each with a name that lasts.
std::vector<geom::Path::Part> path_parts(const AlongPath& step, Answers& answers) {
    std::vector<geom::Path::Part> parts;
    if (step.path.value == "edges") {
        for (const auto& [body, edge, own] : answers.elements("path_edges", step.path_edges)) {
            parts.push_back({TopoDS::Edge(edge), std::to_string(parts.size() + 1)});
        }
        return parts;
    }
    if (const auto drawn = answers.sketch("path_sketch", step.path_sketch)) {
        const auto pieces = sketch::pieces_of(sketch::stretches_of(drawn->solution.sketch));
        for (const geom::FaceRole& role : geom::make_curves(drawn->frame, pieces).roles) {
            parts.push_back({TopoDS::Edge(role.face), role.role.substr(std::string("curve/c").size())});
        }
        if (parts.empty()) {
            answers.report("path_sketch", error_finding("path.empty", "This sketch draws no curves to go along.",
                                                        "Draw the path, or choose another sketch."));
        }
    }
    return parts;
}

// The frame at the start of the path, square to it, its x as near to the sketch's own as it can be.
gp_Ax3 square_to_start(const geom::Path& path, const gp_Ax3& frame) {
    const gp_Vec heading = path.parts.front().heading(true);
    const gp_Dir guide =
        std::fabs(heading.Dot(gp_Vec(frame.XDirection()))) > 0.9 ? frame.Direction() : frame.XDirection();
    return {path.parts.front().start(), gp_Dir(heading), guide};
}

} // namespace

std::vector<SweptRegion> AlongPath::cutters(const std::vector<BodyPtr>& /*bodies*/, Answers& answers,
                                            StepOutput& output) const {
    std::vector<SweptRegion> swept;
    const auto chosen = chosen_regions(sketch, regions, answers, output);
    const auto parts = path_parts(*this, answers);
    geom::Carrying carrying;
    carrying.turning = carried.value == "turning";
    carrying.twist = carrying.turning ? answers.number("twist", twist, angle_dimension) : 0;
    const char* path_field = path.value == "edges" ? "path_edges" : "path_sketch";
    for (const TakenRegion& taken : chosen) {
        if (!answers.ok()) {
            break;
        }
        Profile profile = profile_of(taken);
        const auto way = geom::path_of(parts, taken.inside());
        if (!way) {
            answers.report(path_field, way.finding());
            break;
        }
        if (placed.value == "start") {
            profile.frame = square_to_start(*way, profile.frame);
        }
        const auto make = [profile, carrying, way = *way](double scale) -> Result<SweptRegion> {
            const auto loops =
                scale == 1 ? profile.loops : geom::scaled(profile.loops, scale, geom::middle_of(profile.loops));
            Progress progress;
            auto solid = geom::sweep_along(profile.frame, loops, way, carrying, progress);
            return solid ? Result<SweptRegion>(SweptRegion(profile.key, std::move(*solid))) : solid.finding();
        };
        auto made = make(1);
        if (!made) {
            answers.report(path_field, made.finding());
            break;
        }
        made->with_profile = make;
        swept.push_back(std::move(*made));
    }
    return swept;
}

StepOutput AlongPath::evaluate(const StepInputs& inputs) const {
    return carry_out(inputs, [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
        return cutters(bodies, answers, output);
    });
}

std::vector<StepVerb> AlongPath::verbs() {
    return {{"along_path_cut", StepVerb::Group::cut, "Cut along a path",
             "Cuts with regions carried along edges or curves: grooves.", "", "Groove", AlongPath::cut, true,
             "revolve_cut"},
            {"along_path", StepVerb::Group::join, "Along a path",
             "Carries regions of a sketch along edges or curves to a body.", "", "Along a path",
             [] { return AlongPath(); }, true, "revolve"}};
}

template struct StepOf<AlongPath>;

} // namespace kervo::model
