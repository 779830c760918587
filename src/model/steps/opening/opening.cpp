#include "model/steps/opening/opening.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/sketching/place_of.h"
#include "model/sketching/sketch_plane.h"

#include <array>
#include <cmath>
#include <numbers>

namespace kervo::model {

namespace {

using std::numbers::pi;

struct Rectangle {
    double left = 0, low = 0, right = 0, high = 0;
    [[nodiscard]] double middle() const { return (left + right) / 2; }
    [[nodiscard]] double half_way() const { return (low + high) / 2; }
};

// The face of a wall seen from outside: x to the right, y up, and how far it reaches.
struct WallFace {
    gp_Ax3 frame;
    Rectangle extent;

    /// Of a flat face.
    explicit WallFace(const TopoDS_Shape& face) {
        const gp_Pln plane = geom::plane_of(face).value_or(gp_Pln());
        const gp_Dir& out = plane.Axis().Direction();
        const gp_Vec upright = std::fabs(out.Z()) > 0.9 ? gp_Vec(0, 1, 0) : gp_Vec(0, 0, 1);
        frame = gp_Ax3(plane.Location(), out, gp_Dir(upright.Crossed(gp_Vec(out))));
        gp_Trsf flat;
        flat.SetTransformation(frame);
        const auto box = geom::box_of(face.Moved(TopLoc_Location(flat)));
        extent = {box[0], box[1], box[3], box[4]};
    }
};

geom::OutlinePiece line(const sketch::Point2& from, const sketch::Point2& to, int number, int next,
                        const std::string& name) {
    geom::OutlinePiece piece;
    piece.start = from;
    piece.end = to;
    piece.start_vertex = number;
    piece.end_vertex = next;
    piece.curve = name;
    return piece;
}
geom::OutlinePiece arc(const sketch::Point2& center, double radius, double from, double sweep, int number, int next,
                       const std::string& name) {
    geom::OutlinePiece piece;
    piece.center = center;
    piece.radius = radius;
    piece.from = from;
    piece.sweep = sweep;
    piece.start = {center[0] + radius * std::cos(from), center[1] + radius * std::sin(from)};
    piece.end = {center[0] + radius * std::cos(from + sweep), center[1] + radius * std::sin(from + sweep)};
    piece.start_vertex = number;
    piece.end_vertex = next;
    piece.curve = name;
    return piece;
}

// Its sides are called after the opening's number and what they are.
geom::OutlineLoop outline(const std::string& shape, const Rectangle& r, const std::string& name) {
    if (shape == "round") {
        return {arc({r.middle(), r.half_way()}, (r.right - r.left) / 2, 0, 2 * pi, 1, 1, name + ".wall")};
    }
    const double radius = shape == "arched" ? (r.right - r.left) / 2 : 0;
    const double spring = r.high - radius;
    geom::OutlineLoop loop{line({r.left, r.low}, {r.right, r.low}, 1, 2, name + ".sill"),
                           line({r.right, r.low}, {r.right, spring}, 2, 3, name + ".right")};
    loop.push_back(radius > 0 ? arc({r.middle(), spring}, radius, 0, pi, 3, 4, name + ".head")
                              : line({r.right, spring}, {r.left, spring}, 3, 4, name + ".head"));
    loop.push_back(line({r.left, spring}, {r.left, r.low}, 4, 1, name + ".left"));
    return loop;
}

class Placing {
public:
    Placing(const Opening& step, Answers& answers) : step_(step), answers_(answers) {
        const TopoDS_Shape face = answers.element("wall", step.wall);
        if (!face.IsNull() && !geom::plane_of(face)) {
            answers.report("wall", error_finding("opening.curved", "This face is curved.",
                                                 "Pick a flat face, or cut the opening by a sketch."));
        }
        width_ = answers.positive("width", step.width);
        height_ = step.shape.value == "round" ? width_ : answers.positive("height", step.height);
        across_ = answers.number("across", step.across, length_dimension);
        up_ = answers.number("up", step.up, length_dimension);
        const double wanted = answers.number("count", step.count, plain_number);
        count_ = static_cast<int>(std::lround(wanted));
        spacing_ = count_ > 1 ? answers.number("spacing", step.spacing, length_dimension) : 0;
        if (!answers.ok()) {
            return;
        }
        if (count_ < 1 || count_ > 1000 || std::fabs(wanted - count_) > 1e-9) {
            answers.report("count", error_finding("opening.count", "There cannot be so many of them.",
                                                  "Give a whole number from 1 to 1000."));
        }
        if (count_ > 1 && std::fabs(spacing_) < width_) {
            answers.report("spacing", error_finding("opening.spacing", "They would lie on each other.",
                                                    "Give a spacing that is wider than the opening."));
        }
        if (step.shape.value == "arched" && height_ <= width_ / 2) {
            answers.report("height", error_finding("opening.head", "The round head is higher than the opening.",
                                                   "Give a height of more than half of the width."));
        }
        if (answers.ok()) {
            wall_.emplace(face);
        }
    }

    [[nodiscard]] const WallFace& wall() const { return *wall_; }
    [[nodiscard]] int count() const { return count_; }

    // Where the opening of this index lies, the first being 0.
    [[nodiscard]] Rectangle opening(int index) const {
        const Rectangle& all = wall_->extent;
        const std::string& from = step_.across_from.value;
        const double along = from == "right" ? -1 : 1;
        const double left = from == "left"    ? all.left + across_
                            : from == "right" ? all.right - across_ - width_
                                              : all.middle() + across_ - width_ / 2;
        const std::string& rise = step_.up_from.value;
        const double low = rise == "below"   ? all.low + up_
                           : rise == "above" ? all.high - up_ - height_
                                             : all.half_way() + up_ - height_ / 2;
        const double x = left + along * spacing_ * index;
        return {x, low, x + width_, low + height_};
    }

