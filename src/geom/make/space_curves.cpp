#include "geom/make/space_curves.h"

#include "geom/kernel/boolean.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/join_ends.h"
#include "geom/kernel/splines.h"
#include "geom/measure/arc_length.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRepLib.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <Geom2dAPI_Interpolate.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <Geom_Surface.hxx>
#include <Precision.hxx>
#include <TColgp_HArray1OfPnt2d.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double true_enough = 1e-6; // mm
constexpr int looked_at = 64;        // places along a curve

Finding told(const char* code, const std::string& cause, const char* mend, const gp_Pnt& at) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, at);
    return finding;
}

Finding no_curve(const gp_Pnt& at) {
    return told("space.no_curve", "No curve could be made of these points.", "Move them, or take some of them out.",
                at);
}

// What is wrong with points as a curve's.
std::optional<Finding> flaw_of(const std::vector<gp_Pnt>& points, bool closed) {
    const size_t least = closed ? 3 : 2;
    if (points.size() < least) {
        Finding finding = error_finding(
            "space.no_curve",
            closed ? "A closed curve needs three points or more." : "A curve needs two points or more.", "Add some.");
        return finding;
    }
    for (size_t i = closed ? 0 : 1; i < points.size(); ++i) {
        if (points[i].Distance(points[(i + points.size() - 1) % points.size()]) < true_enough) {
            return told("space.no_curve", "Two points in a row are at the same place.",
                        "Take one of them out; a closed curve comes back by itself.", points[i]);
        }
    }
    return std::nullopt;
}

double share_of(const BRepAdaptor_Curve& curve, int i, int of) {
    return curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / of;
}

} // namespace

Result<std::vector<TopoDS_Edge>> curve_of_points(const std::vector<gp_Pnt>& points, PointsAre are, int degree,
                                                 bool closed) try {
    if (auto flaw = flaw_of(points, closed)) {
        return std::move(*flaw);
    }
    if (degree <= 1 || (points.size() == 2 && !closed)) {
        std::vector<TopoDS_Edge> lines;
        for (size_t i = 1; i < points.size() + (closed ? 1 : 0); ++i) {
            lines.push_back(BRepBuilderAPI_MakeEdge(points[i - 1], points[i % points.size()]).Edge());
        }
        return join_ends(lines, coincidence);
    }
    const Handle(Geom_BSplineCurve) curve =
        are == PointsAre::passed ? spline_through(points, degree, closed) : spline_by_poles(points, degree, closed);
    if (curve.IsNull()) {
        return no_curve(points.front());
    }
    const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
    for (const gp_Pnt& point : are == PointsAre::passed ? points : std::vector<gp_Pnt>{}) {
        if (distance_to(edge, point) > true_enough) {
            return no_curve(point);
        }
    }
    return std::vector<TopoDS_Edge>{edge};
} catch (const Standard_Failure&) {
    return no_curve(points.front());
}

namespace {

// Where points are nearest to the surface, in its parameters; around a closed surface the short way from each to the
// next.
struct Feet {
    std::vector<gp_Pnt2d> at;
    double brought = 0;
    gp_Pnt from;
};
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

} // namespace

Result<CurveOnFace> curve_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed) try {
    if (auto flaw = flaw_of(points, closed)) {
        return std::move(*flaw);
    }
    const auto feet = feet_of(face, points);
    const Handle(Geom2d_BSplineCurve) flat = feet ? flat_spline(feet->at, closed) : Handle(Geom2d_BSplineCurve)();
    if (flat.IsNull()) {
        return no_curve(points.front());
    }
    CurveOnFace made{BRepBuilderAPI_MakeEdge(flat, BRep_Tool::Surface(face)).Edge(), feet->brought, feet->from};
    BRepLib::BuildCurve3d(made.edge, true_enough / 10, GeomAbs_C2, 14, 200);
    const BRepAdaptor_Curve curve(made.edge);
    const BRepAdaptor_Surface surface(face);
    for (int i = 0; i <= looked_at; ++i) {
        const double t = share_of(curve, i, looked_at);
        const gp_Pnt2d at = flat->Value(t);
        if (curve.Value(t).Distance(surface.Value(at.X(), at.Y())) > true_enough) {
            return no_curve(curve.Value(t));
        }
        const BRepClass_FaceClassifier inside(face, curve.Value(t), true_enough);
        if (inside.State() == TopAbs_OUT) {
            return told("space.leaves", "The curve runs beyond the border of the face here.",
                        "Add a point that keeps it on the face, or move those beside it.", curve.Value(t));
        }
    }
    return made;
} catch (const Standard_Failure&) {
    return no_curve(points.front());
}

