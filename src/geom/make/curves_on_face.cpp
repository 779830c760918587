#include "geom/make/curves_on_face.h"

#include "geom/kernel/boolean.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/join_ends.h"
#include "geom/kernel/splines.h"
#include "geom/make/curve_flaws.h"
#include "geom/make/geodesic.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BSplCLib.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRepLib.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Geom2dAPI_Interpolate.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <Geom_Surface.hxx>
#include <Precision.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TColgp_HArray1OfPnt2d.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <ElCLib.hxx>
#include <gce_MakeCirc.hxx>
#include <gp_Circ.hxx>
#include <gp_Lin.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::geom {

namespace {

double share_of(const BRepAdaptor_Curve& curve, int i, int of) {
    return curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / of;
}

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

// Of degree five, through exact places that are evenly apart by length: so its parameter goes by length as well.
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

// The first place of a curve on the face's surface that lies beyond the face.
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

// On the surface as its parameters say; a curve of its own is made and looked at.
Result<TopoDS_Edge> lifted(const Handle(Geom2d_Curve) & flat, const TopoDS_Face& face) {
    const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(flat, BRep_Tool::Surface(face)).Edge();
    BRepLib::BuildCurve3d(edge, curve_true_enough / 10, GeomAbs_C2, 14, 200);
    const BRepAdaptor_Curve curve(edge);
    const BRepAdaptor_Surface surface(face);
    for (int i = 0; i <= places_looked_at; ++i) {
        const double t = share_of(curve, i, places_looked_at);
        const gp_Pnt2d at = flat->Value(t);
        if (curve.Value(t).Distance(surface.Value(at.X(), at.Y())) > curve_true_enough) {
            return no_curve(curve.Value(t));
        }
    }
    return edge;
}

// What of a curve on the face's surface lies within the face, in order.
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
    auto edge = lifted(flat, face);
    if (!edge) {
        return edge.finding();
    }
    if (auto beyond = leaves(*edge, face)) {
        return std::move(*beyond);
    }
    return CurveOnFace{{*edge}, feet->brought, feet->from};
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
    BRepBuilderAPI_MakeEdge whole(line, first ? v0 : u0, first ? v1 : u1);
    if (!whole.IsDone()) {
        return curve_flaw("space.no_line", "Here the face comes to a point, and has no line.",
                          "Choose another share.", line->Value(first ? v0 : u0));
    }
    return parts_within(whole.Edge(), face, "Choose another share.", progress);
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "The line could not be found.", "Choose another share.", center_of(face));
}

// --- Shortest lines
// -------------------------------------------------------------------------------------------------

namespace {

Finding two_ways(const gp_Pnt& at) {
    return curve_flaw("space.two_ways", "Two lines on the face are as short.",
                      "Put a point between, on the way that is meant.", at);
}

Result<TopoDS_Edge> arc_on_sphere(const gp_Pnt& middle, const gp_Pnt& from, const gp_Pnt& to) {
    const gp_Vec start(middle, from);
    const gp_Vec end(middle, to);
    const gp_Vec square = start.Crossed(end);
    if (square.Magnitude() < 1e-9 * start.SquareMagnitude()) {
        return two_ways(from); // on opposite sides of the ball
    }
    const gp_Circ circle(gp_Ax2(middle, gp_Dir(square), gp_Dir(start)), start.Magnitude());
    return BRepBuilderAPI_MakeEdge(circle, 0, start.Angle(end)).Edge();
}

// Whether a line in the parameters bends sideways on the surface: by how much it is off over its length, mm.
double sideways(const Handle(Geom_Surface) & surface, const Geom2d_BSplineCurve& flat, double length) {
    double sum = 0;
    for (int i = 0; i <= places_looked_at; ++i) {
        const double t =
            flat.FirstParameter() + (flat.LastParameter() - flat.FirstParameter()) * i / places_looked_at;
        gp_Pnt2d at;
        gp_Vec2d first;
        gp_Vec2d second;
        flat.D2(t, at, first, second);
        sum += std::fabs(geodesic_curvature(surface, at, first, second));
    }
    return sum / (places_looked_at + 1) * length * length / 8; // the height of such a bow
}

Result<TopoDS_Edge> shortest_between(const TopoDS_Face& face, const gp_Pnt2d& from, const gp_Pnt2d& to) {
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    const BRepAdaptor_Surface kind(face, Standard_False);
    const gp_Pnt start = surface->Value(from.X(), from.Y());
    const gp_Pnt end = surface->Value(to.X(), to.Y());
    if (kind.GetType() == GeomAbs_Plane) {
        return BRepBuilderAPI_MakeEdge(start, end).Edge();
    }
    if (kind.GetType() == GeomAbs_Sphere) {
        return arc_on_sphere(kind.Sphere().Location(), start, end);
    }
    const auto ways = geodesics_between(surface, from, to);
    const auto middle = [&](const Geodesic& way) {
        const gp_Pnt2d& at = way.places[way.places.size() / 2];
        return surface->Value(at.X(), at.Y());
    };
    constexpr double as_short = 1e-7; // mm
    if (std::any_of(ways.begin(), ways.end(), [&](const Geodesic& way) {
            return way.length - ways.front().length < as_short &&
                   middle(way).Distance(middle(ways.front())) > 10 * curve_true_enough;
        })) {
        return two_ways(start);
    }
    constexpr double straight_enough = 1e-4; // mm
    const Handle(Geom2d_BSplineCurve) flat =
        ways.empty() ? Handle(Geom2d_BSplineCurve)() : fine_flat_spline(ways.front().places, ways.front().length);
    if (flat.IsNull() || sideways(surface, *flat, ways.front().length) > straight_enough) {
        return curve_flaw("space.no_shortest", "The shortest line from here could not be found for certain.",
                          "Put a point between, or make the line smooth in the face's parameters.", start);
    }
    return lifted(flat, face);
}

} // namespace

