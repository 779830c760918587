#include "geom/make/along_path.h"

#include "geom/alter/alteration.h"
#include "geom/cut/divide.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/make/sweep_volume.h"
#include "geom/make/twisted_sweep.h"
#include "geom/measure/folded_face.h"
#include "geom/measure/pick.h"
#include "geom/measure/self_crossing.h"
#include "geom/outline/path.h"

#include <BRepAdaptor_CompCurve.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepOffsetAPI_MakePipeShell.hxx>
#include <BRepTools.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_IntCS.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_Plane.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Standard_Failure.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double smooth = 1e-6; // rad: paths that bend by less go on without a corner

// The profile as it has come so far.
class Carried {
public:
    explicit Carried(const ProfileFace& profile) : profile_(profile) {}

    void move(const gp_Trsf& more) { moved_ = more * moved_; }
    void turn(const gp_Ax1& axis, double angle) {
        gp_Trsf rotation;
        rotation.SetRotation(axis, angle);
        move(rotation);
    }
    void shift(const gp_Vec& way) {
        gp_Trsf translation;
        translation.SetTranslation(way);
        move(translation);
    }
    [[nodiscard]] ProfileFace face() const {
        ProfileFace there = profile_;
        const TopLoc_Location place(moved_);
        there.face = TopoDS::Face(profile_.face.Moved(place));
        for (auto& [edge, curve] : there.curve_of_edge) {
            edge = edge.Moved(place);
        }
        there.frame.Transform(moved_);
        return there;
    }
    [[nodiscard]] gp_Vec normal() const { return gp_Vec(face().frame.Direction()); }
    /// How far the profile reaches from a place.
    [[nodiscard]] double reach(const gp_Pnt& place) const {
        const auto box = box_of(face().face);
        double most = 0;
        for (int corner = 0; corner < 8; ++corner) {
            const gp_Pnt p(box[(corner & 1) != 0 ? 3 : 0], box[(corner & 2) != 0 ? 4 : 1],
                           box[(corner & 4) != 0 ? 5 : 2]);
            most = std::max(most, p.Distance(place));
        }
        return most;
    }

private:
    const ProfileFace& profile_;
    gp_Trsf moved_;
};

// Along lines and arcs, piece by piece: prisms and revolutions, which together are the sweep.
class ExactSweep {
public:
    ExactSweep(const ProfileFace& profile, const Path& path, bool turning)
        : path_(path), turning_(turning), carried_(profile), reach_(carried_.reach(path.parts.front().start())) {}

    /// Whether it can be done so.
    [[nodiscard]] bool applies() const {
        for (size_t i = 0; i < path_.parts.size(); ++i) {
            const auto& part = path_.parts[i];
            if (!is_line(part) && (!turning_ || !turn_of(part))) {
                return false;
            }
            const auto* next = behind(i);
            if (turning_ && next != nullptr && corner(part, *next) > smooth && (!is_line(part) || !is_line(*next))) {
                return false;
            }
        }
        return true;
    }

    Result<ShapeWithRoles> sweep(Progress& progress) {
        std::vector<ShapeWithRoles> pieces;
        for (size_t i = 0; i < path_.parts.size(); ++i) {
            const auto& part = path_.parts[i];
            const auto* before = ahead(i);
            const auto* next = behind(i);
            auto piece = is_line(part) ? along_line(part, before, next) : around(*turn_of(part), part.name);
            if (!piece) {
                return piece.finding();
            }
            pieces.push_back(std::move(*piece));
            if (turning_ && next != nullptr && corner(part, *next) > smooth) {
                carried_.turn(corner_axis(part, *next), corner(part, *next));
            }
        }
        return joined(pieces, progress);
    }

private:
    using Part = Path::Part;

    [[nodiscard]] const Part* behind(size_t i) const {
        return i + 1 < path_.parts.size() ? &path_.parts[i + 1] : path_.closed ? &path_.parts.front() : nullptr;
    }
    [[nodiscard]] const Part* ahead(size_t i) const {
        return i > 0 ? &path_.parts[i - 1] : path_.closed ? &path_.parts.back() : nullptr;
    }
    static double corner(const Part& part, const Part& next) { return part.heading(false).Angle(next.heading(true)); }
    static gp_Ax1 corner_axis(const Part& part, const Part& next) {
        return {part.end(), gp_Dir(part.heading(false).Crossed(next.heading(true)))};
    }

