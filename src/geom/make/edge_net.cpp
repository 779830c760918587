#include "geom/make/edge_net.h"

#include "geom/kernel/finding_place.h"
#include "geom/kernel/splines.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_Line.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Precision.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
#include <map>

namespace kervo::geom {

namespace {

Finding no_curve(const char* code, const char* cause, const char* mend, const gp_Pnt& at) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, at);
    return finding;
}

// Whether two edges between the same points are the same curve.
bool same_course(const TopoDS_Edge& one, const TopoDS_Edge& other) {
    const BRepAdaptor_Curve curve(one);
    for (const double share : {0.25, 0.5, 0.75}) {
        const double t = curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter());
        if (distance_to(other, curve.Value(t)) > EdgeNet::same_place) {
            return false;
        }
    }
    return true;
}

} // namespace

EdgeNet::Added EdgeNet::point(const gp_Pnt& at) {
    const auto known = std::find_if(places_.begin(), places_.end(),
                                    [&](const gp_Pnt& place) { return place.Distance(at) <= same_place; });
    if (known != places_.end()) {
        return {static_cast<size_t>(known - places_.begin()), false};
    }
    TopoDS_Vertex vertex;
    BRep_Builder().MakeVertex(vertex, at, Precision::Confusion());
    places_.push_back(at);
    vertices_.push_back(vertex);
    return {places_.size() - 1, true};
}

EdgeNet::Added EdgeNet::add(const TopoDS_Edge& edge, size_t from, size_t to) {
    for (size_t i = 0; i < edges_.size(); ++i) {
        const bool same_ends = (ends_[i][0] == from && ends_[i][1] == to) || (ends_[i][0] == to && ends_[i][1] == from);
        if (same_ends && same_course(edge, edges_[i])) {
            return {i, false};
        }
    }
    edges_.push_back(edge);
    ends_.push_back({from, to});
    return {edges_.size() - 1, true};
}

namespace {

// Between two vertices; the tolerance of each reaches to the end of the curve.
TopoDS_Edge edge_on(const Handle(Geom_Curve) & curve, double first, double last, TopoDS_Vertex from, TopoDS_Vertex to) {
    const BRep_Builder builder;
    TopoDS_Edge edge;
    builder.MakeEdge(edge, curve, Precision::Confusion());
    for (const auto& [vertex, t] : {std::pair(&from, first), std::pair(&to, last)}) {
        builder.UpdateVertex(*vertex, Precision::Confusion() + BRep_Tool::Pnt(*vertex).Distance(curve->Value(t)));
    }
    builder.Add(edge, from.Oriented(TopAbs_FORWARD));
    builder.Add(edge, to.Oriented(TopAbs_REVERSED));
    builder.Range(edge, first, last);
    edge.Closed(from.IsSame(to));
    return edge;
}

} // namespace

Result<EdgeNet::Added> EdgeNet::line(size_t from, size_t to) {
    if (from == to) {
        return no_curve("build.no_length", "An edge here would begin and end in the same point.",
                        "Name two points that are apart.", places_[from]);
    }
    const gp_Vec way(places_[from], places_[to]);
    return add(edge_on(new Geom_Line(places_[from], gp_Dir(way)), 0, way.Magnitude(), vertices_[from], vertices_[to]),
               from, to);
}

Result<EdgeNet::Added> EdgeNet::arc(size_t from, size_t through, size_t to) {
    const gp_Vec one(places_[from], places_[through]);
    const gp_Vec other(places_[from], places_[to]);
    const double longest = std::max(one.Magnitude(), other.Magnitude());
    constexpr double straight = 1e-9; // sine
    if (from == to || from == through || through == to || one.CrossMagnitude(other) < straight * longest * longest) {
        return no_curve("build.no_arc", "These three points lie on a line, so no arc runs through them.",
                        "Move the middle one aside, or make a straight edge.", places_[through]);
    }
    const GC_MakeArcOfCircle made(places_[from], places_[through], places_[to]);
    if (!made.IsDone()) {
        return no_curve("build.no_arc", "No arc runs through these three points.", "Move the middle one.",
                        places_[through]);
    }
    const Handle(Geom_TrimmedCurve)& arc = made.Value();
    return add(edge_on(arc->BasisCurve(), arc->FirstParameter(), arc->LastParameter(), vertices_[from], vertices_[to]),
               from, to);
}

Result<EdgeNet::Added> EdgeNet::curve(const std::vector<size_t>& through) {
    const bool closed = through.size() > 3 && through.front() == through.back();
    std::vector<gp_Pnt> places;
    for (size_t i = 0; i < through.size() - (closed ? 1 : 0); ++i) {
        places.push_back(places_[through[i]]);
        if (i > 0 && through[i] == through[i - 1]) {
            return no_curve("build.no_curve", "A curve cannot pass the same point twice in a row.", "Name it once.",
                            places_[through[i]]);
        }
    }
    constexpr int cubic = 3;
    const Handle(Geom_BSplineCurve) made = spline_through(places, cubic, closed);
    if (made.IsNull()) {
        return no_curve("build.no_curve", "No curve could be led through these points.",
                        "Move them, or name fewer of them.", places_[through.front()]);
    }
    return add(edge_on(made, made->FirstParameter(), made->LastParameter(), vertices_[through.front()],
                       vertices_[through.back()]),
               through.front(), through.back());
}

EdgeNet::Added EdgeNet::taken(const TopoDS_Edge& edge) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    const size_t from = point(curve->Value(first)).index;
    const size_t to = point(curve->Value(last)).index;
    return add(edge_on(curve, first, last, vertices_[from], vertices_[to]), from, to);
}

EdgeNet::Chains EdgeNet::closed_chains(const std::vector<size_t>& edges) const {
    Chains found;
    std::map<size_t, std::vector<size_t>> at; // point -> edges that end there, one twice that comes back
    for (const size_t edge : edges) {
        at[ends_[edge][0]].push_back(edge);
        at[ends_[edge][1]].push_back(edge);
    }
    for (const auto& [point, here] : at) {
        if (here.size() != 2) {
            found.trouble.push_back(point);
        }
    }
    if (!found.trouble.empty()) {
        return found;
    }
    std::vector<bool> gone(edges_.size(), false);
    for (const size_t first : edges) {
        if (gone[first]) {
            continue;
        }
        std::vector<size_t> chain;
        size_t edge = first;
        size_t point = ends_[first][0];
        while (!gone[edge]) {
            gone[edge] = true;
            chain.push_back(edge);
            point = ends_[edge][0] == point ? ends_[edge][1] : ends_[edge][0];
            const auto& here = at[point];
            edge = here[0] == edge ? here[1] : here[0];
        }
        found.closed.push_back(std::move(chain));
    }
    return found;
}

} // namespace kervo::geom
