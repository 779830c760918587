#include "geom/outline/path.h"

#include <BRepAdaptor_CompCurve.hxx>
#include <BRep_Tool.hxx>
#include <ShapeAnalysis_FreeBounds.hxx>
#include <TopTools_HSequenceOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

Result<TopoDS_Wire> chain_of(const std::vector<TopoDS_Shape>& edges) {
    Handle(TopTools_HSequenceOfShape) loose = new TopTools_HSequenceOfShape;
    for (const TopoDS_Shape& edge : edges) {
        loose->Append(edge);
    }
    Handle(TopTools_HSequenceOfShape) wires;
    ShapeAnalysis_FreeBounds::ConnectEdgesToWires(loose, 1e-5, Standard_False, wires);
    if (edges.empty() || wires.IsNull() || wires->Length() != 1) {
        return error_finding("path.broken", "These edges do not join to one chain.",
                             "Take edges that follow each other end to end.");
    }
    return TopoDS::Wire(wires->Value(1));
}

namespace {

// In the plane square to `across`.
gp_Vec reflected(const gp_Vec& v, const gp_Vec& across) {
    return v - across * (2 * across.Dot(v) / across.SquareMagnitude());
}

} // namespace

CarriedFrame CarriedFrame::at_start(const gp_Pnt& place, const gp_Vec& heading) {
    const gp_Vec guide = std::fabs(heading.Z()) > 0.9 ? gp_Vec(1, 0, 0) : gp_Vec(0, 0, 1);
    return {place, heading, heading.Crossed(guide).Normalized()};
}

void CarriedFrame::carry_to(const gp_Pnt& next, const gp_Vec& heading) {
    gp_Vec ahead = along;
    if (const gp_Vec way(at, next); way.Magnitude() > 1e-12) {
        side = reflected(side, way);
        ahead = reflected(along, way);
    }
    if (const gp_Vec off = heading - ahead; off.Magnitude() > 1e-12) {
        side = reflected(side, off);
    }
    at = next;
    along = heading;
    side = (side - along * side.Dot(along)).Normalized();
}

gp_Mat CarriedFrame::axes() const {
    const gp_Vec third = along.Crossed(side);
    return {along.X(), side.X(), third.X(), along.Y(), side.Y(), third.Y(), along.Z(), side.Z(), third.Z()};
}

std::vector<PlaceOnPath> places_along(const TopoDS_Wire& path, int count) {
    const BRepAdaptor_CompCurve curve(path, Standard_True); // by arc length
    const double first = curve.FirstParameter();
    const double length = curve.LastParameter() - first;
    const double gap = length / (BRep_Tool::IsClosed(path) ? count : count - 1);
    const auto place_at = [&](double from) {
        PlaceOnPath place;
        curve.D1(first + std::min(from, length), place.point, place.along);
        place.along.Normalize();
        return place;
    };
    constexpr double samples = 512; // on the whole path, at least; each place is one of them
    const int between = std::max(1, static_cast<int>(std::ceil(samples / count)));
    std::vector<PlaceOnPath> places{place_at(0)};
    CarriedFrame frame = CarriedFrame::at_start(places.front().point, places.front().along);
    const gp_Mat start = frame.axes().Transposed();
    for (int i = 1; i < count; ++i) {
        for (int k = 1; k <= between; ++k) {
            const PlaceOnPath next = place_at(gap * (i - 1 + k / static_cast<double>(between)));
            frame.carry_to(next.point, next.along);
            if (k == between) {
                places.push_back(next);
            }
        }
        places.back().turn = gp_Quaternion(frame.axes() * start);
    }
    return places;
}

} // namespace kervo::geom
