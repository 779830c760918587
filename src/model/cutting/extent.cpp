#include "model/cutting/extent.h"

#include "geom/cut/unite.h"
#include "geom/kernel/copy.h"
#include "geom/measure/measure.h"
#include "geom/surface/swept_curves.h"
#include "model/cutting/passed_walls.h"
#include "model/cutting/passing.h"
#include "model/sketching/place_of.h"
#include "model/sketching/sketch_plane.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kervo::model {

namespace {

bool same_frame(const gp_Ax3& one, const gp_Ax3& other) {
    return one.Location().IsEqual(other.Location(), 0) && one.Direction().IsEqual(other.Direction(), 0) &&
           one.XDirection().IsEqual(other.XDirection(), 0);
}

class Sweep {
public:
    Sweep(const Extent& extent, const gp_Ax3& frame, const std::vector<BodyPtr>& bodies, Answers& answers)
        : extent_(extent), frame_(frame), answers_(answers), bodies_(bodies), rise_(direction()) {
        if (!answers.ok()) {
            return;
        }
        from_offset_ =
            extent.from.value == "plane" ? 0 : answers.number("from_offset", extent.from_offset, length_dimension);
        if (extent.from.value == "face") {
            from_plane_ = flat_face("from_face", extent.from_face, from_offset_);
        }
        const std::string& to = extent.to.value;
        if (to == "face" || to == "vertex" || to == "next_face" || to == "body") {
            to_offset_ = answers.number("to_offset", extent.to_offset, length_dimension);
        }
        if (square()) {
            taper_ = taper("taper", extent.taper);
            if (to == "symmetric" || to == "two_distances" || to == "everything_both") {
                back_taper_ = taper("back_taper", extent.back_taper);
            }
        }
        if (to == "face") {
            end_at_face();
        } else if (to == "body") {
            if (const BodyPtr body = answers.picked_body("to_body", extent.to_body)) {
                end_in(body->shape, body);
            }
        } else if (to == "vertex") {
            const TopoDS_Shape vertex = answers.element("to_vertex", extent.to_vertex);
            to_height_ = vertex.IsNull() ? 0 : height_of(geom::center_of(vertex)) + to_offset_;
        } else if (to == "distance" || to == "symmetric" || to == "two_distances") {
            common_distance_ = answers.positive("distance", extent.distance) / slope();
            back_distance_ =
                to == "two_distances" ? answers.positive("back_distance", extent.back_distance) / slope() : 0;
        } else if (to == "walls") {
            const double walls = answers.number("walls", extent.walls, plain_number);
            walls_ = static_cast<int>(std::lround(walls));
            if (answers.ok() && (walls_ < 1 || std::fabs(walls - walls_) > 1e-9)) {
                answers.report("walls", error_finding("extent.walls", "It must pass a whole number of walls.",
                                                      "Type 1 for this wall only."));
            }
        }
        const auto [lowest, highest] = heights_over(frame, bodies);
        lowest_ = std::min(lowest_, lowest);
        highest_ = std::max(highest_, highest);
    }

    std::optional<SweptRegion> solid_over(const Profile& region) {
        const auto ends = ends_of(region);
        if (!ends) {
            return std::nullopt;
        }
        const auto& [from, start, end] = *ends;
        std::vector<Passing> passings;
        if (back_taper_ != 0 || (taper_ != 0 && start.height != from)) {
            passings = {passing(region.key, {from, {}}, end, taper_),
                        passing(region.key, {from, {}}, start, back_taper_)};
        } else {
            passings = {passing(region.key, start, end, taper_)};
        }
        const bool both = extent_.to.value == "everything_both";
        return told(through(passings, region, {both, both || extent_.to.value == "everything"}));
    }

    std::optional<SweptRegion> surface_over(const CurveChain& chain) {
        const std::string& to = extent_.to.value;
        const auto refuse = [&](const char* field) {
            answers_.report(field, error_finding("extent.curves_end",
                                                 "Curves are swept to a distance, a vertex, a face square to their "
                                                 "way, or beyond everything, with sides that do not taper.",
                                                 "Choose one of these ends."));
            return std::nullopt;
        };
        if (taper_ != 0 || back_taper_ != 0) {
            return refuse("taper");
        }
        if (to == "next_face" || to == "walls" || !end_shape_.IsNull()) {
            return refuse("to");
        }
        Profile line;
        line.inside = chain.pieces.front().start;
        const auto ends = answers_.ok() ? ends_of(line) : std::nullopt;
        if (!ends) {
            return std::nullopt;
        }
        if (ends->start.oblique || ends->end.oblique) {
            return refuse(ends->end.oblique ? "to" : "from");
        }
        auto made = geom::surface_over(frame_, chain.pieces, rise_, ends->start.height, ends->end.height);
        if (!made) {
            answers_.report("sketch", made.finding());
            return std::nullopt;
        }
        return SweptRegion(chain.key, std::move(*made));
    }

