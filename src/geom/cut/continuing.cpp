#include "geom/cut/continuing.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <ElSLib.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <cmath>

namespace kervo::geom {

double whole_periods(double value, double period) {
    return std::round(value / period) * period;
}

gp_Pnt2d parameters_on(const BRepAdaptor_Surface& surface, const gp_Pnt& place) {
    double u = 0;
    double v = 0;
    switch (surface.GetType()) {
    case GeomAbs_Plane:
        ElSLib::Parameters(surface.Plane(), place, u, v);
        break;
    case GeomAbs_Cylinder:
        ElSLib::Parameters(surface.Cylinder(), place, u, v);
        break;
    case GeomAbs_Cone:
        ElSLib::Parameters(surface.Cone(), place, u, v);
        break;
    case GeomAbs_Sphere:
        ElSLib::Parameters(surface.Sphere(), place, u, v);
        break;
    default:
        ElSLib::Parameters(surface.Torus(), place, u, v);
    }
    return {u, v};
}

std::vector<gp_Pnt> places_along(const TopoDS_Edge& edge, int number) {
    const BRepAdaptor_Curve curve(edge);
    std::vector<gp_Pnt> places;
    for (int i = 0; i <= number; ++i) {
        const double t = i / static_cast<double>(number);
        places.push_back(curve.Value(curve.FirstParameter() * (1 - t) + curve.LastParameter() * t));
    }
    return places;
}

bool is_elementary(const BRepAdaptor_Surface& surface) {
    return surface.GetType() <= GeomAbs_Torus;
}

namespace {

constexpr double same = continuing_tolerance;

// Outwards, at a place on or near the face.
gp_Vec outwards(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const gp_Pnt& place) {
    const gp_Pnt2d at = parameters_on(surface, place);
    gp_Pnt on;
    gp_Vec du;
    gp_Vec dv;
    surface.D1(at.X(), at.Y(), on, du, dv);
    const gp_Vec normal = du.Crossed(dv);
    return face.Orientation() == TopAbs_REVERSED ? normal.Reversed() : normal;
}

} // namespace

bool continue_each_other(const TopoDS_Face& one, const TopoDS_Face& other, const TopoDS_Edge& between) {
    TopLoc_Location here;
    TopLoc_Location there;
    if (BRep_Tool::Surface(one, here) == BRep_Tool::Surface(other, there) && here.IsEqual(there) &&
        one.Orientation() == other.Orientation()) {
        return true;
    }
    const BRepAdaptor_Surface a(one, Standard_False);
    const BRepAdaptor_Surface b(other, Standard_False);
    if (a.GetType() != b.GetType() || !is_elementary(a)) {
        return false;
    }
    switch (a.GetType()) {
    case GeomAbs_Plane:
        if (!a.Plane().Axis().IsParallel(b.Plane().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Cylinder:
        if (std::fabs(a.Cylinder().Radius() - b.Cylinder().Radius()) > same ||
            !a.Cylinder().Axis().IsParallel(b.Cylinder().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Cone:
        if (a.Cone().Apex().Distance(b.Cone().Apex()) > 10 * same ||
            std::fabs(std::fabs(a.Cone().SemiAngle()) - std::fabs(b.Cone().SemiAngle())) > 1e-9 ||
            !a.Cone().Axis().IsParallel(b.Cone().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Sphere:
        if (std::fabs(a.Sphere().Radius() - b.Sphere().Radius()) > same ||
            a.Sphere().Location().Distance(b.Sphere().Location()) > same) {
            return false;
        }
        break;
    default:
        if (std::fabs(a.Torus().MajorRadius() - b.Torus().MajorRadius()) > same ||
            std::fabs(a.Torus().MinorRadius() - b.Torus().MinorRadius()) > same ||
            a.Torus().Location().Distance(b.Torus().Location()) > same ||
            !a.Torus().Axis().IsParallel(b.Torus().Axis(), 1e-9)) {
            return false;
        }
    }
    // All of the other's border lies on this surface, and both look the same way.
    for (TopExp_Explorer it(other, TopAbs_EDGE); it.More(); it.Next()) {
        if (BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
            continue;
        }
        for (const gp_Pnt& place : places_along(TopoDS::Edge(it.Current()), 4)) {
            const gp_Pnt2d at = parameters_on(a, place);
            if (a.Value(at.X(), at.Y()).Distance(place) > 10 * same) {
                return false;
            }
        }
    }
    const gp_Pnt middle = places_along(between, 2)[1];
    return outwards(one, a, middle).Dot(outwards(other, b, middle)) > 0;
}

namespace {

// As the edge runs.
gp_Vec way_of(const TopoDS_Edge& edge, const Handle(Geom_Curve) & curve, double at) {
    const gp_Vec way = curve->DN(at, 1);
    return edge.Orientation() == TopAbs_REVERSED ? way.Reversed() : way;
}

} // namespace

bool runs_along(const TopoDS_Edge& edge, const TopoDS_Edge& on) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) own = BRep_Tool::Curve(edge, first, last);
    const double middle = (first + last) / 2;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(on, first, last);
    const GeomAPI_ProjectPointOnCurve foot(own->Value(middle), curve, first, last);
    const double there = foot.NbPoints() > 0 ? foot.LowerDistanceParameter() : (first + last) / 2;
    return way_of(edge, own, middle).Dot(way_of(on, curve, there)) > 0;
}

} // namespace kervo::geom
