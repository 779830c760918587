#include "geom/outline/leaning_walls.h"

#include "geom/alter/alteration.h"
#include "geom/kernel/rebuild.h"
#include "geom/outline/walls.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Line.hxx>
#include <Geom_ConicalSurface.hxx>
#include <Geom_Line.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <gp_Vec2d.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double least_size = 1e-5; // mm, of what is left of a piece

gp_Vec2d between(const std::array<double, 2>& from, const std::array<double, 2>& to) {
    return {to[0] - from[0], to[1] - from[1]};
}

// The way that it runs at its start or end, unit.
gp_Vec2d way_at(const OutlinePiece& piece, bool at_start) {
    if (is_line(piece)) {
        return between(piece.start, piece.end).Normalized();
    }
    const double angle = piece.from + (at_start ? 0 : piece.sweep);
    const double sign = piece.sweep > 0 ? 1 : -1;
    return {-std::sin(angle) * sign, std::cos(angle) * sign};
}

// Where the end of one piece and the start of the next lie when both are shifted to their left.
std::optional<std::array<double, 2>> shifted_corner(const OutlinePiece& one, const OutlinePiece& next,
                                                    double distance) {
    constexpr double smooth = 1e-7;
    const gp_Vec2d before = way_at(one, false);
    const gp_Vec2d after = way_at(next, true);
    const gp_Vec2d left(-after.Y() - before.Y(), after.X() + before.X());
    const double open = 1 + before.Dot(after);
    const bool in_line = std::fabs(before.Crossed(after)) < smooth && open > 1;
    if (!in_line && (!is_line(one) || !is_line(next) || open < smooth)) {
        return std::nullopt;
    }
    return std::array{next.start[0] + left.X() * distance / open, next.start[1] + left.Y() * distance / open};
}

} // namespace

std::optional<OutlineLoop> shifted_inwards(const OutlineLoop& loop, double distance) {
    OutlineLoop shifted = loop;
    for (size_t i = 0; i < loop.size(); ++i) {
        if (!is_line(loop[i]) && !is_arc(loop[i])) {
            return std::nullopt;
        }
        const size_t before = (i + loop.size() - 1) % loop.size();
        const auto corner = shifted_corner(loop[before], loop[i], distance);
        if (!corner) {
            return std::nullopt;
        }
        shifted[i].start = shifted[before].end = *corner;
    }
    for (size_t i = 0; i < loop.size(); ++i) {
        if (is_arc(loop[i])) {
            shifted[i].radius -= loop[i].sweep > 0 ? distance : -distance;
        }
        const bool left = is_arc(loop[i])
                              ? shifted[i].radius > least_size
                              : between(shifted[i].start, shifted[i].end).Dot(way_at(loop[i], true)) > least_size;
        if (!left) {
            return std::nullopt;
        }
    }
    return shifted;
}

namespace {

// The walls between a loop on one level and the shifted one on another.
class LeaningWalls {
public:
    LeaningWalls(const gp_Ax3& frame, const OutlineLoop& low, const OutlineLoop& high, const Level& foot,
                 const Level& top)
        : frame_(frame), low_(low), high_(high), foot_(Walls(frame, low).rim(foot)), top_(Walls(frame, high).rim(top)) {
        for (size_t i = 0; i < low.size(); ++i) {
            const gp_Pnt from = BRep_Tool::Pnt(foot_.vertices[i]);
            const gp_Vec up(from, BRep_Tool::Pnt(top_.vertices[i]));
            uprights_.push_back(
                edge_on(new Geom_Line(from, gp_Dir(up)), 0, up.Magnitude(), foot_.vertices[i], top_.vertices[i]));
        }
    }
    [[nodiscard]] const Rim& foot() const { return foot_; }
    [[nodiscard]] const Rim& top() const { return top_; }