    [[nodiscard]] const std::vector<PlacedDimension>& dimensions() const { return dimensions_; }

private:
    [[nodiscard]] gp_Vec normal() const { return {frame_.Direction()}; }
    [[nodiscard]] double height_of(const gp_Pnt& p) const { return gp_Vec(frame_.Location(), p).Dot(normal()); }
    [[nodiscard]] bool square() const { return extent_.direction.value == "square"; }
    // How far it goes for each millimetre of height.
    [[nodiscard]] double slope() const { return rise_.Magnitude(); }

    // What a sweep covers while it rises by a millimetre over the sketch.
    gp_Vec direction() {
        if (extent_.direction.value == "leaning") {
            const double lean = answers_.number("lean", extent_.lean, angle_dimension);
            const double towards = answers_.number("lean_towards", extent_.lean_towards, angle_dimension);
            if (std::fabs(lean) > 1.4) {
                answers_.report(
                    "lean", error_finding("extent.flat_way", "It cannot lean so far.", "Give an angle below 80 deg."));
                return normal();
            }
            return normal() +
                   (gp_Vec(frame_.XDirection()) * std::cos(towards) + gp_Vec(frame_.YDirection()) * std::sin(towards)) *
                       std::tan(lean);
        }
        if (extent_.direction.value == "element") {
            const gp_Ax1 axis = answers_.axis("along", extent_.direction, extent_.along);
            const double rise = gp_Vec(axis.Direction()).Dot(normal());
            if (answers_.ok() && std::fabs(rise) < 0.1) {
                answers_.report("along",
                                error_finding("extent.flat_way", "This direction runs along the sketch, not out of it.",
                                              "Pick another, or a sketch on another plane."));
            }
            if (answers_.ok()) {
                return gp_Vec(axis.Direction()) / rise;
            }
        }
        return normal();
    }

    struct Ends {
        double from; ///< the height at which two ways part
        SweepEnd start, end;
    };
    std::optional<Ends> ends_of(const Profile& region) {
        const gp_Pnt base = in_space(frame_, region.inside);
        distance_ = common_distance_;
        if (!region.own.text.empty()) {
            distance_ = answers_.positive("regions", region.own) / slope();
        }
        SweepEnd start{from_offset_, {}};
        if (from_plane_) {
            start = end_at(*from_plane_, base);
        }
        std::optional<SweepEnd> end = end_of(region, base, start);
        if (!end || !answers_.ok()) {
            return std::nullopt;
        }
        const double sign = extent_.way.value == "ahead" ? 1 : -1;
        const double from = start.height;
        if (extent_.to.value == "symmetric") {
            start = {start.height - distance_ / 2, {}};
        } else if (extent_.to.value == "two_distances") {
            start = {start.height - sign * back_distance_, {}};
        } else if (extent_.to.value == "everything_both") {
            start = far_end(start, false);
        }
        note_dimensions(base, from, start.height, end->height);
        if (std::fabs(end->height - start.height) <= geom::coincidence) {
            answers_.report(
                "to", error_finding("extent.flat", "It begins where it ends.", "Choose an end at another height."));
            return std::nullopt;
        }
        return Ends{from, start, *end};
    }

    // Of the first region; the others are as deep.
    void note_dimensions(const gp_Pnt& base, double from, double start, double end) {
        const std::string& to = extent_.to.value;
        if (!dimensions_.empty() || (to != "distance" && to != "symmetric" && to != "two_distances")) {
            return;
        }
        const auto at = [&](double height) {
            const gp_Pnt p = base.Translated(rise_ * height);
            return place_of(p);
        };
        dimensions_.push_back({"distance", at(from), at(end), to == "symmetric" ? 2.0 : 1.0});
        if (to == "two_distances") {
            dimensions_.push_back({"back_distance", at(from), at(start), 1.0});
        }
    }

    double taper(const char* field, const Expression& expression) {
        const double angle = answers_.number(field, expression, angle_dimension);
        if (answers_.ok() && std::fabs(angle) > 1.4) {
            answers_.report(field, error_finding("extent.taper", "Sides cannot lean by this angle.",
                                                 "Give an angle below 80 deg."));
        }
        return std::fabs(angle) < 1e-9 ? 0 : angle;
    }

