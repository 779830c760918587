#include "geom/outline/profile.h"

#include "geom/kernel/boolean.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/walls.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepPrimAPI_MakeHalfSpace.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace kervo::geom {

namespace {

class ProfileBuilder {
public:
    explicit ProfileBuilder(const gp_Ax3& frame) : frame_(frame) {}

    TopoDS_Wire wire(const OutlineLoop& loop, std::vector<std::pair<TopoDS_Shape, std::string>>& curve_of_edge) {
        TopoDS_Wire result;
        builder_.MakeWire(result);
        for (const OutlinePiece& piece : loop) {
            const TopoDS_Edge one = edge(piece);
            builder_.Add(result, one);
            curve_of_edge.emplace_back(one, piece.curve);
        }
        result.Closed(Standard_True);
        return result;
    }

    // The kernel wants edges to run forward on their curve; a piece that runs backward is a forward one, reversed.
    TopoDS_Edge edge(const OutlinePiece& piece) {
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) curve = curve_on(frame_, piece, {}, first, last);
        const bool forward = runs_forward(piece);
        const TopoDS_Vertex a = vertex(piece.start_vertex, piece.start);
        const TopoDS_Vertex b = vertex(piece.end_vertex, piece.end);
        TopoDS_Edge made = edge_on(curve, first, last, forward ? a : b, forward ? b : a);
        if (!forward) {
            made.Reverse();
        }
        return made;
    }

private:
    gp_Pnt at(const std::array<double, 2>& p) const {
        return frame_.Location().Translated(gp_Vec(frame_.XDirection()) * p[0] + gp_Vec(frame_.YDirection()) * p[1]);
    }

    const TopoDS_Vertex& vertex(int number, const std::array<double, 2>& place) {
        auto [it, fresh] = vertices_.try_emplace(number);
        if (fresh) {
            builder_.MakeVertex(it->second, at(place), Precision::Confusion());
        }
        return it->second;
    }

    gp_Ax3 frame_;
    BRep_Builder builder_;
    std::map<int, TopoDS_Vertex> vertices_;
};

} // namespace

ProfileFace make_profile_face(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops) {
    ProfileFace result;
    result.frame = frame;
    ProfileBuilder builder(frame);
    BRepBuilderAPI_MakeFace maker(gp_Pln(frame), builder.wire(loops.front(), result.curve_of_edge), Standard_True);
    for (size_t i = 1; i < loops.size(); ++i) {
        maker.Add(builder.wire(loops[i], result.curve_of_edge));
    }
    result.face = maker.Face();
    return result;
}

ShapeWithRoles make_curves(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces) {
    ShapeWithRoles made;
    ProfileBuilder builder(frame);
    std::vector<TopoDS_Shape> edges;
    for (const OutlinePiece& piece : pieces) {
        edges.push_back(builder.edge(piece));
        made.roles.push_back({edges.back(), "curve/c" + piece.curve});
    }
    made.shape = gather(edges);
    return made;
}

namespace {

bool touches_itself(const std::vector<OutlineLoop>& loops) {
    std::set<int> vertices;
    for (const OutlineLoop& loop : loops) {
        for (const OutlinePiece& piece : loop) {
            if (!vertices.insert(piece.start_vertex).second) {
                return true;
            }
        }
    }
    return false;
}

} // namespace

