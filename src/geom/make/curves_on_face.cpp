#include "geom/make/curves_on_face.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/join_ends.h"
#include "geom/kernel/splines.h"
#include "geom/make/curve_flaws.h"
#include "geom/make/geodesic.h"
#include "geom/make/on_face.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom_Surface.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <gp_Circ.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

Result<CurveOnFace> curve_on_face(const TopoDS_Face& face, const std::vector<gp_Pnt>& points, bool closed) try {
    if (auto flaw = flaw_of(points, closed)) {
        return std::move(*flaw);
    }
    const auto feet = feet_of(face, points);
    const Handle(Geom2d_BSplineCurve) flat = feet ? flat_spline(feet->at, closed) : Handle(Geom2d_BSplineCurve)();
    if (flat.IsNull()) {
        return no_curve(points.front());
    }
    auto edge = lifted(flat, BRep_Tool::Surface(face));
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
        return curve_flaw("space.no_line", "Here the face comes to a point, and has no line.", "Choose another share.",
                          line->Value(first ? v0 : u0));
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

Finding no_way(const gp_Pnt& at) {
    return curve_flaw("space.no_shortest", "The shortest line from here could not be found for certain.",
                      "Put a point between, or make the line smooth in the face's parameters.", at);
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
        const double t = flat.FirstParameter() + (flat.LastParameter() - flat.FirstParameter()) * i / places_looked_at;
        gp_Pnt2d at;
        gp_Vec2d first;
        gp_Vec2d second;
        flat.D2(t, at, first, second);
        sum += std::fabs(geodesic_curvature(surface, at, first, second));
    }
    return sum / (places_looked_at + 1) * length * length / 8; // the height of such a bow
}

// `surface`: of the face, all round.
Result<TopoDS_Edge> shortest_between(const TopoDS_Face& face, const Handle(Geom_Surface) & surface,
                                     const gp_Pnt2d& from, const gp_Pnt2d& to) {
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
        return no_way(start);
    }
    return lifted(flat, surface);
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
    const Handle(Geom_Surface) surface = all_round(face);
    if (surface.IsNull()) {
        return no_way(center_of(face));
    }
    if (closed) {
        feet->at.push_back(feet->at.front());
    }
    CurveOnFace made{{}, feet->brought, feet->from};
    for (size_t i = 1; i < feet->at.size(); ++i) {
        auto edge = shortest_between(face, surface, feet->at[i - 1], feet->at[i]);
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

Result<TopoDS_Edge> on_to_the_border(const TopoDS_Face& face, const gp_Pnt& from, const gp_Vec& way,
                                     Progress& progress) try {
    const char* mend = "Draw it as far as the border.";
    const auto foot = feet_of(face, {from});
    const Handle(Geom_Surface) surface = all_round(face);
    if (!foot || surface.IsNull()) {
        return no_curve(from);
    }
    const auto box = box_of(face);
    const double size = gp_Pnt(box[0], box[1], box[2]).Distance(gp_Pnt(box[3], box[4], box[5]));
    constexpr int steps = 400;
    const double step = 2 * size / steps;
    // One place after the other, until one is beyond the border; then what is within, from there.
    std::vector<gp_Pnt2d> places{foot->at.front()};
    gp_Vec on = way;
    bool out = false;
    while (!out && places.size() <= steps) {
        const auto next = geodesic_from(surface, places.back(), on, step);
        if (!next) {
            break;
        }
        places.push_back(next->at);
        on = next->way;
        const gp_Pnt there = surface->Value(next->at.X(), next->at.Y());
        out = BRepClass_FaceClassifier(face, there, curve_true_enough).State() == TopAbs_OUT;
    }
    while (out && places.size() < 2 + static_cast<size_t>(max_curve_degree)) { // the curve wants some
        const auto next = geodesic_from(surface, places.back(), on, step);
        if (!next) {
            break;
        }
        places.push_back(next->at);
        on = next->way;
    }
    if (!out) {
        return curve_flaw("space.no_line", "Straight on from here the line comes to no border.", mend, from);
    }
    const BRepAdaptor_Surface kind(face, Standard_False);
    Result<TopoDS_Edge> whole = no_curve(from);
    if (kind.GetType() == GeomAbs_Plane) {
        whole = BRepBuilderAPI_MakeEdge(from, surface->Value(places.back().X(), places.back().Y())).Edge();
    } else if (const auto flat = fine_flat_spline(places, step * static_cast<double>(places.size() - 1));
               !flat.IsNull()) {
        whole = lifted(flat, surface);
    }
    if (!whole) {
        return whole.finding();
    }
    const auto parts = parts_within(*whole, face, mend, progress);
    if (!parts) {
        return parts.finding();
    }
    const BRepAdaptor_Curve first(parts->front());
    if (first.Value(first.FirstParameter()).Distance(from) > 10 * curve_true_enough) {
        return curve_flaw("space.failed", "The line on to the border could not be found for certain.", mend, from);
    }
    return parts->front();
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "The line on to the border could not be found.", "Draw it as far as the border.",
                      from);
}

Result<std::vector<GoneOn>> gone_on_to_borders(const TopoDS_Shape& curves, const TopoDS_Shape& body,
                                               Progress& progress) {
    struct End {
        TopoDS_Edge edge;
        gp_Pnt at;
        gp_Vec way;
        int edges = 0;
    };
    ByShape<End> ends;
    for (const TopoDS_Shape& each : edges_of(curves)) {
        const TopoDS_Edge& edge = TopoDS::Edge(each);
        const BRepAdaptor_Curve curve(edge);
        for (const bool start : {true, false}) {
            End& end = entry(ends, start ? TopExp::FirstVertex(edge) : TopExp::LastVertex(edge));
            ++end.edges;
            end.edge = edge;
            curve.D1(start ? curve.FirstParameter() : curve.LastParameter(), end.at, end.way);
            end.way *= start ? -1 : 1;
        }
    }
    std::vector<GoneOn> added;
    for (ByShape<End>::Iterator it(ends); it.More(); it.Next()) {
        const End& end = it.Value();
        if (end.edges != 1) {
            continue;
        }
        for (const TopoDS_Shape& each : faces_of(body)) {
            const TopoDS_Face& face = TopoDS::Face(each);
            if (distance_to(face, end.at) > curve_true_enough ||
                BRepClass_FaceClassifier(face, end.at, 10 * curve_true_enough).State() != TopAbs_IN) {
                continue;
            }
            const auto more = on_to_the_border(face, end.at, end.way, progress);
            if (!more) {
                return more.finding();
            }
            added.push_back({*more, end.edge});
            break;
        }
    }
    return added;
}

std::vector<TopoDS_Edge> joined_with(const TopoDS_Shape& curves, const std::vector<GoneOn>& added) {
    std::vector<TopoDS_Edge> edges;
    for (const TopoDS_Shape& edge : edges_of(curves)) {
        edges.push_back(TopoDS::Edge(edge));
    }
    std::transform(added.begin(), added.end(), std::back_inserter(edges),
                   [](const GoneOn& each) { return each.added; });
    return join_ends(edges, 10 * curve_true_enough);
}

} // namespace kervo::geom