    Result<ShapeWithRoles> along_line(const Part& part, const Part* before, const Part* next) {
        const gp_Vec way(part.start(), part.end());
        const gp_Vec heading = way.Normalized();
        if (std::fabs(heading.Dot(carried_.normal())) < 1e-6) {
            return error_finding("path.sideways", "The path moves the profile within its own plane there.",
                                 "Let the profile lie across the path, or be laid square to its start.");
        }
        const bool mitred_start = turning_ && before != nullptr && corner(*before, part) > smooth;
        const bool mitred_end = turning_ && next != nullptr && corner(part, *next) > smooth;
        // Long enough to pass the mitres everywhere.
        const double over_start = mitred_start ? reach_over(*before, part) : 0;
        const double over_end = mitred_end ? reach_over(part, *next) : 0;
        Carried from = carried_;
        from.shift(heading * -over_start);
        const ProfileFace base = from.face();
        ShapeWithRoles prism = prism_over(base, heading * (way.Magnitude() + over_start + over_end));
        call_after(prism, part.name);
        const gp_Pnt middle = part.start().Translated(way / 2);
        for (const auto& [mitred, one, other] :
             {std::tuple(mitred_start, before, &part), std::tuple(mitred_end, &part, next)}) {
            if (mitred) {
                const gp_Vec across = one->heading(false) + other->heading(true);
                if (across.Magnitude() < 1e-3) {
                    return error_finding("path.corner", "The path turns back on itself.", "Choose another path.");
                }
                auto trimmed = trim_by_plane(prism, gp_Pln(other->start(), gp_Dir(across)), middle, "mitre");
                if (!trimmed) {
                    return too_short();
                }
                prism = std::move(*trimmed);
            }
        }
        if (!passes(base, heading, mitred_start ? before : nullptr, part, mitred_end ? next : nullptr)) {
            return too_short();
        }
        carried_.shift(way);
        return prism;
    }

    static Finding too_short() {
        return error_finding("path.corner", "A part of the path is too short for the corners at its ends.",
                             "Choose a smaller profile, or round the corners of the path.");
    }

    // Whether all of the profile goes forward from the mitre at one end to that at the other.
    static bool passes(const ProfileFace& base, const gp_Vec& heading, const Part* before, const Part& part,
                       const Part* next) {
        const auto way_to = [&](const gp_Pnt& place, const gp_Pnt& corner, const gp_Vec& across) {
            return gp_Vec(place, corner).Dot(across) / heading.Dot(across);
        };
        for (const auto& [edge, curve] : base.curve_of_edge) {
            const BRepAdaptor_Curve along(TopoDS::Edge(edge));
            for (int i = 0; i <= 8; ++i) {
                const double t = i / 8.0;
                const gp_Pnt place = along.Value(along.FirstParameter() * (1 - t) + along.LastParameter() * t);
                const gp_Vec first = before != nullptr ? before->heading(false) + heading : heading;
                const gp_Vec last = next != nullptr ? heading + next->heading(true) : heading;
                if (way_to(place, part.start(), first) > way_to(place, part.end(), last) - coincidence) {
                    return false;
                }
            }
        }
        return true;
    }

    // How far a prism must go on behind a corner.
    [[nodiscard]] double reach_over(const Part& part, const Part& next) const {
        return reach_ * std::tan(std::min(corner(part, next) / 2, 1.55)) + 1;
    }

    Result<ShapeWithRoles> around(const Turn& turn, const std::string& name) {
        const Finding tight = error_finding("path.failed", "The path bends more tightly than the profile is wide.",
                                            "Choose a smaller profile, or a wider bend.");
        const ProfileFace base = carried_.face();
        const double far = 4 * reach_ + turn.axis.Location().Distance(center_of(base.face));
        const gp_Vec along(turn.axis.Direction());
        const TopoDS_Edge axis = BRepBuilderAPI_MakeEdge(turn.axis.Location().Translated(along * -far),
                                                         turn.axis.Location().Translated(along * far))
                                     .Edge();
        if (gap_between(base.face, axis).width < coincidence) {
            return tight;
        }
        auto made = make_revolution(base, turn.axis, 0, turn.angle);
        if (!is_sound(made.shape)) {
            return tight;
        }
        call_after(made, name);
        carried_.turn(turn.axis, turn.angle);
        return made;
    }

    static void call_after(ShapeWithRoles& made, const std::string& name) {
        for (FaceRole& role : made.roles) {
            if (role.role != "start" && role.role != "end") {
                role.role += "/" + name;
            }
        }
    }

    Result<ShapeWithRoles> joined(const std::vector<ShapeWithRoles>& pieces, Progress& progress) const {
        std::vector<TopoDS_Shape> shapes;
        ByShape<std::string> roles;
        for (size_t i = 0; i < pieces.size(); ++i) {
            shapes.push_back(pieces[i].shape);
            for (const FaceRole& role : pieces[i].roles) {
                const bool inner = (role.role == "start" && (i > 0 || path_.closed)) ||
                                   (role.role == "end" && (i + 1 < pieces.size() || path_.closed)) ||
                                   role.role == "mitre";
                if (!inner) {
                    roles.Bind(role.face, role.role);
                }
            }
        }
        const auto united = unite(shapes, {}, progress);
        if (!united) {
            return united.finding();
        }
        ShapeWithRoles made{united->shape, {}};
        ByShape<bool> named;
        for (const FaceOrigin& origin : united->origins) {
            if (const auto* role = roles.Seek(origin.source); role != nullptr && !named.IsBound(origin.result)) {
                made.roles.push_back({origin.result, *role});
                named.Bind(origin.result, true);
            }
        }
        return made;
    }

