#include "geom/kernel/box_pairs.h"

#include "geom/cut/straight_cut.h"

#include "geom/kernel/rebuild.h"
#include "geom/measure/face_integrals.h"
#include "geom/outline/flat_outline.h"

#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <cmath>
#include <map>

namespace kervo::geom {

namespace {

constexpr double same = 2e-7; // mm: two planes that are one

struct Crossing {
    int face = 0;
    Level level;
    double height = 0; // at the middle of the profile
    bool enters = false;
};
// A plug: from where the cutter enters the material, or begins in it, to where it leaves it, or ends.
struct Passage {
    std::optional<Crossing> from, to;
};

struct Range {
    double low = 1e300, high = -1e300;
};
// Of `upper` over `lower`, all over the profile.
Range difference(const Level& upper, const Level& lower, const FlatOutline& profile) {
    Range range;
    const double slope = std::hypot(upper.slope_x - lower.slope_x, upper.slope_y - lower.slope_y);
    const double middle =
        upper.at(profile.center[0], profile.center[1]) - lower.at(profile.center[0], profile.center[1]);
    if (profile.circle) {
        return {middle - slope * profile.reach, middle + slope * profile.reach};
    }
    for (const Chord& chord : profile.chords) {
        const double d = upper.at(chord.a[0], chord.a[1]) - lower.at(chord.a[0], chord.a[1]);
        range.low = std::min(range.low, d - slope * chord.bulge);
        range.high = std::max(range.high, d + slope * chord.bulge);
    }
    return range;
}

Box box_of_sweep(const StraightCutter& cutter, const FlatOutline& profile) {
    Box box;
    const gp_XYZ x = cutter.frame.XDirection().XYZ();
    const gp_XYZ y = cutter.frame.YDirection().XYZ();
    const gp_XYZ up = cutter.frame.Direction().XYZ();
    double bulge = 0;
    if (profile.circle) {
        for (const Level& level : {cutter.low, cutter.high}) {
            const gp_XYZ center = cutter.frame.Location().XYZ() + x * profile.center[0] + y * profile.center[1] +
                                  up * level.at(profile.center[0], profile.center[1]);
            const gp_XYZ u = (x + up * level.slope_x) * profile.reach;
            const gp_XYZ v = (y + up * level.slope_y) * profile.reach;
            gp_XYZ half;
            for (int axis = 1; axis <= 3; ++axis) {
                half.SetCoord(axis, std::hypot(u.Coord(axis), v.Coord(axis)));
            }
            box.add(center + half);
            box.add(center - half);
        }
    }
    for (const Chord& chord : profile.chords) {
        for (const Level& level : {cutter.low, cutter.high}) {
            box.add(cutter.frame.Location().XYZ() + x * chord.a[0] + y * chord.a[1] +
                    up * level.at(chord.a[0], chord.a[1]));
            bulge = std::max(bulge, chord.bulge * (1 + std::hypot(level.slope_x, level.slope_y)));
        }
    }
    box.enlarge(bulge + FlatOutline::gap);
    return box;
}

bool same_frame(const gp_Ax3& one, const gp_Ax3& other) {
    return one.Location().IsEqual(other.Location(), 0) && one.Direction().XYZ().IsEqual(other.Direction().XYZ(), 0) &&
           one.XDirection().XYZ().IsEqual(other.XDirection().XYZ(), 0);
}

// Decides, for one cutter after the other, what it passes through.
class Survey {
public:
    Survey(const BodyIndex& body, const std::vector<const StraightCutter*>& cutters) : body_(body), cutters_(cutters) {}

    // Of each cutter; nothing where it is not proven.
    std::vector<std::optional<std::vector<Passage>>> passages() {
        std::vector<std::optional<std::vector<Passage>>> all(cutters_.size());
        for (const StraightCutter* cutter : cutters_) {
            auto profile = flatten(cutter->loops.front());
            if (!profile) {
                refuse("a profile touches itself");
                return all;
            }
            if (difference(cutter->high, cutter->low, *profile).low < FlatOutline::gap) {
                refuse("the ends of a cutter meet");
                return all;
            }
            profiles_.push_back(std::move(*profile));
            boxes_.push_back(box_of_sweep(*cutter, profiles_.back()));
        }
        const auto apart = apart_from_each_other();
        find_near();
        for (size_t i = 0; i < cutters_.size(); ++i) {
            if (!apart[i]) {
                refuse("cutters are not apart from each other");
            } else if (cutters_[i]->loops.size() != 1) {
                refuse("a profile is a ring");
            } else {
                all[i] = passages_of(i);
            }
        }
        return all;
    }

    /// Of the first that is not proven.
    [[nodiscard]] const std::string& why_not() const { return why_not_; }

private:
    std::nullopt_t refuse(const char* why) {
        if (why_not_.empty()) {
            why_not_ = why;
        }
        refused_ = true;
        return std::nullopt;
    }