    // Over the piece, looking away from what the loop encloses.
    [[nodiscard]] TopoDS_Face wall(size_t i) const {
        const BRep_Builder builder;
        const bool forward = runs_forward(low_[i]);
        const size_t next = (i + 1) % low_.size();
        const TopoDS_Edge& left = uprights_[forward ? i : next];
        const TopoDS_Edge& right = uprights_[forward ? next : i];
        TopoDS_Face face;
        if (is_arc(low_[i])) {
            builder.MakeFace(face, cone(i, left, right), coincidence);
        } else {
            const gp_Pnt from = BRep_Tool::Pnt(foot_.vertices[i]);
            const gp_Dir along(gp_Vec(from, BRep_Tool::Pnt(foot_.vertices[next])));
            const gp_Dir up(gp_Vec(from, BRep_Tool::Pnt(top_.vertices[i])));
            builder.MakeFace(face, new Geom_Plane(gp_Ax3(from, along.Crossed(up), along)), coincidence);
        }
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        builder.Add(wire, foot_.edges[i].Oriented(TopAbs_FORWARD));
        builder.Add(wire, right.Oriented(TopAbs_FORWARD));
        builder.Add(wire, top_.edges[i].Oriented(TopAbs_REVERSED));
        builder.Add(wire, left.Oriented(TopAbs_REVERSED));
        wire.Closed(Standard_True);
        builder.Add(face, wire);
        return TopoDS::Face(face.Oriented(forward ? TopAbs_FORWARD : TopAbs_REVERSED));
    }

private:
    // Its axis runs to where it grows wider. Gives the edges their curves in its parameters.
    [[nodiscard]] Handle(Geom_Surface) cone(size_t i, const TopoDS_Edge& left, const TopoDS_Edge& right) const {
        const BRep_Builder builder;
        const TopLoc_Location here;
        const OutlinePiece& piece = low_[i];
        const double rise = top_.level.height - foot_.level.height;
        const double growth = high_[i].radius - piece.radius;
        const bool upwards = growth > 0;
        const double way = upwards ? 1 : -1;
        const double base = upwards ? foot_.level.height : top_.level.height;
        const gp_Vec to_center = gp_Vec(frame_.XDirection()) * piece.center[0] +
                                 gp_Vec(frame_.YDirection()) * piece.center[1] + gp_Vec(frame_.Direction()) * base;
        const gp_Ax3 axes(frame_.Location().Translated(to_center),
                          upwards ? frame_.Direction() : frame_.Direction().Reversed(), frame_.XDirection());
        const Handle(Geom_Surface) on =
            new Geom_ConicalSurface(axes, std::atan2(std::fabs(growth), rise), std::min(piece.radius, high_[i].radius));
        const double far = std::hypot(growth, rise);
        const auto level = [&](bool high) {
            return new Geom2d_Line(gp_Pnt2d(0, high == upwards ? far : 0), gp_Dir2d(way, 0));
        };
        builder.UpdateEdge(foot_.edges[i], level(false), on, here, coincidence);
        builder.UpdateEdge(top_.edges[i], level(true), on, here, coincidence);
        const double first = piece.sweep > 0 ? piece.from : piece.from + piece.sweep;
        const double last = first + std::fabs(piece.sweep);
        const auto upright = [&](double u) {
            return new Geom2d_Line(gp_Pnt2d(way * u, upwards ? 0 : far), gp_Dir2d(0, way));
        };
        if (left.IsSame(right)) {
            builder.UpdateEdge(left, upright(last), upright(first), on, here, coincidence);
            builder.Continuity(left, on, on, here, here, GeomAbs_CN);
        } else {
            builder.UpdateEdge(left, upright(first), on, here, coincidence);
            builder.UpdateEdge(right, upright(last), on, here, coincidence);
        }
        return on;
    }

    const gp_Ax3& frame_;
    const OutlineLoop& low_;
    const OutlineLoop& high_;
    Rim foot_, top_;
    std::vector<TopoDS_Edge> uprights_;
};

std::optional<std::vector<OutlineLoop>> all_shifted(const std::vector<OutlineLoop>& loops, double distance) {
    std::vector<OutlineLoop> all;
    for (const OutlineLoop& loop : loops) {
        auto shifted = shifted_inwards(loop, distance);
        if (!shifted) {
            return std::nullopt;
        }
        all.push_back(std::move(*shifted));
    }
    return all;
}

} // namespace

ShapeWithRoles make_leaning_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start, double end,
                                  double angle) {
    const double shift = std::fabs(end - start) * std::tan(angle);
    const auto half_way = all_shifted(loops, shift / 2);
    const auto away = all_shifted(loops, shift);
    if (!half_way || !away) {
        return {};
    }
    const bool upwards = end > start;
    const std::vector<OutlineLoop>& low = upwards ? loops : *away;
    const std::vector<OutlineLoop>& high = upwards ? *away : loops;
    const BRep_Builder builder;
    std::array<TopoDS_Face, 2> caps;
    std::array<Handle(Geom_Plane), 2> planes;
    const std::array<Level, 2> levels{Level{std::min(start, end), 0, 0}, Level{std::max(start, end), 0, 0}};
    for (const size_t i : {0U, 1U}) {
        planes[i] = new Geom_Plane(gp_Ax3(frame.Location().Translated(gp_Vec(frame.Direction()) * levels[i].height),
                                          frame.Direction(), frame.XDirection()));
        builder.MakeFace(caps[i], planes[i], coincidence);
    }
    ShapeWithRoles made;
    std::vector<TopoDS_Face> faces;
    for (size_t k = 0; k < loops.size(); ++k) {
        const LeaningWalls walls(frame, low[k], high[k], levels[0], levels[1]);
        for (size_t i = 0; i < low[k].size(); ++i) {
            faces.push_back(walls.wall(i));
            made.roles.push_back({faces.back(), "side/c" + low[k][i].curve});
        }
        for (const size_t i : {0U, 1U}) {
            const Rim& rim = i == 0 ? walls.foot() : walls.top();
            Walls::lay_on(rim, planes[i], {});
            builder.Add(caps[i], rim.wire);
        }
    }
    made.roles.push_back({caps[upwards ? 0 : 1], "start"});
    made.roles.push_back({caps[upwards ? 1 : 0], "end"});
    faces.push_back(TopoDS::Face(caps[0].Oriented(TopAbs_REVERSED)));
    faces.push_back(caps[1]);
    made.shape = solid_of(faces);
    const auto area = [&](const std::vector<OutlineLoop>& outline) {
        return area_of(make_profile_face(frame, outline).face);
    };
    const double volume = std::fabs(end - start) * (area(loops) + 4 * area(*half_way) + area(*away)) / 6;
    if (!is_sound(made.shape) || std::fabs(volume_of(made.shape) - volume) > 1e-7 * volume ||
        self_crossing(made.shape)) {
        return {};
    }
    return made;
}

} // namespace kervo::geom
