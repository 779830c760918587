#include "geom/path.h"

#include <BRepAdaptor_CompCurve.hxx>
#include <BRep_Tool.hxx>
#include <ShapeAnalysis_FreeBounds.hxx>
#include <TopTools_HSequenceOfShape.hxx>
#include <TopoDS.hxx>

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

std::vector<PlaceOnPath> places_along(const TopoDS_Wire& path, int count) {
    const BRepAdaptor_CompCurve curve(path, Standard_True); // by arc length
    const double length = curve.LastParameter() - curve.FirstParameter();
    std::vector<PlaceOnPath> places;
    for (int i = 0; i < count; ++i) {
        const double from = length * i / (BRep_Tool::IsClosed(path) ? count : count - 1);
        PlaceOnPath place;
        curve.D1(curve.FirstParameter() + from, place.point, place.along);
        place.along.Normalize();
        places.push_back(place);
    }
    return places;
}

} // namespace kervo::geom
