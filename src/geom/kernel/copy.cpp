#include "geom/kernel/copy.h"

#include "geom/measure/measure.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_GTransform.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepTools_ReShape.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom_Plane.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <gp_GTrsf.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

// The kernel makes everything free-form where it stretches. What was flat, and what was straight between flat faces,
// becomes so again.
class Flattening {
public:
    Flattening(BRepBuilderAPI_GTransform& stretched, const TopoDS_Shape& before) {
        TopTools_IndexedDataMapOfShapeListOfShape faces_at_edge;
        TopExp::MapShapesAndAncestors(before, TopAbs_EDGE, TopAbs_FACE, faces_at_edge);
        const auto flat = [](const TopoDS_Shape& face) {
            return BRepAdaptor_Surface(TopoDS::Face(face), Standard_False).GetType() == GeomAbs_Plane;
        };
        for (int i = 1; i <= faces_at_edge.Extent(); ++i) {
            const TopoDS_Edge edge = TopoDS::Edge(faces_at_edge.FindKey(i));
            const auto& faces = faces_at_edge(i);
            if (direction_of(edge) && std::all_of(faces.begin(), faces.end(), flat)) {
                const TopoDS_Edge now = TopoDS::Edge(stretched.ModifiedShape(edge).Oriented(TopAbs_FORWARD));
                BRepBuilderAPI_MakeEdge straight(TopExp::FirstVertex(now), TopExp::LastVertex(now));
                if (straight.IsDone()) {
                    reshape_->Replace(now, straight.Edge());
                }
            }
        }
        for (const TopoDS_Shape& face : faces_of(before)) {
            if (flat(face)) {
                const TopoDS_Face now = TopoDS::Face(stretched.ModifiedShape(face).Oriented(TopAbs_FORWARD));
                reshape_->Replace(now, flattened(now));
            }
        }
    }

    [[nodiscard]] TopoDS_Shape applied(const TopoDS_Shape& shape) const { return reshape_->Apply(shape); }

private:
    // On a plane, with the same loops.
    [[nodiscard]] TopoDS_Face flattened(const TopoDS_Face& face) const {
        const BRepAdaptor_Surface surface(face, Standard_False);
        gp_Pnt at;
        gp_Vec along;
        gp_Vec across;
        surface.D1(surface.FirstUParameter(), surface.FirstVParameter(), at, along, across);
        TopoDS_Face plane;
        const BRep_Builder builder;
        builder.MakeFace(plane, new Geom_Plane(at, gp_Dir(along.Crossed(across))), BRep_Tool::Tolerance(face));
        for (TopoDS_Iterator it(face); it.More(); it.Next()) {
            builder.Add(plane, reshape_->Apply(it.Value()));
        }
        return plane;
    }

    Handle(BRepTools_ReShape) reshape_ = new BRepTools_ReShape;
};

ShapeWithRoles in_free_form(const ShapeWithRoles& made, const gp_GTrsf& change) {
    BRepBuilderAPI_GTransform maker(made.shape, change, Standard_True);
    ShapeWithRoles there;
    if (maker.IsDone()) {
        Flattening flattening(maker, made.shape);
        there.shape = flattening.applied(maker.Shape());
        for (const FaceRole& role : made.roles) {
            there.roles.push_back({flattening.applied(maker.ModifiedShape(role.face)), role.role});
        }
    }
    return there;
}

} // namespace

ShapeWithRoles transformed(const ShapeWithRoles& made, const gp_Trsf& move) {
    const bool own_geometry = move.IsNegative() || std::fabs(std::fabs(move.ScaleFactor()) - 1) > 1e-15;
    BRepBuilderAPI_Transform mover(made.shape, move, own_geometry);
    ShapeWithRoles there{mover.Shape(), {}};
    for (const FaceRole& role : made.roles) {
        there.roles.push_back({mover.ModifiedShape(role.face), role.role});
    }
    return there;
}

ShapeWithRoles stretched(const ShapeWithRoles& made, const gp_Pnt& about, const std::array<double, 3>& factors) {
    if (factors[0] == factors[1] && factors[1] == factors[2]) {
        gp_Trsf grow;
        grow.SetScale(about, factors[0]);
        return transformed(made, grow);
    }
    gp_GTrsf grow;
    for (int k = 1; k <= 3; ++k) {
        const double factor = factors[static_cast<size_t>(k) - 1];
        grow.SetValue(k, k, factor);
        grow.SetValue(k, 4, about.Coord(k) * (1 - factor));
    }
    return in_free_form(made, grow);
}

ShapeWithRoles free_form(const ShapeWithRoles& made) {
    return in_free_form(made, gp_GTrsf());
}

std::array<double, 2> middle_of(const std::vector<OutlineLoop>& loops) {
    const gp_Pnt middle = centroid_of(make_profile_face(gp_Ax3(), loops).face);
    return {middle.X(), middle.Y()};
}

std::vector<OutlineLoop> scaled(const std::vector<OutlineLoop>& loops, double scale,
                                const std::array<double, 2>& middle) {
    const auto move = [&](std::array<double, 2>& p) {
        for (size_t k = 0; k < 2; ++k) {
            p[k] = middle[k] + (p[k] - middle[k]) * scale;
        }
    };
    auto larger = loops;
    for (OutlineLoop& loop : larger) {
        for (OutlinePiece& piece : loop) {
            move(piece.start);
            move(piece.end);
            move(piece.center);
            piece.radius *= scale;
            piece.other_half *= scale;
            piece.axis = {piece.axis[0] * scale, piece.axis[1] * scale};
            for (auto& pole : piece.poles) {
                move(pole);
            }
        }
    }
    return larger;
}

} // namespace kervo::geom
