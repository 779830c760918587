#include "geom/make/on_face.h"

#include "geom/kernel/boolean.h"
#include "geom/kernel/splines.h"
#include "geom/make/curve_flaws.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRepLib.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <BSplCLib.hxx>
#include <Geom2dAPI_Interpolate.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <Geom_Surface.hxx>
#include <Precision.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TColgp_HArray1OfPnt2d.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::geom {

std::optional<Feet> feet_of(const TopoDS_Face& face, const std::vector<gp_Pnt>& points) {
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    Feet feet;
    for (const gp_Pnt& point : points) {
        const GeomAPI_ProjectPointOnSurf nearest(point, surface);
        if (nearest.NbPoints() == 0) {
            return std::nullopt;
        }
        double u = 0;
        double v = 0;
        nearest.LowerDistanceParameters(u, v);
        if (nearest.LowerDistance() > feet.brought) {
            feet.brought = nearest.LowerDistance();
            feet.from = point;
        }
        if (!feet.at.empty() && surface->IsUPeriodic()) {
            u += surface->UPeriod() * std::round((feet.at.back().X() - u) / surface->UPeriod());
        }
        if (!feet.at.empty() && surface->IsVPeriodic()) {
            v += surface->VPeriod() * std::round((feet.at.back().Y() - v) / surface->VPeriod());
        }
        feet.at.emplace_back(u, v);
    }
    return feet;
}

Handle(Geom2d_BSplineCurve) flat_spline(const std::vector<gp_Pnt2d>& points, bool closed) {
    Handle(TColgp_HArray1OfPnt2d) places = new TColgp_HArray1OfPnt2d(1, static_cast<int>(points.size()));
    for (size_t i = 0; i < points.size(); ++i) {
        places->SetValue(static_cast<int>(i) + 1, points[i]);
    }
    Geom2dAPI_Interpolate spline(places, closed, Precision::PConfusion());
    spline.Perform();
    return spline.IsDone() ? spline.Curve() : Handle(Geom2d_BSplineCurve)();
}

Handle(Geom2d_BSplineCurve) fine_flat_spline(const std::vector<gp_Pnt2d>& points, double length) {
    double reach = 0;
    for (const gp_Pnt2d& point : points) {
        reach = std::max(reach, point.Distance(points.front()));
    }
    std::vector<gp_Pnt> raised; // so steeply that chords are as good as even
    constexpr double steep = 1e6;
    for (size_t i = 0; i < points.size(); ++i) {
        raised.emplace_back(points[i].X(), points[i].Y(), steep * reach * static_cast<double>(i));
    }
    const Handle(Geom_BSplineCurve) curve = spline_through(raised, max_curve_degree, false);
    if (curve.IsNull()) {
        return {};
    }
    TColgp_Array1OfPnt2d poles(1, curve->NbPoles());
    for (int i = 1; i <= curve->NbPoles(); ++i) {
        poles.SetValue(i, {curve->Pole(i).X(), curve->Pole(i).Y()});
    }
    TColStd_Array1OfReal knots = curve->Knots();
    BSplCLib::Reparametrize(0, length, knots);
    return new Geom2d_BSplineCurve(poles, knots, curve->Multiplicities(), curve->Degree());
}

std::optional<Finding> leaves(const TopoDS_Edge& edge, const TopoDS_Face& face) {
    const BRepAdaptor_Curve curve(edge);
    for (int i = 0; i <= places_looked_at; ++i) {
        const gp_Pnt at = curve.Value(share_of(curve, i, places_looked_at));
        if (BRepClass_FaceClassifier(face, at, curve_true_enough).State() == TopAbs_OUT) {
            return curve_flaw("space.leaves", "The curve runs beyond the border of the face here.",
                              "Add a point that keeps it on the face, or move those beside it.", at);
        }
    }
    return std::nullopt;
}