    [[nodiscard]] std::vector<bool> apart_from_each_other() const {
        std::vector<bool> apart(cutters_.size(), true);
        each_meeting_pair(boxes_, [&](size_t a, size_t b) {
            if (!same_frame(cutters_[a]->frame, cutters_[b]->frame) || !profiles_[a].outside_of(profiles_[b])) {
                apart[a] = false;
                apart[b] = false;
            }
        });
        return apart;
    }

    // Which loops, and which faces that have no description, each sweep may reach.
    void find_near() {
        std::vector<Box> boxes;
        std::vector<int> parts;
        for (size_t i = 0; i < body_.loops.size(); ++i) {
            boxes.push_back(body_.loops[i].box);
            parts.push_back(static_cast<int>(i));
        }
        for (size_t i = 0; i < body_.faces.size(); ++i) {
            if (body_.faces[i].kind == BodyIndex::Kind::other) {
                boxes.push_back(body_.faces[i].box);
                parts.push_back(-1 - static_cast<int>(i));
            }
        }
        near_.resize(cutters_.size());
        each_meeting_pair(boxes_, boxes, [&](size_t cutter, size_t part) { near_[cutter].push_back(parts[part]); });
    }

    // The loop as it is seen along the cutter; null where it is made of curves that have no bounds here.
    const FlatOutline* seen(int loop, const gp_Ax3& frame) {
        if (!same_frame(frame, seen_in_)) {
            seen_.clear();
            seen_in_ = frame;
        }
        auto [it, fresh] = seen_.try_emplace(loop);
        if (fresh) {
            it->second = flatten(body_.loops[static_cast<size_t>(loop)].wire, frame);
        }
        return it->second ? &*it->second : nullptr;
    }

    std::optional<std::vector<Passage>> passages_of(size_t i) {
        const StraightCutter& cutter = *cutters_[i];
        std::vector<int>& near = near_[i];
        std::map<int, std::vector<int>> by_face;
        for (const int part : near) {
            if (part < 0) {
                return refuse("a face of another kind is near");
            }
            by_face[body_.loops[static_cast<size_t>(part)].face].push_back(part);
        }
        std::vector<Crossing> crossings;
        refused_ = false;
        for (const auto& [face, loops] : by_face) {
            const auto crossing = crossing_of(i, face, loops);
            if (refused_) {
                return std::nullopt;
            }
            if (crossing) {
                crossings.push_back(*crossing);
            }
        }
        std::sort(crossings.begin(), crossings.end(),
                  [](const Crossing& one, const Crossing& other) { return one.height < other.height; });
        for (size_t k = 0; k + 1 < crossings.size(); ++k) {
            if (difference(crossings[k + 1].level, crossings[k].level, profiles_[i]).low < FlatOutline::gap) {
                return refuse("faces meet within the profile");
            }
        }
        if (crossings.empty()) {
            return boxes_[i].meets(body_.box) && lies_inside(cutter, profiles_[i])
                       ? refuse("a cutter lies wholly inside")
                       : std::optional(std::vector<Passage>{});
        }
        std::vector<Passage> passages;
        if (!crossings.front().enters) {
            passages.push_back({});
        }
        for (const Crossing& crossing : crossings) {
            const bool open = !passages.empty() && !passages.back().to;
            if (crossing.enters == open) {
                return refuse("a cutter enters twice");
            }
            if (crossing.enters) {
                passages.push_back({crossing, {}});
            } else {
                passages.back().to = crossing;
            }
        }
        return passages;
    }

