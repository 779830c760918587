#include "geom/measure/looks.h"

#include "base/units.h"
#include "geom/kernel/space.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Circ.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>

#include <cmath>
#include <numbers>
#include <tuple>

namespace kervo::geom {

namespace {

// Writes lengths.
class Sizes {
public:
    explicit Sizes(const std::string& unit) : unit_(unit) {}
    [[nodiscard]] std::string operator()(double mm) const { return format_quantity(mm, unit_, unit_ == "mm" ? 2 : 4); }
    [[nodiscard]] std::string diameter(double radius) const { return "\u00d8" + (*this)(2 * radius); }

private:
    const std::string& unit_;
};

// The way it looks, where that is along an axis.
std::string looks(const gp_Dir& normal) {
    constexpr double nearly = 0.9998; // within a degree
    const std::pair<gp_Dir, const char*> ways[] = {{gp_Dir(0, 0, 1), "upper"},  {gp_Dir(0, 0, -1), "under"},
                                                   {gp_Dir(0, -1, 0), "front"}, {gp_Dir(0, 1, 0), "back"},
                                                   {gp_Dir(-1, 0, 0), "left"},  {gp_Dir(1, 0, 0), "right"}};
    for (const auto& [way, name] : ways) {
        if (normal.Dot(way) > nearly) {
            return name;
        }
    }
    return "leaning";
}

// How wide and how high a flat face is: along level lines on it, and square to them.
std::pair<double, double> extents(const TopoDS_Shape& face, const gp_Dir& normal) {
    const gp_Dir across = std::fabs(normal.Z()) > 0.9998 ? gp_Dir(1, 0, 0) : gp_Dir(0, 0, 1).Crossed(normal);
    gp_Trsf onto_the_sheet;
    onto_the_sheet.SetTransformation(gp_Ax3(gp_Pnt(), normal, across));
    Bnd_Box box;
    BRepBndLib::AddOptimal(face.Moved(onto_the_sheet), box, Standard_False, Standard_False);
    if (box.IsVoid()) {
        return {};
    }
    const gp_XYZ wide = box.CornerMax().XYZ() - box.CornerMin().XYZ();
    return {wide.X(), wide.Y()};
}

std::string face_in_words(const Look& look, const Sizes& size) {
    if (look.kind == "plane") {
        return "flat, " + look.way + (look.width > 0 ? ", " + size(look.width) + " x " + size(look.height) : "");
    }
    if (look.kind == "cylinder") {
        return look.inner ? (look.whole ? "hole, " + size.diameter(look.radius) : "hollow side, R" + size(look.radius))
                          : "round side, " + (look.whole ? size.diameter(look.radius) : "R" + size(look.radius));
    }
    if (look.kind == "cone") {
        return look.inner ? "countersink" : "cone";
    }
    if (look.kind == "sphere") {
        return "ball, " + size.diameter(look.radius);
    }
    return look.kind == "torus" ? "ring, R" + size(look.tube) : "curved face";
}

} // namespace

Look look_of_face(const TopoDS_Shape& shape) {
    const TopoDS_Face& face = TopoDS::Face(shape);
    const BRepAdaptor_Surface surface(face);
    const bool reversed = face.Orientation() == TopAbs_REVERSED;
    Look look;
    look.kind = surface_kind(shape);
    look.whole = surface.LastUParameter() - surface.FirstUParameter() > 2 * std::numbers::pi - 1e-6;
    switch (surface.GetType()) {
    case GeomAbs_Plane: {
        const gp_Ax3 frame = surface.Plane().Position();
        const bool turned = reversed != !frame.Direct();
        const gp_Dir normal = turned ? frame.Direction().Reversed() : frame.Direction();
        look.way = looks(normal);
        std::tie(look.width, look.height) = extents(face, normal);
        break;
    }
    case GeomAbs_Cylinder:
        look.radius = surface.Cylinder().Radius();
        look.inner = reversed != !surface.Cylinder().Position().Direct();
        break;
    case GeomAbs_Cone:
        look.inner = reversed != !surface.Cone().Position().Direct();
        break;
    case GeomAbs_Sphere:
        look.radius = surface.Sphere().Radius();
        break;
    case GeomAbs_Torus:
        look.radius = surface.Torus().MajorRadius();
        look.tube = surface.Torus().MinorRadius();
        break;
    default:
        break;
    }
    return look;
}

Look look_of_edge(const TopoDS_Shape& edge) {
    const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
    Look look;
    look.kind = curve_kind(edge);
    look.length = length_of(edge);
    if (curve.GetType() == GeomAbs_Circle) {
        look.radius = curve.Circle().Radius();
        look.whole = look.length > 2 * std::numbers::pi * look.radius * (1 - 1e-9);
    }
    return look;
}

bool is_degenerate(const TopoDS_Shape& edge) {
    return BRep_Tool::Degenerated(TopoDS::Edge(edge));
}

std::array<TopoDS_Shape, 2> ends_of(const TopoDS_Shape& edge) {
    return {TopExp::FirstVertex(TopoDS::Edge(edge)), TopExp::LastVertex(TopoDS::Edge(edge))};
}

std::array<Vector3, 2> ways_out(const TopoDS_Shape& edge) {
    const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
    const auto way_at = [&](double parameter, double sign) {
        gp_Pnt place;
        gp_Vec way;
        curve.D1(parameter, place, way);
        return way.Magnitude() < 1e-12 ? Vector3() : plain(way * sign).unit();
    };
    return {way_at(curve.FirstParameter(), 1), way_at(curve.LastParameter(), -1)};
}

std::string in_words(const Look& look, const std::string& unit) {
    const Sizes size(unit);
    if (look.length == 0) {
        return face_in_words(look, size);
    }
    if (look.kind == "line") {
        return "straight edge, " + size(look.length);
    }
    if (look.kind == "circle") {
        return look.whole ? "rim, " + size.diameter(look.radius)
                          : "arc, R" + size(look.radius) + ", " + size(look.length);
    }
    return "curved edge, " + size(look.length);
}

} // namespace kervo::geom