    // Flat faces end it by their planes; curved ones by their surfaces.
    void end_at_face() {
        const TopoDS_Shape face = answers_.element("to_face", extent_.to_face);
        if (face.IsNull()) {
            return;
        }
        if (geom::plane_of(face)) {
            to_plane_ = plane_across("to_face", face, to_offset_);
        } else if (const BodyPtr body = answers_.body(extent_.to_face.front().body)) {
            const auto box = box_of(*body);
            to_height_ = height_of(geom::center_of(face)) + to_offset_; // it lies on that side
            end_in(geom::extended(face, std::hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2])), body);
        }
    }

    // It ends in the shape of something, which it must pass for that.
    void end_in(const TopoDS_Shape& shape, const BodyPtr& owner) {
        gp_Trsf beyond;
        beyond.SetTranslation(normal() * to_offset_);
        end_shape_ = shape.Moved(TopLoc_Location(beyond));
        const auto [low, high] = heights_over(frame_, {owner});
        const double more = high - low + std::fabs(to_offset_);
        lowest_ = low - more;
        highest_ = high + more;
    }

    std::optional<gp_Pln> flat_face(const char* field, const References& references, double offset) {
        const TopoDS_Shape face = answers_.element(field, references);
        return face.IsNull() ? std::nullopt : plane_across(field, face, offset);
    }

    std::optional<gp_Pln> plane_across(const char* field, const TopoDS_Shape& face, double offset) {
        auto plane = geom::plane_of(face);
        if (!plane) {
            answers_.report(field, error_finding("extent.curved_face",
                                                 "This face is curved; a cut can begin only at a flat one.",
                                                 "Pick a flat face, or begin at an offset."));
            return std::nullopt;
        }
        if (std::fabs(gp_Vec(plane->Axis().Direction()).Dot(rise_)) < 1e-9) {
            answers_.report(field,
                            error_finding("extent.upright_face",
                                          "This face stands upright to the sketch; the profile never reaches it.",
                                          "Pick a face that lies across the profile."));
            return std::nullopt;
        }
        plane->Translate(normal() * offset);
        return plane;
    }

    [[nodiscard]] SweepEnd end_at(const gp_Pln& plane, const gp_Pnt& base) const {
        const bool parallel = plane.Axis().IsParallel(gp_Ax1(gp_Pnt(), frame_.Direction()), 1e-10);
        return {height_over(base, rise_, plane), parallel ? std::nullopt : std::optional<gp_Pln>(plane)};
    }

    // Beyond all that there is. Where everything lies on the other side, there is nothing to cut; one millimetre says
    // so without failing.
    [[nodiscard]] SweepEnd far_end(const SweepEnd& start, bool ahead) const {
        return {ahead ? std::max(highest_, start.height + 1) : std::min(lowest_, start.height - 1), {}};
    }

    std::optional<SweepEnd> end_of(const Profile& region, const gp_Pnt& base, const SweepEnd& start) {
        const std::string& to = extent_.to.value;
        const double sign = extent_.way.value == "ahead" ? 1 : -1;
        if (!end_shape_.IsNull()) { // far beyond it, and then no farther than it
            const bool ahead = to == "body" ? sign > 0 : to_height_ > start.height;
            return far_end(start, ahead);
        }
        if (to == "face") {
            return to_plane_ ? std::optional<SweepEnd>(end_at(*to_plane_, base)) : std::nullopt;
        }
        if (to == "vertex") {
            return SweepEnd{to_height_, {}};
        }
        if (to == "symmetric") {
            return SweepEnd{start.height + distance_ / 2, {}};
        }
        if (to == "everything_both") {
            return far_end(start, true);
        }
        if (to == "everything") {
            return far_end(start, sign > 0);
        }
        if (to == "next_face" || to == "walls") {
            return behind_walls(region, start, sign);
        }
        return SweepEnd{start.height + sign * distance_, {}};
    }

    // Behind the wall that it is to pass: on the face where that is one flat one, else in the open behind it.
    std::optional<SweepEnd> behind_walls(const Profile& region, const SweepEnd& start, double sign) {
        const bool next_face = extent_.to.value == "next_face"; // also from one body into another
        const auto all = passing(region.key, start, far_end(start, sign > 0), 0).over(region.loops, region.inside);
        const auto passed = all ? walls_passed(*all, frame_, sign, bodies_, next_face) : all.finding();
        if (!passed) {
            answers_.report("to", passed.finding());
            return std::nullopt;
        }
        const auto& walls = passed->walls;
        const auto number = static_cast<size_t>(next_face ? 1 : walls_);
        if (walls.size() < number) {
            answers_.report("to", number == 1
                                      ? error_finding("extent.no_next_face", "There is no face ahead of the profile.",
                                                      "Turn the way round, or choose another end.")
                                      : error_finding("extent.no_wall", "There are not so many walls ahead.",
                                                      "Turn the way round, or let it pass fewer."));
            return std::nullopt;
        }
        const PassedWall& last = walls[number - 1];
        const double next = walls.size() > number ? walls[number].from : std::numeric_limits<double>::infinity();
        if (last.flat_exit && !passed->interlocked) {
            gp_Pln plane = *geom::plane_of(*last.flat_exit);
            plane.Translate(normal() * to_offset_);
            return end_at(plane, in_space(frame_, region.inside));
        }
        if (passed->interlocked || next <= last.to + 1e-6) {
            answers_.report("to", error_finding("extent.walls_overlap",
                                                "There is no flat place between this wall and the one behind it.",
                                                "Choose a distance or a face as the end."));
            return std::nullopt;
        }
        return SweepEnd{sign * std::min((last.to + next) / 2, last.to + (highest_ - lowest_)), {}};
    }

    // What the profile covers between two ends; a lean or a taper is the same for all profiles.
    [[nodiscard]] Passing passing(const std::string& key, const SweepEnd& start, const SweepEnd& end,
                                  double taper) const {
        return {key, frame_, rise_, square(), taper, start, end, end_shape_};
    }

    std::optional<SweptRegion> told(Result<SweptRegion> made) {
        if (!made) {
            answers_.report(made.finding().code == "profile.taper" || made.finding().code == "unite.failed" ? "taper"
                                                                                                            : "to",
                            made.finding());
            return std::nullopt;
        }
        return std::move(*made);
    }

    const Extent& extent_;
    const gp_Ax3 frame_;
    Answers& answers_;
    const std::vector<BodyPtr>& bodies_;
    const gp_Vec rise_; ///< the way it goes, a millimetre over the sketch
    double from_offset_ = 0, common_distance_ = 0, distance_ = 0, back_distance_ = 0, to_height_ = 0;
    double lowest_ = -1, highest_ = 1;
    double to_offset_ = 0, taper_ = 0, back_taper_ = 0;
    int walls_ = 1;
    TopoDS_Shape end_shape_; ///< it ends where it meets this
    std::optional<gp_Pln> from_plane_, to_plane_;
    std::vector<PlacedDimension> dimensions_;
};

} // namespace