    const Path& path_;
    bool turning_;
    Carried carried_;
    double reach_; ///< how far the profile lies from the path at most, mm
};

// A curve that winds about the path while it goes on: it leads the profile round.
TopoDS_Wire winding_about(const TopoDS_Wire& path, double twist) {
    const BRepAdaptor_CompCurve curve(path, Standard_True);
    const double first = curve.FirstParameter();
    const double length = curve.LastParameter() - first;
    const int steps = 64 + static_cast<int>(std::fabs(twist) * 16);
    Handle(TColgp_HArray1OfPnt) points = new TColgp_HArray1OfPnt(1, steps + 1);
    gp_Vec side;
    gp_Vec heading;
    for (int i = 0; i <= steps; ++i) {
        gp_Pnt place;
        gp_Vec along;
        curve.D1(first + length * i / steps, place, along);
        along.Normalize();
        if (i == 0) {
            const gp_Dir guide = std::fabs(along.X()) > 0.9 ? gp_Dir(0, 1, 0) : gp_Dir(1, 0, 0);
            side = along.Crossed(gp_Vec(guide)).Normalized();
        } else if (const gp_Vec about = heading.Crossed(along); about.Magnitude() > 1e-12) {
            side.Rotate(gp_Ax1(place, gp_Dir(about)), heading.Angle(along)); // no turn of its own
        }
        heading = along;
        side = (side - along * side.Dot(along)).Normalized();
        const gp_Vec turned = side.Rotated(gp_Ax1(place, gp_Dir(along)), twist * i / steps);
        points->SetValue(i + 1, place.Translated(turned * (length / 10)));
    }
    GeomAPI_Interpolate spline(points, Standard_False, coincidence);
    spline.Perform();
    return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(spline.Curve()).Edge()).Wire();
}

// The kernel's pipes: one for each loop of the profile.
class PipeSweep {
public:
    PipeSweep(const ProfileFace& profile, const Path& path, const Carrying& carrying)
        : profile_(profile), path_(path), carrying_(carrying) {
        BRepBuilderAPI_MakeWire maker;
        for (const auto& part : path.parts) {
            maker.Add(part.edge);
        }
        if (maker.IsDone()) {
            spine_ = maker.Wire();
        }
    }

    Result<ShapeWithRoles> sweep(Progress& progress) const {
        const Finding failed =
            error_finding("path.failed", "The profile cannot be carried along this path.",
                          "Choose a smaller profile, or a path that bends less; corners beside arcs can be rounded.");
        const gp_Pln plane(profile_.frame);
        if (plane.Distance(path_.parts.front().start()) > 1e-4) {
            return path_lies_apart();
        }
        if (spine_.IsNull()) {
            return failed;
        }
        try {
            std::vector<ShapeWithRoles> pipes;
            for (const TopoDS_Wire& wire : wires()) {
                auto pipe = pipe_of(wire);
                if (!pipe || !is_sound(pipe->shape)) {
                    return failed;
                }
                pipes.push_back(std::move(*pipe));
            }
            return pipes.size() == 1 ? Result<ShapeWithRoles>(pipes.front()) : less_holes(pipes, progress);
        } catch (const Standard_Failure&) {
            return failed;
        }
    }

private:
    // The outer one first.
    [[nodiscard]] std::vector<TopoDS_Wire> wires() const {
        const TopoDS_Wire outer = BRepTools::OuterWire(profile_.face);
        std::vector<TopoDS_Wire> all{outer};
        for (TopoDS_Iterator it(profile_.face); it.More(); it.Next()) {
            if (!it.Value().IsSame(outer)) {
                all.push_back(TopoDS::Wire(it.Value()));
            }
        }
        return all;
    }