namespace {

using CurveOfEdge = std::vector<std::pair<TopoDS_Shape, std::string>>;

// What ends a surface that curves sweep: where it begins and ends (of what goes all round there is none), and what the
// ends of curves sweep.
template <class Maker>
void add_border_roles(ShapeWithRoles& result, Maker& maker, const CurveOfEdge& curves, bool all_round) {
    for (const auto& [edge, curve] : curves) {
        if (!all_round) {
            result.roles.push_back({maker.FirstShape(edge), "start"});
            result.roles.push_back({maker.LastShape(edge), "end"});
        }
        const TopoDS_Vertex ends[2]{TopExp::FirstVertex(TopoDS::Edge(edge)), TopExp::LastVertex(TopoDS::Edge(edge))};
        for (const size_t i : {0U, 1U}) {
            for (const TopoDS_Shape& side : maker.Generated(ends[i])) {
                result.roles.push_back({side, "side/c" + curve + (i == 0 ? "/first" : "/last")});
            }
        }
    }
}

// The kernel's sweeps of a face with its borders, or of curves alone.
ShapeWithRoles extrude(const TopoDS_Shape& base, const CurveOfEdge& curve_of_edge, const gp_Vec& way) {
    BRepPrimAPI_MakePrism maker(base, way, Standard_False, Standard_True);
    ShapeWithRoles result{maker.Shape(), {}};
    for (const auto& [edge, curve] : curve_of_edge) {
        for (const TopoDS_Shape& side : maker.Generated(edge)) {
            result.roles.push_back({side, "side/c" + curve});
        }
    }
    if (base.ShapeType() == TopAbs_FACE) {
        result.roles.push_back({maker.FirstShape(), "start"});
        result.roles.push_back({maker.LastShape(), "end"});
    } else {
        add_border_roles(result, maker, curve_of_edge, false);
    }
    return result;
}

ShapeWithRoles revolve(const TopoDS_Shape& unturned, const CurveOfEdge& curve_of_edge, const gp_Ax1& axis, double start,
                       double sweep) {
    gp_Trsf turned;
    turned.SetRotation(axis, start);
    const TopLoc_Location place(turned);
    const TopoDS_Shape base = unturned.Moved(place);
    const bool whole = std::fabs(sweep) > 2 * M_PI - 1e-9;
    // A whole turn is one turn: the kernel closes it.
    BRepPrimAPI_MakeRevol maker = whole ? BRepPrimAPI_MakeRevol(base, axis, Standard_False)
                                        : BRepPrimAPI_MakeRevol(base, axis, sweep, Standard_False);
    ShapeWithRoles result{maker.Shape(), {}};
    std::vector<TopoDS_Shape> flat = faces_of(result.shape);
    std::erase_if(flat, [](const TopoDS_Shape& face) { return !plane_of(face); });
    for (const auto& [edge, curve] : curve_of_edge) {
        const TopoDS_Shape moved = edge.Moved(place);
        TopTools_ListOfShape sides = maker.Generated(moved);
        if (whole && sides.IsEmpty()) { // the kernel does not tell of flat rings and discs
            const BRepAdaptor_Curve along(TopoDS::Edge(moved));
            const gp_Pnt middle = along.Value((along.FirstParameter() + along.LastParameter()) / 2);
            for (const TopoDS_Shape& face : flat) {
                if (plane_of(face)->Distance(middle) < coincidence && distance_to(face, middle) < coincidence) {
                    sides.Append(face);
                }
            }
        }
        for (const TopoDS_Shape& side : sides) {
            if (side.ShapeType() == TopAbs_FACE) { // an edge on the axis makes none
                result.roles.push_back({side, "side/c" + curve});
            }
        }
    }
    if (base.ShapeType() != TopAbs_FACE) {
        CurveOfEdge curves = curve_of_edge;
        for (auto& [edge, curve] : curves) {
            edge.Move(place);
        }
        add_border_roles(result, maker, curves, whole);
    } else if (!whole) {
        result.roles.push_back({maker.FirstShape(), "start"});
        result.roles.push_back({maker.LastShape(), "end"});
    }
    return result;
}

// With the material inside.
ShapeWithRoles looking_out(ShapeWithRoles made) {
    if (volume_of(made.shape) < 0) {
        made.shape.Reverse();
    }
    return made;
}

CurveOfEdge labels_of(const ShapeWithRoles& curves) {
    CurveOfEdge labels;
    for (const FaceRole& role : curves.roles) {
        labels.emplace_back(role.face, role.role.substr(std::string("curve/c").size()));
    }
    return labels;
}

} // namespace

// Also for outlines whose walls meet in an edge that others share.
ShapeWithRoles prism_over(const ProfileFace& profile, const gp_Vec& way) {
    return looking_out(extrude(profile.face, profile.curve_of_edge, way));
}

ShapeWithRoles extrude_curves(const ShapeWithRoles& curves, const gp_Vec& way) {
    return extrude(curves.shape, labels_of(curves), way);
}

ShapeWithRoles revolve_curves(const ShapeWithRoles& curves, const gp_Ax1& axis, double start, double sweep) {
    return revolve(curves.shape, labels_of(curves), axis, start, sweep);
}

ShapeWithRoles make_oblique_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const gp_Vec& rise,
                                  double start, double end) {
    gp_Ax3 lifted = frame;
    lifted.Translate(rise * start);
    return prism_over(make_profile_face(lifted, loops), rise * (end - start));
}

