#include "geom/cut/line_between.h"

#include "geom/cut/score.h"
#include "geom/kernel/face_foot.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/join_ends.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Pln.hxx>

#include <algorithm>
#include <array>
#include <limits>
#include <map>
#include <queue>

namespace kervo::geom {

namespace {

constexpr double on_them = 1e-4; // mm
constexpr double same = 1e-6;    // mm

Finding told(const char* code, const char* cause, const char* mend, const gp_Pnt& at) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, at);
    return finding;
}

// Out of the nearest of the faces.
std::optional<gp_Vec> normal_at(const std::vector<TopoDS_Face>& faces, const gp_Pnt& place) {
    const auto nearest = std::min_element(faces.begin(), faces.end(), [&](const auto& a, const auto& b) {
        return distance_to(a, place) < distance_to(b, place);
    });
    if (distance_to(*nearest, place) > on_them) {
        return std::nullopt;
    }
    const auto foot = foot_on(*nearest, place);
    return foot && foot->normal ? std::optional(gp_Vec(*foot->normal)) : std::nullopt;
}

// The edge in parts that end at the places, as far as it passes through them.
std::vector<TopoDS_Edge> divided(const TopoDS_Edge& edge, const std::array<gp_Pnt, 2>& at) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    std::vector<double> ends{first, last};
    for (const gp_Pnt& place : at) {
        const GeomAPI_ProjectPointOnCurve foot(place, curve, first, last);
        if (foot.NbPoints() > 0 && foot.LowerDistance() < on_them && curve->Value(first).Distance(place) > on_them &&
            curve->Value(last).Distance(place) > on_them) {
            ends.push_back(foot.LowerDistanceParameter());
        }
    }
    std::sort(ends.begin(), ends.end());
    std::vector<TopoDS_Edge> parts;
    for (size_t i = 0; ends.size() > 2 && i + 1 < ends.size(); ++i) {
        parts.push_back(BRepBuilderAPI_MakeEdge(curve, ends[i], ends[i + 1]).Edge());
    }
    return parts.empty() ? std::vector{edge} : parts;
}

// The shortest way along the edges (Dijkstra); empty where there is none.
std::vector<TopoDS_Edge> way_along(const std::vector<TopoDS_Edge>& edges, const gp_Pnt& from, const gp_Pnt& to) {
    std::vector<gp_Pnt> places;
    const auto number = [&](const TopoDS_Vertex& vertex) {
        const gp_Pnt at = BRep_Tool::Pnt(vertex);
        for (size_t i = 0; i < places.size(); ++i) {
            if (places[i].Distance(at) < on_them) {
                return i;
            }
        }
        places.push_back(at);
        return places.size() - 1;
    };
    std::map<size_t, std::vector<std::pair<size_t, size_t>>> beside; // vertex: edge and the vertex there
    for (size_t i = 0; i < edges.size(); ++i) {
        const size_t a = number(TopExp::FirstVertex(edges[i]));
        const size_t b = number(TopExp::LastVertex(edges[i]));
        beside[a].emplace_back(i, b);
        beside[b].emplace_back(i, a);
    }
    const auto at = [&](const gp_Pnt& place) {
        return static_cast<size_t>(
            std::find_if(places.begin(), places.end(),
                         [&](const gp_Pnt& each) { return each.Distance(place) < 2 * on_them; }) -
            places.begin());
    };
    const size_t start = at(from);
    const size_t end = at(to);
    if (start == places.size() || end == places.size()) {
        return {};
    }
    std::vector<double> far(places.size(), std::numeric_limits<double>::infinity());
    std::vector<std::pair<size_t, size_t>> came(places.size()); // over which edge, from which vertex
    std::priority_queue<std::pair<double, size_t>, std::vector<std::pair<double, size_t>>, std::greater<>> next;
    far[start] = 0;
    next.emplace(0, start);
    while (!next.empty()) {
        const auto [length, here] = next.top();
        next.pop();
        for (const auto& [edge, there] : beside[here]) {
            if (length + length_of(edges[edge]) < far[there]) {
                far[there] = length + length_of(edges[edge]);
                came[there] = {edge, here};
                next.emplace(far[there], there);
            }
        }
    }
    std::vector<TopoDS_Edge> way;
    for (size_t here = end; here != start && far[end] < std::numeric_limits<double>::infinity();
         here = came[here].second) {
        way.push_back(edges[came[here].first]);
    }
    return way;
}

} // namespace

Result<std::vector<TopoDS_Edge>> line_between(const std::vector<TopoDS_Face>& faces, const gp_Pnt& from,
                                              const gp_Pnt& to, bool goes_on) try {
    if (from.Distance(to) < same) {
        return told("split.same", "Both ends of the line are at one place.", "Pick two places.", from);
    }
    const auto here = normal_at(faces, from);
    const auto there = normal_at(faces, to);
    if (!here || !there) {
        return told("split.off", "The line begins or ends off the faces.",
                    "Pick places on their borders, or more faces.", here ? to : from);
    }
    const gp_Vec across = gp_Vec(from, to).Crossed(*here + *there);
    if (across.Magnitude() < same * from.Distance(to)) {
        return told("split.no_line", "No straight line on the faces joins these places.", "Pick other places.", from);
    }
    const std::vector<TopoDS_Shape> all(faces.begin(), faces.end());
    const auto box = box_of(gather(all));
    const double size = gp_Pnt(box[0], box[1], box[2]).Distance(gp_Pnt(box[3], box[4], box[5])) * 2;
    const TopoDS_Face plane = BRepBuilderAPI_MakeFace(gp_Pln(from, gp_Dir(across)), -size, size, -size, size).Face();
    const auto meetings = meeting_curves(plane, gather(all));
    if (!meetings) {
        return meetings.finding();
    }
    std::vector<TopoDS_Edge> edges;
    for (const MeetingCurve& each : *meetings) {
        for (const TopoDS_Edge& part : divided(TopoDS::Edge(each.edge), {from, to})) {
            edges.push_back(part);
        }
    }
    edges = join_ends(edges, same);
    const auto way = way_along(edges, from, to);
    if (way.empty()) {
        return told("split.no_line", "No straight line on the faces joins these places.",
                    "Pick all faces between them, or other places.", from);
    }
    if (!goes_on) {
        return way;
    }
    for (const auto& chain : hanging_together({edges.begin(), edges.end()}, TopAbs_VERTEX)) {
        if (std::any_of(chain.begin(), chain.end(), [&](const auto& edge) { return edge.IsSame(way.front()); })) {
            std::vector<TopoDS_Edge> whole;
            for (const TopoDS_Shape& edge : chain) {
                whole.push_back(TopoDS::Edge(edge));
            }
            return whole;
        }
    }
    return way;
} catch (const Standard_Failure&) {
    return told("split.no_line", "No line could be drawn on these faces.", "Pick other places.", from);
}

} // namespace kervo::geom