    [[nodiscard]] std::optional<ShapeWithRoles> pipe_of(const TopoDS_Wire& wire) const {
        BRepOffsetAPI_MakePipeShell pipe(spine_);
        if (!carrying_.turning) {
            pipe.SetMode(profile_.frame.Ax2());
        } else if (carrying_.twist != 0) {
            pipe.SetMode(winding_about(spine_, carrying_.twist), Standard_True);
        } else {
            pipe.SetMode(Standard_False);
        }
        pipe.SetTransitionMode(BRepBuilderAPI_RightCorner);
        pipe.SetTolerance(1e-5, 1e-5, 1e-3);
        pipe.SetMaxSegments(200);
        pipe.Add(TopoDS::Wire(wire.Oriented(TopAbs_FORWARD)));
        if (!pipe.IsReady()) {
            return std::nullopt;
        }
        pipe.Build();
        if (!pipe.IsDone() || !pipe.MakeSolid()) {
            return std::nullopt;
        }
        ShapeWithRoles made{pipe.Shape(), {}};
        if (volume_of(made.shape) < 0) {
            made.shape.Reverse();
        }
        for (const auto& [edge, curve] : profile_.curve_of_edge) {
            std::vector<TopoDS_Shape> sides;
            for (const TopoDS_Shape& side : pipe.Generated(edge)) {
                const auto faces = faces_of(side);
                sides.insert(sides.end(), faces.begin(), faces.end());
            }
            for (size_t i = 0; i < sides.size(); ++i) { // one for each part of the path
                const bool whole = sides.size() == path_.parts.size();
                made.roles.push_back(
                    {sides[i], "side/c" + curve + "/" + (whole ? path_.parts[i].name : std::to_string(i + 1))});
            }
        }
        if (!path_.closed) {
            for (const auto& [cap, role] :
                 {std::pair(pipe.FirstShape(), "start"), std::pair(pipe.LastShape(), "end")}) {
                for (const TopoDS_Shape& face : faces_of(cap)) {
                    made.roles.push_back({face, role});
                }
            }
        }
        return made;
    }

    const ProfileFace& profile_;
    const Path& path_;
    const Carrying& carrying_;
    TopoDS_Wire spine_;
};

} // namespace

Result<ShapeWithRoles> less_holes(const std::vector<ShapeWithRoles>& pipes, Progress& progress) {
    std::vector<TopoDS_Shape> holes;
    ByShape<std::string> roles;
    for (size_t i = 0; i < pipes.size(); ++i) {
        if (i > 0) {
            holes.push_back(pipes[i].shape);
        }
        for (const FaceRole& role : pipes[i].roles) {
            roles.Bind(role.face, role.role);
        }
    }
    const auto division = divide(pipes.front().shape, holes, progress);
    if (!division) {
        return division.finding();
    }
    for (const DividedPiece& piece : division->pieces) {
        if (!piece.inside.empty()) {
            continue;
        }
        ShapeWithRoles made{piece.shape, {}};
        ByShape<bool> own;
        for (const TopoDS_Shape& face : faces_of(piece.shape)) {
            own.Bind(face, true);
        }
        for (const FaceOrigin& origin : division->origins) {
            if (const auto* role = roles.Seek(origin.source); role != nullptr && own.IsBound(origin.result)) {
                made.roles.push_back({origin.result, *role});
                own.UnBind(origin.result);
            }
        }
        return made;
    }
    return error_finding("path.failed", "Nothing is left of the profile beside its holes.", "Choose another profile.");
}

Result<ShapeWithRoles> sweep_along(const gp_Ax3& given_frame, const std::vector<OutlineLoop>& loops, const Path& given,
                                   const Carrying& carrying, Progress& progress) {
    const gp_Pnt center = center_of(make_profile_face(given_frame, loops).face);
    const auto begun =
        given.parts.size() == 1 && !given.closed
            ? Result<BegunPath>(BegunPath{given, {}}) // wherever the profile lies, it is carried as it is
            : begun_at(given, gp_Pln(given_frame), center, carrying.turning);
    if (!begun) {
        return begun.finding();
    }
    const Path* path = &begun->path;
    const gp_Ax3 frame = given_frame.Transformed(begun->carried);
    const ProfileFace profile = make_profile_face(frame, loops);
    const auto swept = [&]() -> Result<ShapeWithRoles> {
        if (carrying.twist == 0) {
            ExactSweep exact(profile, *path, carrying.turning);
            if (exact.applies()) {
                return exact.sweep(progress);
            }
        }
        if (carrying.twist != 0 && !path->closed) {
            return sweep_twisted(frame, loops, *path, carrying.twist, progress);
        }
        return PipeSweep(profile, *path, carrying).sweep(progress);
    }();
    if (!swept) {
        return swept;
    }
    const std::string mend = "Choose a smaller profile, or a path that keeps farther from itself and bends less.";
    const auto crossing = self_crossing(swept->shape);
    if (const auto place = crossing ? std::optional(crossing->place) : folded_at(swept->shape)) {
        Finding finding = error_finding("path.crosses", "The sweep runs through itself here.", mend);
        add_place(finding, *place);
        return finding;
    }
    const double expected = swept_volume(profile, *path, carrying);
    const double off = std::fabs(volume_of(swept->shape) - expected);
    if (off > 1e-5 * expected) {
        return error_finding("path.crosses",
                             "The sweep does not have the volume that it should: it runs through itself somewhere, or "
                             "cannot be computed well enough.",
                             mend);
    }
    return swept;
}

} // namespace kervo::geom