Result<TopoDS_Edge> lifted(const Handle(Geom2d_Curve) & flat, const Handle(Geom_Surface) & surface) {
    const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(flat, surface).Edge();
    BRepLib::BuildCurve3d(edge, curve_true_enough / 10, GeomAbs_C2, 14, 200);
    const BRepAdaptor_Curve curve(edge);
    for (int i = 0; i <= places_looked_at; ++i) {
        const double t = share_of(curve, i, places_looked_at);
        const gp_Pnt2d at = flat->Value(t);
        if (curve.Value(t).Distance(surface->Value(at.X(), at.Y())) > curve_true_enough) {
            return no_curve(curve.Value(t));
        }
    }
    return edge;
}

Handle(Geom_Surface) all_round(const TopoDS_Face& face) {
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    const bool u = surface->IsUClosed() && !surface->IsUPeriodic();
    const bool v = surface->IsVClosed() && !surface->IsVPeriodic();
    if (!u && !v) {
        return surface;
    }
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    surface->Bounds(u0, u1, v0, v1);
    std::array<double, 4> own{};
    BRepTools::UVBounds(face, own[0], own[1], own[2], own[3]);
    const auto bounded = [](double& low, double& high, double from, double to) {
        low = Precision::IsInfinite(low) ? from : low;
        high = Precision::IsInfinite(high) ? to : high;
    };
    bounded(u0, u1, own[0], own[1]);
    bounded(v0, v1, own[2], own[3]);
    try {
        Handle(Geom_BSplineSurface) spline =
            GeomConvert::SurfaceToBSplineSurface(new Geom_RectangularTrimmedSurface(surface, u0, u1, v0, v1));
        if (u) {
            spline->SetUPeriodic();
        }
        if (v) {
            spline->SetVPeriodic();
        }
        constexpr int looked_at = 7;
        for (int i = 0; i < looked_at * looked_at; ++i) {
            const int row = i / looked_at;
            const double a = u0 + (u1 - u0) * (i % looked_at + 0.5) / looked_at;
            const double b = v0 + (v1 - v0) * (row + 0.5) / looked_at;
            if (spline->Value(a, b).Distance(surface->Value(a, b)) > coincidence) {
                return {};
            }
        }
        return spline;
    } catch (const Standard_Failure&) {
        return {};
    }
}

Result<std::vector<TopoDS_Edge>> parts_within(const TopoDS_Edge& whole, const TopoDS_Face& face, const char* mend,
                                              Progress& progress) {
    const BRepAdaptor_Curve line(whole);
    const gp_Pnt middle = line.Value(share_of(line, 1, 2));
    BRepAlgoAPI_Common within;
    TopTools_ListOfShape edges;
    edges.Append(whole);
    TopTools_ListOfShape faces;
    faces.Append(face);
    if (!run_boolean(within, edges, faces, progress)) {
        return curve_flaw("space.failed", "The line could not be found.", mend, middle);
    }
    std::vector<TopoDS_Edge> parts;
    for (const TopoDS_Shape& part : edges_of(within.Shape())) {
        parts.push_back(TopoDS::Edge(part));
    }
    const auto start = [](const TopoDS_Edge& edge) { return BRepAdaptor_Curve(edge).FirstParameter(); };
    std::sort(parts.begin(), parts.end(), [&](const auto& a, const auto& b) { return start(a) < start(b); });
    const TopoDS_Shape all = gather({parts.begin(), parts.end()});
    for (int i = 0; i < places_looked_at; ++i) {
        const gp_Pnt at = line.Value(share_of(line, 2 * i + 1, 2 * places_looked_at));
        const auto state = BRepClass_FaceClassifier(face, at, curve_true_enough).State();
        const bool found = !parts.empty() && distance_to(all, at) < curve_true_enough;
        if (state != TopAbs_ON && found != (state == TopAbs_IN)) {
            return curve_flaw("space.failed", "The line could not be found for certain here.", mend, at);
        }
    }
    if (parts.empty()) {
        return curve_flaw("space.no_line", "The face has no such line.", mend, middle);
    }
    return parts;
}

} // namespace kervo::geom