ShapeWithRoles make_prism(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, double start, double end) {
    if (touches_itself(loops)) {
        return make_oblique_prism(frame, loops, gp_Vec(frame.Direction()), start, end);
    }
    const BRep_Builder builder;
    const std::array<Level, 2> levels{Level{std::min(start, end), 0, 0}, Level{std::max(start, end), 0, 0}};
    std::array<TopoDS_Face, 2> caps;
    std::array<Handle(Geom_Plane), 2> planes;
    for (const size_t i : {0U, 1U}) {
        planes[i] = new Geom_Plane(gp_Ax3(frame.Location().Translated(gp_Vec(frame.Direction()) * levels[i].height),
                                          frame.Direction(), frame.XDirection()));
        builder.MakeFace(caps[i], planes[i], coincidence);
    }
    ShapeWithRoles result;
    TopoDS_Shell shell;
    builder.MakeShell(shell);
    for (const OutlineLoop& loop : loops) {
        const Walls walls(frame, loop);
        const std::array<Rim, 2> rims{walls.rim(levels[0]), walls.rim(levels[1])};
        const auto sides = walls.between(rims[0], rims[1]);
        for (size_t i = 0; i < sides.size(); ++i) {
            builder.Add(shell, sides[i]);
            result.roles.push_back({sides[i], "side/c" + loop[i].curve});
        }
        for (const size_t i : {0U, 1U}) {
            Walls::lay_on(rims[i], planes[i], {});
            builder.Add(caps[i], rims[i].wire);
        }
    }
    builder.Add(shell, caps[0].Oriented(TopAbs_REVERSED));
    builder.Add(shell, caps[1]);
    shell.Closed(Standard_True);
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    builder.Add(solid, shell);
    result.shape = solid;
    result.roles.push_back({caps[start < end ? 0 : 1], "start"});
    result.roles.push_back({caps[start < end ? 1 : 0], "end"});
    return result;
}

ShapeWithRoles make_revolution(const ProfileFace& profile, const gp_Ax1& axis, double start, double sweep) {
    return looking_out(revolve(profile.face, profile.curve_of_edge, axis, start, sweep));
}

Result<ShapeWithRoles> trim_by_plane(const ShapeWithRoles& solid, const gp_Pln& plane, const gp_Pnt& keep,
                                     const std::string& role) {
    // The half space lies where material is to go, so its reference point is the mirror image of `keep`.
    const gp_Pnt away = keep.Mirrored(gp_Ax2(plane.Location(), plane.Axis().Direction()));
    const TopoDS_Face border = BRepBuilderAPI_MakeFace(plane).Face();
    BRepAlgoAPI_Cut cut;
    if (!run_boolean(cut, solid.shape, BRepPrimAPI_MakeHalfSpace(border, away).Solid()) ||
        solids_of(cut.Shape()).empty()) {
        return error_finding("profile.no_end", "The face it should end at does not lie across the profile.",
                             "Choose a face that the profile meets.");
    }
    ShapeWithRoles result{cut.Shape(), {}};
    std::vector<TopoDS_Shape> left = faces_of(result.shape);
    const auto take = [&](const TopoDS_Shape& face, const std::string& name) {
        const auto at = std::find_if(left.begin(), left.end(), [&](const TopoDS_Shape& f) { return f.IsSame(face); });
        if (at != left.end()) {
            result.roles.push_back({face, name});
            left.erase(at);
        }
    };
    for (const FaceRole& old : solid.roles) {
        const auto& modified = cut.Modified(old.face);
        for (const TopoDS_Shape& face : modified) {
            take(face, old.role);
        }
        if (modified.IsEmpty() && !cut.IsDeleted(old.face)) {
            take(old.face, old.role);
        }
    }
    for (const TopoDS_Shape& face : std::vector<TopoDS_Shape>(left)) {
        take(face, role);
    }
    return result;
}

std::optional<gp_Pln> plane_of(const TopoDS_Shape& face) {
    const BRepAdaptor_Surface surface(TopoDS::Face(face), Standard_False);
    if (surface.GetType() != GeomAbs_Plane) {
        return std::nullopt;
    }
    gp_Pln plane = surface.Plane();
    gp_Dir normal = plane.Axis().Direction();
    if (!plane.Direct()) {
        normal.Reverse();
    }
    if (face.Orientation() == TopAbs_REVERSED) {
        normal.Reverse();
    }
    return gp_Pln(gp_Ax3(plane.Location(), normal));
}

gp_Ax3 frame_on_plane(const gp_Pln& plane) {
    const gp_Dir normal = plane.Axis().Direction();
    const double height = gp_Vec(gp_Pnt(0, 0, 0), plane.Location()).Dot(gp_Vec(normal));
    const gp_Pnt origin = gp_Pnt(0, 0, 0).Translated(gp_Vec(normal) * height);
    const gp_Dir guide = std::fabs(normal.X()) > 0.9 ? gp_Dir(0, 1, 0) : gp_Dir(1, 0, 0);
    return {origin, normal, guide};
}

} // namespace kervo::geom