    // Pulling these on the wall moves the first opening, or its sides.
    [[nodiscard]] std::vector<PlacedDimension> dimensions() const {
        const Rectangle& all = wall_->extent;
        const Rectangle first = opening(0);
        const auto at = [&](double x, double y) {
            const gp_Pnt p = in_space(wall_->frame, {x, y});
            return place_of(p);
        };
        const double y = first.low + (first.high - first.low) / 3;
        const double x = first.left + (first.right - first.left) / 3;
        std::vector<PlacedDimension> placed;
        if (step_.across_from.value == "left") {
            placed.push_back({"across", at(all.left, y), at(first.left, y), 1});
        } else if (step_.across_from.value == "right") {
            placed.push_back({"across", at(all.right, y), at(first.right, y), 1});
        } else {
            placed.push_back({"across", at(all.middle(), y), at(first.middle(), y), 1});
        }
        if (step_.up_from.value == "below") {
            placed.push_back({"up", at(x, all.low), at(x, first.low), 1});
        } else if (step_.up_from.value == "above") {
            placed.push_back({"up", at(x, all.high), at(x, first.high), 1});
        } else {
            placed.push_back({"up", at(x, all.half_way()), at(x, first.half_way()), 1});
        }
        const bool by_right = step_.across_from.value == "right"; // the other side is pulled
        placed.push_back({"width", at(by_right ? first.right : first.left, first.half_way()),
                          at(by_right ? first.left : first.right, first.half_way()), 1});
        if (step_.shape.value != "round") {
            const bool from_above = step_.up_from.value == "above";
            placed.push_back({"height", at(first.middle(), from_above ? first.high : first.low),
                              at(first.middle(), from_above ? first.low : first.high), 1});
        }
        return placed;
    }

    // Where it reaches beyond the wall's borders there is nothing to cut.
    void check_borders() const {
        const Rectangle& all = wall_->extent;
        for (int i = 0; i < count_; ++i) {
            const Rectangle r = opening(i);
            const double beyond =
                std::max({all.left - r.left, r.right - all.right, all.low - r.low, r.high - all.high});
            if (beyond > 1e-6) {
                Finding finding = warning_finding(
                    "opening.beyond", "An opening reaches " + format_quantity(beyond, "mm", 1) + " mm past the wall.",
                    "Make it smaller, or move it.");
                geom::add_place(finding, in_space(wall_->frame, {r.middle(), r.half_way()}));
                answers_.report("across", std::move(finding));
                return;
            }
        }
    }

    // From the document's axes to an opening: its lower left corner on the wall, x along it, y into it, z up.
    [[nodiscard]] gp_Trsf into(int index) const {
        const Rectangle r = opening(index);
        const gp_Dir up = wall_->frame.YDirection();
        gp_Trsf move;
        move.SetDisplacement(gp_Ax3(), gp_Ax3(in_space(wall_->frame, {r.left, r.low}), up, wall_->frame.XDirection()));
        return move;
    }

private:
    const Opening& step_;
    Answers& answers_;
    std::optional<WallFace> wall_;
    double width_ = 0, height_ = 0, across_ = 0, up_ = 0, spacing_ = 0;
    int count_ = 1;
};

std::vector<SweptRegion> sweep_openings(const Opening& step, const Placing& placing, const std::vector<BodyPtr>& bodies,
                                        Answers& answers, StepOutput& output) {
    if (!answers.ok()) {
        return {};
    }
    placing.check_borders();
    std::vector<Profile> profiles;
    for (int i = 0; i < placing.count(); ++i) {
        const std::string name = "o" + std::to_string(i + 1);
        const Rectangle r = placing.opening(i);
        profiles.push_back(
            {name, placing.wall().frame, {outline(step.shape.value, r, name)}, {r.middle(), r.half_way()}, {}});
    }
    Extent extent;
    extent.way.value = "back";
    extent.to.value = step.through.value == "wall" ? "walls" : "distance";
    extent.distance = step.depth;
    auto swept = sweep_profiles(extent, profiles, bodies, answers, output);
    output.dimensions = placing.dimensions();
    return swept;
}

} // namespace

std::vector<SweptRegion> Opening::cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                          StepOutput& output) const {
    return sweep_openings(*this, Placing(*this, answers), bodies, answers, output);
}

StepOutput Opening::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const BodyPtr body = answers.picked_body("wall", wall);
    if (!body) {
        return output;
    }
    const Placing placing(*this, answers);
    auto openings = sweep_openings(*this, placing, {body}, answers, output);
    CutRules rules;
    spared.add({&wall}, answers, openings, rules);
    cut_bodies({body}, openings, verdicts, rules, inputs, output, answers);
    if (!answers.ok() || fittings.empty()) {
        return output;
    }
    answers.bodies("fittings", fittings);
    for (const Reference& reference : answers.ok() ? fittings : References{}) {
        const BodyPtr fitting = answers.body(reference.body);
        for (int i = 0; i < placing.count(); ++i) {
            const std::string name = std::to_string(i + 1);
            const BodyId id = std::to_string(inputs.step) + ":" + reference.body + "@" + name;
            output.bodies[id] = copied(*fitting, placing.into(i));
            output.births.push_back({id, name, {}, reference.body});
            output.added += volume_of(*output.bodies[id]);
        }
    }
    return output;
}

std::vector<StepVerb> Opening::verbs() {
    return {{"opening", StepVerb::Group::cut, "Opening",
             "Cuts doors, windows or hatches into the wall whose face is selected.", "Shift+O", "Opening",
             [] { return Opening(); }, true, "holes"}};
}

template struct StepOf<Opening>;

} // namespace kervo::model