Result<CurveOnFace> shortest_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed) try {
    if (auto flaw = flaw_of(points, closed)) {
        return std::move(*flaw);
    }
    auto feet = feet_of(face, points);
    if (!feet) {
        return no_curve(points.front());
    }
    if (closed) {
        feet->at.push_back(feet->at.front());
    }
    CurveOnFace made{{}, feet->brought, feet->from};
    for (size_t i = 1; i < feet->at.size(); ++i) {
        auto edge = shortest_between(face, feet->at[i - 1], feet->at[i]);
        if (!edge) {
            return edge.finding();
        }
        if (auto beyond = leaves(*edge, face)) {
            return std::move(*beyond);
        }
        made.edges.push_back(*edge);
    }
    made.edges = join_ends(made.edges, curve_true_enough);
    return made;
} catch (const Standard_Failure&) {
    return no_curve(points.front());
}

// --- Offset
// ---------------------------------------------------------------------------------------------------------

namespace {

// An edge on the face, and what is square to it: into the face from its borders, else to the left.
class Beside {
public:
    Beside(const TopoDS_Face& face, const TopoDS_Edge& edge, double distance)
        : face_(face), edge_(edge), curve_(edge), surface_(BRep_Tool::Surface(face)), distance_(distance) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            if (it.Current().IsSame(edge)) {
                edge_.Orientation(it.Current().Orientation());
            }
        }
        closed_ = curve_.Value(curve_.FirstParameter()).Distance(curve_.Value(curve_.LastParameter())) < coincidence;
    }

    [[nodiscard]] bool closed() const { return closed_; }

    struct Place {
        gp_Pnt foot, there;
        gp_Pnt2d at;
        gp_Vec square; ///< to the line that led there: where the offset goes on, if it does not turn back
    };
    /// At shares of the curve's parameters. Findings: space.beside, space.no_line.
    Result<std::vector<Place>> places(int parts) const {
        std::vector<gp_Pnt> on;
        for (int i = 0; i <= parts; ++i) {
            on.push_back(curve_.Value(share_of(curve_, i, parts)));
        }
        const auto feet = feet_of(face_, on);
        if (!feet || feet->brought > 10 * curve_true_enough) {
            return curve_flaw("space.beside", "This curve is not on the face.", "Project it onto the face first.",
                              feet ? feet->from : on.front());
        }
        std::vector<Place> found;
        for (int i = 0; i <= parts; ++i) {
            const gp_Pnt2d& foot = feet->at[static_cast<size_t>(i)];
            gp_Pnt place;
            gp_Vec along;
            curve_.D1(share_of(curve_, i, parts), place, along);
            const gp_Vec left = to_the_left(foot, along);
            const auto end = geodesic_from(surface_, foot, left * (distance_ < 0 ? -1 : 1), std::fabs(distance_));
            if (!end) {
                return curve_flaw("space.no_line", "From here no line on the face goes as far.",
                                  "Take a smaller distance.", place);
            }
            const gp_Vec on_from_there = to_the_left(end->at, end->way) * (distance_ < 0 ? 1 : -1);
            found.push_back({place, surface_->Value(end->at.X(), end->at.Y()), end->at, on_from_there});
        }
        return found;
    }

    static Finding folds(const gp_Pnt& at) {
        return curve_flaw("space.folds", "So far beside the curve, the offset runs through itself here.",
                          "Take a smaller distance, or the other side.", at);
    }