    // Whether, and where, the sweep passes through the face.
    std::optional<Crossing> crossing_of(size_t i, int index, const std::vector<int>& loops) {
        const StraightCutter& cutter = *cutters_[i];
        const FlatOutline& profile = profiles_[i];
        const BodyIndex::Face& face = body_.faces[static_cast<size_t>(index)];
        const gp_Dir& axis = cutter.frame.Direction();
        std::optional<Level> level;
        if (face.kind == BodyIndex::Kind::plane) {
            level = level_of(gp_Pln(face.place, face.direction), cutter.frame);
        }
        const bool upright = face.kind == BodyIndex::Kind::plane ? face.direction.IsNormal(axis, 1e-9)
                                                                 : face.direction.IsParallel(axis, 1e-9);
        if (!level && !upright) {
            return refuse("a face stands askew near the profile");
        }
        bool begins = false;
        bool ends = false;
        if (level) {
            const Range over = difference(*level, cutter.low, profile);
            const Range under = difference(cutter.high, *level, profile);
            if (over.high < -FlatOutline::gap || under.high < -FlatOutline::gap) {
                return std::nullopt; // below or above the sweep
            }
            begins = std::max(std::fabs(over.low), std::fabs(over.high)) < same;
            ends = std::max(std::fabs(under.low), std::fabs(under.high)) < same;
            if ((!begins && over.low < FlatOutline::gap) || (!ends && under.low < FlatOutline::gap)) {
                level.reset(); // the sweep ends near the face: good only where the face does not reach it
            }
        }
        const FlatOutline::Place& at = profile.start;
        bool beside = false;
        bool outer_near = false;
        for (const int loop : loops) {
            const FlatOutline* outline = seen(loop, cutter.frame);
            if (outline == nullptr || !profile.apart_from(*outline)) {
                return refuse("an edge is near the profile");
            }
            if (profile.contains(outline->start)) {
                return refuse("the profile covers an edge");
            }
            const bool outer = body_.loops[static_cast<size_t>(loop)].outer;
            outer_near = outer_near || outer;
            beside = beside || (!upright && outline->contains(at) != outer);
        }
        if (upright || beside || !outer_near) {
            return std::nullopt;
        }
        if (!level) {
            return refuse("a cutter ends near a face");
        }
        const bool enters = face.direction.XYZ() * axis.XYZ() < 0;
        if ((begins && !enters) || (ends && enters)) {
            return std::nullopt; // it only touches
        }
        return Crossing{index, *level, level->at(profile.center[0], profile.center[1]), enters};
    }

    [[nodiscard]] bool lies_inside(const StraightCutter& cutter, const FlatOutline& profile) const {
        std::vector<TopoDS_Face> faces;
        for (const auto& face : body_.faces) {
            faces.push_back(face.face);
        }
        const auto& at = profile.start;
        const double height = (cutter.low.at(at[0], at[1]) + cutter.high.at(at[0], at[1])) / 2;
        const gp_Pnt p(cutter.frame.Location().XYZ() + cutter.frame.XDirection().XYZ() * at[0] +
                       cutter.frame.YDirection().XYZ() * at[1] + cutter.frame.Direction().XYZ() * height);
        return BRepClass3d_SolidClassifier(solid_of(faces), p, coincidence).State() != TopAbs_OUT;
    }

    const BodyIndex& body_;
    const std::vector<const StraightCutter*>& cutters_;
    std::vector<FlatOutline> profiles_;
    std::vector<Box> boxes_;
    std::vector<std::vector<int>> near_; // by cutter: loops, or -1 - face
    std::map<int, std::optional<FlatOutline>> seen_;
    gp_Ax3 seen_in_;
    std::string why_not_;
    bool refused_ = false;
};

TopAbs_Orientation flipped_if(bool flip, TopAbs_Orientation orientation = TopAbs_FORWARD) {
    return flip ? TopAbs::Reverse(orientation) : orientation;
}

Handle(Geom_Plane) plane_on(const gp_Ax3& frame, const Level& level) {
    const gp_XYZ x = frame.XDirection().XYZ();
    const gp_XYZ y = frame.YDirection().XYZ();
    const gp_XYZ up = frame.Direction().XYZ();
    return new Geom_Plane(gp_Ax3(gp_Pnt(frame.Location().XYZ() + up * level.height),
                                 gp_Dir(up - x * level.slope_x - y * level.slope_y), gp_Dir(x + up * level.slope_x)));
}

// Builds what the survey found.
class Assembly {
public:
    Assembly(const BodyIndexPtr& body, const VolumeMeter::Cone& whole) : body_(*body), whole_(whole) {
        result_.left.before = body;
        result_.left.cone = whole;
    }

    // False where a plug's faces do not enclose what its profile and its height say.
    bool add(int cutter, const StraightCutter& by, const Passage& passage) {
        const Walls walls(by.frame, by.loops.front());
        const Level low = passage.from ? passage.from->level : by.low;
        const Level high = passage.to ? passage.to->level : by.high;
        if (!walls.can_meet(low) || !walls.can_meet(high)) {
            return false;
        }
        const Rim foot = walls.rim(low);
        const Rim head = walls.rim(high);
        const auto sides = walls.between(foot, head);
        for (size_t i = 0; i < sides.size(); ++i) {
            made(sides[i], cutter, static_cast<int>(i));
        }
        const TopoDS_Face floor = cap(by, foot, passage.from, cutter, StraightDivision::low_end);
        auto faces = sides;
        faces.push_back(floor);
        faces.push_back(cap(by, head, passage.to, cutter, StraightDivision::high_end));
        const auto cone = VolumeMeter::cone_over(faces, body_.apex);
        result_.left.cone -= cone;
        result_.division.pieces.push_back({solid_of(faces), {cutter}, cone.volume, cone.center()});

        const auto over = integrate_face(floor, body_.apex);
        const gp_XYZ from = over->center.XYZ() - by.frame.Location().XYZ();
        const double x = from * by.frame.XDirection().XYZ();
        const double y = from * by.frame.YDirection().XYZ();
        const double expected = over->area / std::sqrt(1 + low.slope_x * low.slope_x + low.slope_y * low.slope_y) *
                                (high.at(x, y) - low.at(x, y));
        off_ += std::fabs(cone.volume - expected);
        return std::fabs(cone.volume - expected) <= 1e-9 * expected;
    }

