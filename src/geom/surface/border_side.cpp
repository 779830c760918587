#include "geom/surface/border_side.h"

#include "geom/kernel/by_shape.h"
#include "geom/surface/borders.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Curve.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

namespace kervo::geom {

BorderSide::BorderSide(const TopoDS_Edge& border, const TopoDS_Face& of) : edge(border), face(of) {
    curve_ = BRep_Tool::Curve(edge, first_, last_);
}

std::optional<BorderSide::Place> BorderSide::place(double t) const {
    if (face.IsNull()) {
        Place place;
        curve_->D1(t, place.at, place.along);
        return place.along.Magnitude() < 1e-12 ? std::nullopt : std::optional(place);
    }
    double from = 0;
    double to = 0;
    const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, from, to);
    if (flat.IsNull()) {
        return std::nullopt;
    }
    const gp_Pnt2d uv = flat->Value(from + (t - first_) * (to - from) / (last_ - first_));
    const BRepAdaptor_Surface surface(face, Standard_False);
    gp_Pnt on;
    gp_Vec du;
    gp_Vec dv;
    surface.D1(uv.X(), uv.Y(), on, du, dv);
    gp_Vec normal = du.Crossed(dv);
    Place place;
    curve_->D1(t, place.at, place.along);
    if (normal.Magnitude() < 1e-12 || place.along.Magnitude() < 1e-12) {
        return std::nullopt;
    }
    normal.Normalize();
    place.along.Normalize();
    if (face.Orientation() == TopAbs_REVERSED) {
        normal.Reverse();
    }
    if (edge.Orientation() == TopAbs_REVERSED) {
        place.along.Reverse();
    }
    place.off = place.along.Crossed(normal);
    place.off.Normalize();
    return place;
}

std::vector<BorderSide> border_sides(const TopoDS_Shape& surface) {
    ByShape<bool> free;
    for (const Border& border : free_borders(surface)) {
        for (const TopoDS_Edge& edge : border.edges) {
            free.Bind(edge, true);
        }
    }
    std::vector<BorderSide> sides;
    for (const TopoDS_Shape& face : faces_of(surface)) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            if (free.IsBound(it.Current())) {
                sides.emplace_back(TopoDS::Edge(it.Current()), TopoDS::Face(face));
            }
        }
    }
    return sides;
}

} // namespace kervo::geom
