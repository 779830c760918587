#include "geom/measure/in_words.h"

#include "base/units.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <Bnd_Box.hxx>
#include <TopoDS.hxx>
#include <gp_Circ.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>

#include <cmath>
#include <numbers>

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
std::string extents(const TopoDS_Shape& face, const gp_Dir& normal, const Sizes& size) {
    const gp_Dir across = std::fabs(normal.Z()) > 0.9998 ? gp_Dir(1, 0, 0) : gp_Dir(0, 0, 1).Crossed(normal);
    gp_Trsf onto_the_sheet;
    onto_the_sheet.SetTransformation(gp_Ax3(gp_Pnt(), normal, across));
    Bnd_Box box;
    BRepBndLib::AddOptimal(face.Moved(onto_the_sheet), box, Standard_False, Standard_False);
    if (box.IsVoid()) {
        return {};
    }
    const gp_XYZ wide = box.CornerMax().XYZ() - box.CornerMin().XYZ();
    return ", " + size(wide.X()) + " x " + size(wide.Y());
}

} // namespace

std::string face_in_words(const TopoDS_Shape& shape, const std::string& unit) {
    const Sizes size(unit);
    const TopoDS_Face& face = TopoDS::Face(shape);
    const BRepAdaptor_Surface surface(face);
    const bool reversed = face.Orientation() == TopAbs_REVERSED;
    const bool whole = surface.LastUParameter() - surface.FirstUParameter() > 2 * std::numbers::pi - 1e-6;
    switch (surface.GetType()) {
    case GeomAbs_Plane: {
        const gp_Ax3 frame = surface.Plane().Position();
        const bool turned = reversed != !frame.Direct();
        const gp_Dir normal = turned ? frame.Direction().Reversed() : frame.Direction();
        return "flat, " + looks(normal) + extents(face, normal, size);
    }
    case GeomAbs_Cylinder: {
        const double radius = surface.Cylinder().Radius();
        const bool inner = reversed != !surface.Cylinder().Position().Direct();
        return inner ? (whole ? "hole, " + size.diameter(radius) : "hollow side, R" + size(radius))
                     : "round side, " + (whole ? size.diameter(radius) : "R" + size(radius));
    }
    case GeomAbs_Cone:
        return (reversed != !surface.Cone().Position().Direct()) ? "countersink" : "cone";
    case GeomAbs_Sphere:
        return "ball, " + size.diameter(surface.Sphere().Radius());
    case GeomAbs_Torus:
        return "ring, R" + size(surface.Torus().MinorRadius());
    default:
        return "curved face";
    }
}

std::string edge_in_words(const TopoDS_Shape& shape, const std::string& unit) {
    const Sizes size(unit);
    const BRepAdaptor_Curve curve(TopoDS::Edge(shape));
    const double length = length_of(shape);
    if (curve.GetType() == GeomAbs_Line) {
        return "straight edge, " + size(length);
    }
    if (curve.GetType() == GeomAbs_Circle) {
        const double radius = curve.Circle().Radius();
        return length > 2 * std::numbers::pi * radius * (1 - 1e-9) ? "rim, " + size.diameter(radius)
                                                                   : "arc, R" + size(radius) + ", " + size(length);
    }
    return "curved edge, " + size(length);
}

} // namespace kervo::geom