private:
    // As long as one likes; to the left of a direction as the edge runs, seen from outside of the face.
    [[nodiscard]] gp_Vec to_the_left(const gp_Pnt2d& at, const gp_Vec& along) const {
        gp_Pnt place;
        gp_Vec u;
        gp_Vec v;
        surface_->D1(at.X(), at.Y(), place, u, v);
        const bool turned = (face_.Orientation() == TopAbs_REVERSED) != (edge_.Orientation() == TopAbs_REVERSED);
        return u.Crossed(v).Crossed(along) * (turned ? -1 : 1);
    }

    const TopoDS_Face& face_;
    TopoDS_Edge edge_;
    BRepAdaptor_Curve curve_;
    Handle(Geom_Surface) surface_;
    double distance_;
    bool closed_ = false;
};

constexpr double nearer = 0.98; // on a curved face a little is as it should be

// Where the offset turns back, or comes nearer to another place of the curve than to the one that it was made from.
std::optional<Finding> fold_in(const std::vector<Beside::Place>& places, const TopoDS_Edge& curve) {
    for (size_t i = 1; i < places.size(); ++i) {
        if (gp_Vec(places[i - 1].there, places[i].there).Dot(places[i].square + places[i - 1].square) <= 0) {
            return Beside::folds(places[i].there);
        }
    }
    constexpr size_t looked_at = 40;
    for (size_t i = 0; i < places.size(); i += std::max<size_t>(1, places.size() / looked_at)) {
        if (distance_to(curve, places[i].there) < nearer * places[i].there.Distance(places[i].foot)) {
            return Beside::folds(places[i].there);
        }
    }
    return std::nullopt;
}

// The line or the arc that all of the places lie on; null where there is none.
TopoDS_Edge plain_through(const std::vector<Beside::Place>& places, bool closed) {
    const gp_Pnt& first = places.front().there;
    const gp_Pnt& last = places.back().there;
    const gp_Pnt& middle = places[places.size() / 2].there;
    const auto all_near = [&](const auto& distance) {
        return std::all_of(places.begin(), places.end(),
                           [&](const Beside::Place& place) { return distance(place.there) < coincidence; });
    };
    if (!closed && all_near([line = gp_Lin(first, gp_Dir(gp_Vec(first, last)))](const gp_Pnt& at) {
            return line.Distance(at);
        })) {
        return BRepBuilderAPI_MakeEdge(first, last).Edge();
    }
    const gce_MakeCirc made(first, middle, closed ? places[places.size() / 4].there : last);
    if (!made.IsDone()) {
        return {};
    }
    gp_Circ circle = made.Value();
    if (!all_near([&](const gp_Pnt& at) { return circle.Distance(at); })) {
        return {};
    }
    circle.SetPosition(gp_Ax2(circle.Location(), circle.Axis().Direction(), gp_Dir(gp_Vec(circle.Location(), first))));
    const double ahead = ElCLib::Parameter(circle, places[1].there);
    if (ahead > std::numbers::pi) { // the other way round
        circle.SetAxis(circle.Axis().Reversed());
    }
    return closed ? BRepBuilderAPI_MakeEdge(circle).Edge() : BRepBuilderAPI_MakeEdge(circle, first, last).Edge();
}