Result<std::vector<TopoDS_Edge>> line_of_parameter(const TopoDS_Face& face, bool first, double share,
                                                   Progress& progress) try {
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    const Handle(Geom_Curve) line =
        first ? surface->UIso(u0 + share * (u1 - u0)) : surface->VIso(v0 + share * (v1 - v0));
    const double from = first ? v0 : u0;
    const double to = first ? v1 : u1;
    const gp_Pnt middle = line->Value((from + to) / 2);
    BRepBuilderAPI_MakeEdge whole(line, from, to);
    if (!whole.IsDone()) {
        return told("space.no_line", "Here the face comes to a point, and has no line.", "Choose another share.",
                    middle);
    }
    BRepAlgoAPI_Common within;
    TopTools_ListOfShape edges;
    edges.Append(whole.Edge());
    TopTools_ListOfShape faces;
    faces.Append(face);
    if (!run_boolean(within, edges, faces, progress)) {
        return told("space.failed", "The line could not be found.", "Choose another share.", middle);
    }
    std::vector<TopoDS_Edge> parts;
    for (const TopoDS_Shape& part : edges_of(within.Shape())) {
        parts.push_back(TopoDS::Edge(part));
    }
    const auto start = [](const TopoDS_Edge& edge) { return BRepAdaptor_Curve(edge).FirstParameter(); };
    std::sort(parts.begin(), parts.end(), [&](const auto& a, const auto& b) { return start(a) < start(b); });
    const TopoDS_Shape all = gather({parts.begin(), parts.end()});
    for (int i = 0; i < looked_at; ++i) {
        const gp_Pnt at = line->Value(from + (to - from) * (i + 0.5) / looked_at);
        const auto state = BRepClass_FaceClassifier(face, at, true_enough).State();
        const bool found = !parts.empty() && distance_to(all, at) < true_enough;
        if (state != TopAbs_ON && found != (state == TopAbs_IN)) {
            return told("space.failed", "The line could not be found for certain here.", "Choose another share.", at);
        }
    }
    if (parts.empty()) {
        return told("space.no_line", "The face has no such line.", "Choose another share.", middle);
    }
    return parts;
} catch (const Standard_Failure&) {
    return told("space.failed", "The line could not be found.", "Choose another share.", center_of(face));
}

namespace {

// Along an edge by length, from one end or the other.
class ByLength {
public:
    ByLength(const TopoDS_Edge& edge, bool forward) : curve_(edge), length_(arc_length(curve_)), forward_(forward) {}
    [[nodiscard]] gp_Pnt at(double share) const {
        const double way = forward_ ? share : 1 - share;
        if (curve_.GetType() == GeomAbs_Line || curve_.GetType() == GeomAbs_Circle) { // as its parameter goes
            return curve_.Value(curve_.FirstParameter() + way * (curve_.LastParameter() - curve_.FirstParameter()));
        }
        const GCPnts_AbscissaPoint there(curve_, length_ * way, curve_.FirstParameter(), 1e-10);
        return curve_.Value(there.Parameter());
    }

private:
    BRepAdaptor_Curve curve_;
    double length_;
    bool forward_;
};

gp_Pnt between(const gp_Pnt& a, const gp_Pnt& b) {
    return gp_Pnt((a.XYZ() + b.XYZ()) / 2);
}

} // namespace

Result<TopoDS_Edge> curve_halfway(const TopoDS_Edge& one, const TopoDS_Edge& other) try {
    const auto is_closed_edge = [](const TopoDS_Edge& edge) {
        return TopExp::FirstVertex(edge).IsSame(TopExp::LastVertex(edge));
    };
    const bool closed = is_closed_edge(one);
    if (closed != is_closed_edge(other)) {
        return told("space.unlike", "One of the two curves is closed, the other is open.", "Choose two that are alike.",
                    center_of(one));
    }
    const ByLength first(one, true);
    const auto apart = [&](const ByLength& second) {
        double sum = 0;
        for (const double share : {0.1, 0.3, 0.5, 0.7, 0.9}) {
            sum += first.at(share).SquareDistance(second.at(share));
        }
        return sum;
    };
    const ByLength same(other, true);
    const ByLength turned(other, false);
    const ByLength& second = apart(turned) < apart(same) ? turned : same;
    const auto at = [&](double share) { return between(first.at(share), second.at(share)); };
    if (direction_of(one) && direction_of(other)) {
        BRepBuilderAPI_MakeEdge straight(at(0), at(1));
        return straight.IsDone() ? Result<TopoDS_Edge>(straight.Edge()) : no_curve(at(0));
    }
    constexpr int most = 1024;
    for (int parts = 16; parts <= most; parts *= 2) {
        std::vector<gp_Pnt> places;
        for (int i = 0; i < parts + (closed ? 0 : 1); ++i) {
            places.push_back(at(static_cast<double>(i) / parts));
        }
        const Handle(Geom_BSplineCurve) curve = spline_through(places, 3, closed);
        if (curve.IsNull()) {
            return no_curve(places.front());
        }
        const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
        double worst = 0;
        for (int i = 0; i < parts; ++i) {
            worst = std::max(worst, distance_to(edge, at((i + 0.5) / parts)));
        }
        if (worst < true_enough) {
            return edge;
        }
    }
    return no_curve(at(0));
} catch (const Standard_Failure&) {
    return no_curve(center_of(one));
}

} // namespace kervo::geom
