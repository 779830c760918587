#include "model/steps/holes/holes.h"

#include "model/cutting/pattern.h"
#include "model/document/step_of.h"
#include "model/sketching/sketch_plane.h"

#include <cmath>
#include <numbers>

namespace kervo::model {

namespace {

// ISO 261, first choice, coarse pitch.
struct Thread {
    const char* name;
    double size, pitch; // mm
};
constexpr Thread threads[] = {{"M2", 2, 0.4},    {"M2.5", 2.5, 0.45}, {"M3", 3, 0.5},   {"M4", 4, 0.7},
                              {"M5", 5, 0.8},    {"M6", 6, 1},        {"M8", 8, 1.25},  {"M10", 10, 1.5},
                              {"M12", 12, 1.75}, {"M16", 16, 2},      {"M20", 20, 2.5}, {"M24", 24, 3},
                              {"M30", 30, 3.5},  {"M36", 36, 4}};

const Thread* thread_called(const std::string& name) {
    for (const Thread& thread : threads) {
        if (name == thread.name) {
            return &thread;
        }
    }
    return nullptr;
}

std::string pitch_text(const Thread& thread) {
    return std::string(thread.name) + " x " + format_quantity(thread.pitch, "mm");
}

// A hole in its own measures: radii over the depth from the plane of the sketch, with what each wall is called.
struct Profile {
    struct Corner {
        double radius, depth;
        const char* wall; ///< from here to the next corner
    };
    std::vector<Corner> corners;
    double bore = 0; ///< its radius
    [[nodiscard]] bool plain() const { return corners.size() == 4; }
    /// As deep, and so many times as wide.
    [[nodiscard]] Profile wider(double scale) const {
        Profile other = *this;
        other.bore *= scale;
        for (Corner& corner : other.corners) {
            corner.radius *= scale;
        }
        return other;
    }
    /// So deep instead.
    [[nodiscard]] Profile reaching(double depth) const {
        Profile other = *this;
        for (Corner& corner : other.corners) {
            corner.depth = corner.depth == corners.back().depth ? depth : corner.depth;
        }
        return other;
    }
};

class Drilling {
public:
    Drilling(const Holes& step, Answers& answers) : step_(step), answers_(answers) {}

    /// `reach`: how deep a hole must go to be through.
    std::optional<Profile> profile(double reach) const {
        Profile made;
        const Thread* thread = thread_called(step_.thread.value);
        made.bore =
            (thread != nullptr ? thread->size - thread->pitch : answers_.positive("diameter", step_.diameter)) / 2;
        const bool through = step_.to.value == "through";
        const double end = through ? reach : answers_.positive("depth", step_.depth);
        auto& corners = made.corners;
        corners.push_back({0, 0, ".start"});
        double head = 0;
        if (step_.shape.value == "counterbored") {
            head = answers_.positive("head_depth", step_.head_depth);
            const double radius = answers_.positive("head_diameter", step_.head_diameter) / 2;
            wider("head_diameter", radius, made.bore);
            corners.push_back({radius, 0, ".head"});
            corners.push_back({radius, head, ".shoulder"});
            corners.push_back({made.bore, head, ""});
        } else if (step_.shape.value == "countersunk") {
            const double radius = answers_.positive("sink_diameter", step_.sink_diameter) / 2;
            wider("sink_diameter", radius, made.bore);
            head = (radius - made.bore) / std::tan(half_angle("sink_angle", step_.sink_angle));
            corners.push_back({radius, 0, ".sink"});
            corners.push_back({made.bore, head, ""});
        } else {
            corners.push_back({made.bore, 0, ""});
        }
        if (answers_.ok() && end <= head) {
            answers_.report(through ? "shape" : "depth",
                            error_finding("holes.shallow", "The hole ends before its wide beginning does.",
                                          through ? "Choose a lower beginning." : "Drill deeper."));
        }
        corners.push_back({made.bore, end, through || step_.bottom.value == "flat" ? ".bottom" : ".tip"});
        const bool pointed = !through && step_.bottom.value == "pointed";
        corners.push_back(
            {0, pointed ? end + made.bore / std::tan(half_angle("tip_angle", step_.tip_angle)) : end, ".axis"});
        return answers_.ok() ? std::optional(made) : std::nullopt;
    }

private:
    void wider(const char* field, double radius, double bore) const {
        if (answers_.ok() && radius <= bore) {
            answers_.report(field, error_finding("holes.narrow", "It is no wider than the hole itself.",
                                                 "Give a larger diameter."));
        }
    }
    double half_angle(const char* field, const Expression& expression) const {
        const double angle = answers_.number(field, expression, angle_dimension);
        if (answers_.ok() && (angle < 0.02 || angle > std::numbers::pi - 0.02)) {
            answers_.report(field, error_finding("holes.angle", "No drill has this angle.",
                                                 "Give an angle between 1 and 179 deg."));
        }
        return answers_.ok() ? angle / 2 : 1;
    }