Result<TopoDS_Edge> offset_of(const Beside& beside, const TopoDS_Edge& source) {
    gp_Pnt where = center_of(source);
    for (int parts = 32; parts <= 1024; parts *= 2) {
        const auto places = beside.places(2 * parts); // every second one is for the proof
        if (!places) {
            return places.finding();
        }
        if (auto fold = fold_in(*places, source)) {
            return std::move(*fold);
        }
        if (const TopoDS_Edge plain = plain_through(*places, beside.closed()); !plain.IsNull()) {
            return plain;
        }
        std::vector<gp_Pnt> through;
        for (size_t i = 0; i < places->size() - (beside.closed() ? 1 : 0); i += 2) {
            through.push_back((*places)[i].there);
        }
        const Handle(Geom_BSplineCurve) curve =
            spline_through(through, beside.closed() ? 3 : max_curve_degree, beside.closed());
        if (curve.IsNull()) {
            return no_curve(through.front());
        }
        const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
        double worst = 0;
        for (size_t i = 1; i < places->size(); i += 2) {
            const double off = distance_to(edge, (*places)[i].there);
            if (off > worst) {
                worst = off;
                where = (*places)[i].there;
            }
        }
        if (worst < curve_true_enough) {
            return edge;
        }
    }
    return no_curve(where);
}

// Where edges that met at an end are apart now, or would cross.
std::optional<Finding> torn(const std::vector<TopoDS_Edge>& before, const std::vector<TopoDS_Edge>& now) {
    struct End {
        gp_Pnt was, is;
    };
    ByShape<std::vector<End>> at;
    for (size_t i = 0; i < before.size(); ++i) {
        const BRepAdaptor_Curve was(before[i]);
        const BRepAdaptor_Curve is(now[i]);
        entry(at, TopExp::FirstVertex(before[i]))
            .push_back({was.Value(was.FirstParameter()), is.Value(is.FirstParameter())});
        entry(at, TopExp::LastVertex(before[i]))
            .push_back({was.Value(was.LastParameter()), is.Value(is.LastParameter())});
    }
    for (ByShape<std::vector<End>>::Iterator it(at); it.More(); it.Next()) {
        for (const End& end : it.Value()) {
            if (end.is.Distance(it.Value().front().is) > 10 * curve_true_enough) {
                return curve_flaw("space.corner", "The curves meet at an angle here, and what is beside them does not.",
                                  "Round the corner first, or take them one by one.", end.was);
            }
        }
    }
    return std::nullopt;
}

// Where what is beside one of the curves comes nearer to another.
std::optional<Finding> too_near_to_others(const std::vector<TopoDS_Edge>& curves,
                                          const std::vector<TopoDS_Edge>& beside) {
    const TopoDS_Shape all = gather({curves.begin(), curves.end()});
    constexpr int looked_at = 40;
    for (size_t i = 0; curves.size() > 1 && i < curves.size(); ++i) {
        const BRepAdaptor_Curve curve(beside[i]);
        for (int k = 0; k <= looked_at; ++k) {
            const gp_Pnt place = curve.Value(share_of(curve, k, looked_at));
            if (distance_to(all, place) < nearer * distance_to(curves[i], place)) {
                return Beside::folds(place);
            }
        }
    }
    return std::nullopt;
}

} // namespace

Result<CurveOnFace> offset_on_face(const TopoDS_Face& face, const std::vector<TopoDS_Edge>& curves, double distance,
                                   Progress& progress) try {
    std::vector<TopoDS_Edge> whole;
    for (const TopoDS_Edge& curve : curves) {
        const TopoDS_Edge forward = TopoDS::Edge(curve.Oriented(TopAbs_FORWARD));
        auto edge = offset_of(Beside(face, forward, distance), forward);
        if (!edge) {
            return edge.finding();
        }
        whole.push_back(*edge);
    }
    if (auto tear = torn(curves, whole)) {
        return std::move(*tear);
    }
    if (auto fold = too_near_to_others(curves, whole)) {
        return std::move(*fold);
    }
    CurveOnFace made;
    for (const TopoDS_Edge& edge : whole) {
        auto parts = parts_within(edge, face, "Take a smaller distance.", progress);
        if (!parts) {
            return parts.finding();
        }
        made.edges.insert(made.edges.end(), parts->begin(), parts->end());
    }
    made.edges = join_ends(made.edges, 10 * curve_true_enough);
    return made;
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "What is beside the curve could not be found.", "Take a smaller distance.",
                      center_of(curves.front()));
}

} // namespace kervo::geom
