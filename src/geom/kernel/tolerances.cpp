#include "geom/kernel/tolerances.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/shape.h"

#include <Adaptor3d_CurveOnSurface.hxx>
#include <BRepLib.hxx>
#include <BRepLib_ValidateEdge.hxx>
#include <BRep_Tool.hxx>
#include <Geom2dAdaptor_Curve.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <Precision.hxx>
#include <ShapeAnalysis_ShapeTolerance.hxx>
#include <ShapeFix_ShapeTolerance.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

// How far the edge's curve is from the one that it has on the face; of a seam both. Infinite where that is not known.
double apart(const TopoDS_Edge& edge, const TopoDS_Face& face) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    const Handle(Adaptor3d_Curve) in_space = new GeomAdaptor_Curve(curve, first, last);
    const Handle(GeomAdaptor_Surface) surface = new GeomAdaptor_Surface(BRep_Tool::Surface(face));
    double most = 0;
    for (const auto side : {TopAbs_FORWARD, TopAbs_REVERSED}) {
        double from = 0;
        double to = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(TopoDS::Edge(edge.Oriented(side)), face, from, to);
        if (flat.IsNull()) {
            return Precision::Infinite();
        }
        const Handle(Adaptor3d_CurveOnSurface) on_face =
            new Adaptor3d_CurveOnSurface(new Geom2dAdaptor_Curve(flat, from, to), surface);
        BRepLib_ValidateEdge measure(in_space, on_face, Standard_True); // at the same parameters, as checks do it
        measure.Process();
        if (!measure.IsDone()) {
            return Precision::Infinite();
        }
        most = std::max(most, measure.GetMaxDistance());
    }
    return most;
}

} // namespace

void tighten_tolerances(const TopoDS_Shape& own) {
    constexpr double enough = 2e-7;      // mm
    constexpr double margin = 1.05;      // it is measured at so many places
    BRepLib::UpdateInnerTolerances(own); // as loose as they are, to the last digit: checks ask for a little more
    ByShape<double> tolerance_of;
    for (const TopoDS_Shape& face : faces_of(own)) {
        for (const TopoDS_Shape& each : edges_of(face)) {
            const TopoDS_Edge edge = TopoDS::Edge(each);
            double first = 0;
            double last = 0;
            const double said = BRep_Tool::Tolerance(edge);
            const bool loose =
                said > enough && !BRep_Tool::Degenerated(edge) && !BRep_Tool::Curve(edge, first, last).IsNull();
            const double off = loose ? apart(edge, TopoDS::Face(face)) : Precision::Infinite();
            double& tolerance = entry(tolerance_of, edge);
            tolerance =
                std::max(tolerance, Precision::IsInfinite(off) ? said : std::max(off * margin, Precision::Confusion()));
        }
    }
    ShapeFix_ShapeTolerance set;
    set.SetTolerance(own, Precision::Confusion());
    for (ByShape<double>::Iterator it(tolerance_of); it.More(); it.Next()) {
        set.SetTolerance(it.Key(), it.Value(), TopAbs_EDGE);
    }
    BRepLib::UpdateTolerances(own);
    BRepLib::UpdateInnerTolerances(own);
}

double largest_tolerance(const TopoDS_Shape& shape) {
    constexpr int largest = 1;
    ShapeAnalysis_ShapeTolerance tolerance;
    return tolerance.Tolerance(shape, largest);
}

} // namespace kervo::geom
