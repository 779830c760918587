#include "geom/profile.h"

#include "geom/measure.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepPrimAPI_MakeHalfSpace.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Builder.hxx>
#include <Geom_Circle.hxx>
#include <Geom_Line.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

class ProfileBuilder {
public:
    explicit ProfileBuilder(const gp_Ax3& frame) : frame_(frame) {}

    TopoDS_Wire wire(const OutlineLoop& loop, std::vector<std::pair<TopoDS_Shape, int>>& curve_of_edge) {
        TopoDS_Wire result;
        builder_.MakeWire(result);
        for (const OutlinePiece& piece : loop) {
            const TopoDS_Edge edge = piece.radius > 0 ? arc(piece) : line(piece);
            builder_.Add(result, edge);
            curve_of_edge.emplace_back(edge, piece.curve);
        }
        result.Closed(Standard_True);
        return result;
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

    TopoDS_Edge line(const OutlinePiece& piece) {
        return BRepBuilderAPI_MakeEdge(vertex(piece.start_vertex, piece.start), vertex(piece.end_vertex, piece.end))
            .Edge();
    }

    // The kernel wants edges to run forward on their curve; a clockwise arc is a forward one, reversed.
    TopoDS_Edge arc(const OutlinePiece& piece) {
        const bool forward = piece.sweep > 0;
        const double first = forward ? piece.from : piece.from + piece.sweep;
        const double last = first + std::fabs(piece.sweep);
        const TopoDS_Vertex a = vertex(piece.start_vertex, piece.start);
        const TopoDS_Vertex b = vertex(piece.end_vertex, piece.end);
        const gp_Ax2 axis(at(piece.center), frame_.Direction(), frame_.XDirection());
        const Handle(Geom_Circle) circle = new Geom_Circle(axis, piece.radius);
        TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(circle, forward ? a : b, forward ? b : a, first, last).Edge();
        if (!forward) {
            edge.Reverse();
        }
        return edge;
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

ShapeWithRoles make_prism(const ProfileFace& profile, double start, double end) {
    const gp_Vec normal(profile.frame.Direction());
    const TopLoc_Location lift([&] {
        gp_Trsf shift;
        shift.SetTranslation(normal * start);
        return shift;
    }());
    const TopoDS_Shape base = profile.face.Moved(lift);
    BRepPrimAPI_MakePrism maker(base, normal * (end - start), Standard_False, Standard_True);
    ShapeWithRoles result{maker.Shape(), {}};
    for (const auto& [edge, curve] : profile.curve_of_edge) {
        for (const TopoDS_Shape& side : maker.Generated(edge.Moved(lift))) {
            result.roles.push_back({side, "side/c" + std::to_string(curve)});
        }
    }
    result.roles.push_back({maker.FirstShape(), "start"});
    result.roles.push_back({maker.LastShape(), "end"});
    return result;
}

Result<ShapeWithRoles> trim_by_plane(const ShapeWithRoles& solid, const gp_Pln& plane, const gp_Pnt& keep,
                                     const std::string& role) {
    // The half space lies where material is to go, so its reference point is the mirror image of `keep`.
    const gp_Pnt away = keep.Mirrored(gp_Ax2(plane.Location(), plane.Axis().Direction()));
    const TopoDS_Face border = BRepBuilderAPI_MakeFace(plane).Face();
    BRepAlgoAPI_Cut cut(solid.shape, BRepPrimAPI_MakeHalfSpace(border, away).Solid());
    if (!cut.IsDone() || solids_of(cut.Shape()).empty()) {
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