    StraightDivision finish() {
        std::vector<TopoDS_Face> faces;
        auto& origins = result_.division.origins;
        for (size_t i = 0; i < body_.faces.size(); ++i) {
            const TopoDS_Face& before = body_.faces[i].face;
            const auto at = holes_.find(static_cast<int>(i));
            if (at == holes_.end()) {
                faces.push_back(before);
                continue;
            }
            std::vector<TopoDS_Shape> loops;
            for (TopoDS_Iterator it(before.Oriented(TopAbs_FORWARD)); it.More(); it.Next()) {
                loops.push_back(it.Value());
            }
            loops.insert(loops.end(), at->second.begin(), at->second.end());
            const TopoDS_Face now = face_with_loops(before, loops);
            faces.push_back(now);
            origins.push_back({now, before});
            result_.left.pierced.push_back({static_cast<int>(i), now, at->second});
        }
        faces.insert(faces.end(), result_.left.made.begin(), result_.left.made.end());
        origins.insert(origins.end(), caps_.begin(), caps_.end());
        auto& division = result_.division;
        const auto& left = result_.left.cone;
        division.pieces.insert(division.pieces.begin(), {solid_of(faces), {}, left.volume, left.center()});
        division.workpiece_volume = whole_.volume;
        division.imbalance = off_ / whole_.volume;
        return std::move(result_);
    }

private:
    // The plug's side keeps it as it looks, what is left of the body looks the other way.
    void made(const TopoDS_Face& face, int cutter, int piece) {
        result_.made.push_back({face, cutter, piece});
        result_.left.made.push_back(TopoDS::Face(face.Reversed()));
    }

    TopoDS_Face cap(const StraightCutter& by, const Rim& rim, const std::optional<Crossing>& crossing, int cutter,
                    int end) {
        if (!crossing) {
            const Handle(Geom_Plane) plane = plane_on(by.frame, rim.level);
            Walls::lay_on(rim, plane, {});
            TopoDS_Face face;
            builder_.MakeFace(face, plane, coincidence);
            builder_.Add(face, rim.wire);
            face.Orientation(flipped_if(end == StraightDivision::low_end));
            made(face, cutter, end);
            return face;
        }
        const TopoDS_Face& pierced = body_.faces[static_cast<size_t>(crossing->face)].face;
        TopLoc_Location location;
        Walls::lay_on(rim, Handle(Geom_Plane)::DownCast(BRep_Tool::Surface(pierced, location)), location);
        // The rim runs counterclockwise about the axis; the cap looks where the face looks.
        const bool reversed = pierced.Orientation() == TopAbs_REVERSED;
        const auto around = flipped_if(crossing->enters != reversed);
        const TopoDS_Face face = face_with_loops(pierced, {rim.wire.Oriented(around)});
        caps_.push_back({face, pierced});
        holes_[crossing->face].push_back(TopoDS::Wire(rim.wire.Oriented(TopAbs::Reverse(around))));
        return face;
    }

    const BodyIndex& body_;
    VolumeMeter::Cone whole_;
    BRep_Builder builder_;
    std::map<int, std::vector<TopoDS_Wire>> holes_; // by face
    std::vector<FaceOrigin> caps_;
    double off_ = 0;
    StraightDivision result_;
};

} // namespace

std::optional<StraightDivision>
divide_straight(const LazyIndex& workpiece, const std::vector<const StraightCutter*>& cutters, std::string& why_not) {
    const BodyIndexPtr index = workpiece.get();
    if (!index) {
        why_not = "the body is no solid with one shell";
        return std::nullopt;
    }
    Survey survey(*index, cutters);
    const auto passages = survey.passages();
    why_not = survey.why_not();
    std::vector<int> unproven;
    for (size_t i = 0; i < cutters.size(); ++i) {
        if (!passages[i]) {
            unproven.push_back(static_cast<int>(i));
        }
    }
    if (unproven.size() == cutters.size()) {
        return std::nullopt;
    }
    Assembly assembly(index, workpiece.cone());
    for (size_t i = 0; i < cutters.size(); ++i) {
        for (size_t k = 0; passages[i] && k < passages[i]->size(); ++k) {
            if (!assembly.add(static_cast<int>(i), *cutters[i], (*passages[i])[k])) {
                why_not = "a plug does not enclose what it should";
                return std::nullopt;
            }
        }
    }
    StraightDivision result = assembly.finish();
    result.unproven = std::move(unproven);
    return result;
}

} // namespace kervo::geom