std::pair<double, double> heights_of(const gp_Ax3& frame, const std::vector<BodyPtr>& bodies, const gp_Trsf& moved) {
    constexpr double infinite = std::numeric_limits<double>::infinity();
    std::pair<double, double> heights{infinite, -infinite};
    for (const BodyPtr& body : bodies) {
        const auto box = box_of(*body);
        for (int corner = 0; corner < 8; ++corner) {
            const gp_Pnt p((corner & 1) != 0 ? box[3] : box[0], (corner & 2) != 0 ? box[4] : box[1],
                           (corner & 4) != 0 ? box[5] : box[2]);
            const double height = gp_Vec(frame.Location(), p.Transformed(moved)).Dot(gp_Vec(frame.Direction()));
            heights = {std::min(heights.first, height), std::max(heights.second, height)};
        }
    }
    return heights;
}

std::pair<double, double> heights_over(const gp_Ax3& frame, const std::vector<BodyPtr>& bodies, const gp_Trsf& moved) {
    constexpr double spare = 1.1234; // so odd that the whole millimetre is the same however exactly the box is known
    const auto [lowest, highest] = heights_of(frame, bodies, moved);
    return {std::min(-1.0, std::floor(lowest - spare)), std::max(1.0, std::ceil(highest + spare))};
}

std::vector<SweptRegion> sweep_profiles(const Extent& extent, const std::vector<Profile>& profiles,
                                        const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
    std::vector<SweptRegion> swept;
    const gp_Ax3* frame = nullptr;
    std::optional<Sweep> sweep; // of all profiles in one plane
    for (const Profile& profile : profiles) {
        if (frame == nullptr || !same_frame(*frame, profile.frame)) {
            frame = &profile.frame;
            sweep.emplace(extent, *frame, bodies, answers);
        }
        if (!answers.ok()) {
            break;
        }
        if (auto solid = sweep->solid_over(profile)) {
            swept.push_back(std::move(*solid));
        }
        if (output.dimensions.empty()) {
            output.dimensions = sweep->dimensions();
        }
    }
    return swept;
}

std::vector<SweptRegion> sweep_curves(const Extent& extent, const gp_Ax3& frame, const std::vector<CurveChain>& chains,
                                      const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
    std::vector<SweptRegion> swept;
    Sweep sweep(extent, frame, bodies, answers);
    for (const CurveChain& chain : chains) {
        if (auto surface = answers.ok() ? sweep.surface_over(chain) : std::nullopt) {
            swept.push_back(std::move(*surface));
        }
    }
    output.dimensions = sweep.dimensions();
    return swept;
}

} // namespace kervo::model