    const Holes& step_;
    Answers& answers_;
};

// All round the point, with one wall for each stretch of the profile.
geom::ShapeWithRoles turned(const gp_Ax3& frame, const gp_Pnt& place, const gp_Vec& into, const Profile& profile,
                            const std::string& name) {
    const gp_Ax3 upright(place, gp_Dir(gp_Vec(frame.XDirection()).Crossed(into)), frame.XDirection());
    geom::OutlineLoop loop;
    const auto& corners = profile.corners;
    for (size_t i = 0; i < corners.size(); ++i) {
        const auto& next = corners[(i + 1) % corners.size()];
        geom::OutlinePiece piece;
        piece.start = {corners[i].radius, corners[i].depth};
        piece.end = {next.radius, next.depth};
        piece.start_vertex = static_cast<int>(i) + 1;
        piece.end_vertex = static_cast<int>((i + 1) % corners.size()) + 1;
        piece.curve = name + corners[i].wall;
        loop.push_back(piece);
    }
    return geom::make_revolution(geom::make_profile_face(upright, {loop}), gp_Ax1(place, gp_Dir(into)), 0,
                                 2 * std::numbers::pi);
}

geom::StraightCutter straight(const gp_Ax3& frame, const sketch::Point2& place, double radius, double depth, bool back,
                              const std::string& name) {
    geom::OutlinePiece circle;
    circle.center = place;
    circle.radius = radius;
    circle.sweep = 2 * std::numbers::pi;
    circle.start = circle.end = {place[0] + radius, place[1]};
    circle.start_vertex = circle.end_vertex = 1;
    circle.curve = name;
    const geom::Level start{0, 0, 0};
    const geom::Level end{back ? -depth : depth, 0, 0};
    return {frame, {{circle}}, back ? end : start, back ? start : end};
}

// How a hole is made, in another width or depth.
struct Making {
    std::function<SweptRegion(double scale, double depth)> make;
    gp_Ax3 frame;
    bool back = false;
    bool through = false; ///< it passes through everything
};

SweptRegion made(const Making& how, double scale, double depth) {
    SweptRegion hole = how.make(scale, depth);
    hole.with_profile = [how, scale, depth](double more) -> Result<SweptRegion> {
        return made(how, scale * more, depth);
    };
    if (how.through) {
        hole.beyond = [how, scale, depth](const gp_Trsf& move,
                                          const std::vector<BodyPtr>& bodies) -> Result<std::optional<SweptRegion>> {
            const auto [low, high] = heights_over(how.frame, bodies, move.Inverted());
            const double needed = how.back ? -low : high;
            return needed > depth ? std::optional(made(how, scale, needed)) : std::nullopt;
        };
    }
    return hole;
}

} // namespace

std::vector<FieldOption> Holes::thread_options() {
    std::vector<FieldOption> options{{"none", "None"}};
    for (const Thread& thread : threads) {
        options.push_back({thread.name, pitch_text(thread)});
    }
    return options;
}

std::vector<SweptRegion> Holes::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                        StepOutput& output) const {
    std::vector<SweptRegion> holes;
    const auto drawn = answers.sketch("sketch", sketch);
    if (!drawn) {
        return holes;
    }
    const gp_Ax3& frame = drawn->frame;
    const bool back = way.value == "back";
    const auto reach = [back](const std::pair<double, double>& heights) {
        return back ? -heights.first : heights.second;
    };
    const gp_Vec into = gp_Vec(frame.Direction()) * (back ? -1 : 1);
    const auto points = points_of(drawn->solution.sketch, at.value != "centers", at.value != "points");
    if (answers.ok() && points.empty()) {
        answers.report(
            "at", error_finding("holes.no_points", "The sketch has no such points.", "Draw points, or choose others."));
    }
    if (answers.ok() && !bodies.empty() && reach(heights_of(frame, bodies)) <= 1e-6) {
        Finding behind = error_finding("holes.behind", "There is no body that way.", "Turn it round.");
        behind.offers = {{"Turn it round", {{"way", back ? "ahead" : "back"}}}};
        answers.report("way", std::move(behind));
    }
    const auto profile = Drilling(*this, answers).profile(reach(heights_over(frame, bodies)));
    if (!profile || !answers.ok()) {
        return holes;
    }
    for (const sketch::Point* point : points) {
        const std::string name = "p" + std::to_string(point->id);
        const sketch::Point2 place{point->x, point->y};
        Making how{{}, frame, back, to.value == "through"};
        const bool pointed = profile->corners[profile->corners.size() - 2].depth < profile->corners.back().depth;
        if (profile->plain() && !pointed) {
            how.make = [=, bore = profile->bore](double scale, double end) {
                return SweptRegion(name, straight(frame, place, bore * scale, end, back, name), back);
            };
        } else {
            how.make = [=, profile = *profile](double scale, double end) {
                const auto own = profile.wider(scale).reaching(end);
                return SweptRegion(name, turned(frame, in_space(frame, place), into, own, name));
            };
        }
        holes.push_back(made(how, 1, profile->corners.back().depth));
    }
    output.facts["holes"] = std::to_string(holes.size());
    if (const Thread* size = thread_called(thread.value)) {
        output.facts["thread"] = pitch_text(*size);
    }
    return holes;
}

StepOutput Holes::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto bodies = answers.bodies("workpieces", workpieces);
    auto all = cutters(bodies, answers, output);
    CutRules rules;
    spared.add({&workpieces}, answers, all, rules);
    cut_bodies(bodies, all, verdicts, rules, inputs, output, answers);
    return output;
}

std::vector<StepVerb> Holes::verbs() {
    return {{"holes", StepVerb::Group::cut, "Holes",
             "Drills, counterbores, countersinks or taps at points of a sketch.", "Shift+H", "Holes",
             [] { return Holes(); }, true, "body_cut"}};
}

template struct StepOf<Holes>;

} // namespace kervo::model
