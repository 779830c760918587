#include "geom/kernel/join_ends.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom_Curve.hxx>
#include <Precision.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

#include <algorithm>
#include <array>

namespace kervo::geom {

namespace {

struct Place {
    gp_Pnt at;
    std::vector<TopoDS_Vertex> vertices;
    TopoDS_Vertex one;
};

} // namespace

std::vector<TopoDS_Edge> join_ends(const std::vector<TopoDS_Edge>& edges, double tolerance) {
    std::vector<Place> places;
    const auto place_of = [&](const TopoDS_Vertex& vertex) {
        const gp_Pnt at = BRep_Tool::Pnt(vertex);
        const auto known = std::find_if(places.begin(), places.end(),
                                        [&](const Place& place) { return place.at.Distance(at) <= tolerance; });
        if (known != places.end()) {
            return static_cast<size_t>(known - places.begin());
        }
        places.push_back({at, {}, {}});
        return places.size() - 1;
    };
    std::vector<std::array<size_t, 2>> ends;
    for (const TopoDS_Edge& edge : edges) {
        const std::array<TopoDS_Vertex, 2> own{TopExp::FirstVertex(edge), TopExp::LastVertex(edge)};
        ends.push_back({place_of(own[0]), place_of(own[1])});
        for (const size_t k : {0U, 1U}) {
            auto& here = places[ends.back()[k]].vertices;
            if (std::none_of(here.begin(), here.end(), [&](const auto& known) { return known.IsSame(own[k]); })) {
                here.push_back(own[k]);
            }
        }
    }
    const BRep_Builder builder;
    for (Place& place : places) {
        if (place.vertices.size() == 1) { // edges that have it alone stay
            place.one = TopoDS::Vertex(place.vertices.front().Oriented(TopAbs_FORWARD));
            continue;
        }
        double reach = 0;
        for (const TopoDS_Vertex& vertex : place.vertices) {
            reach = std::max(reach, place.at.Distance(BRep_Tool::Pnt(vertex)) + BRep_Tool::Tolerance(vertex));
        }
        builder.MakeVertex(place.one, place.at, std::max(reach, Precision::Confusion()));
    }
    std::vector<TopoDS_Edge> joined;
    for (size_t i = 0; i < edges.size(); ++i) {
        const auto& [first, last] = ends[i];
        if (places[first].vertices.size() == 1 && places[last].vertices.size() == 1) {
            joined.push_back(edges[i]);
            continue;
        }
        double from = 0;
        double to = 0;
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(edges[i], from, to);
        TopoDS_Edge edge;
        builder.MakeEdge(edge, curve, std::max(BRep_Tool::Tolerance(edges[i]), Precision::Confusion()));
        builder.Add(edge, places[first].one.Oriented(TopAbs_FORWARD));
        builder.Add(edge, places[last].one.Oriented(TopAbs_REVERSED));
        builder.Range(edge, from, to);
        joined.push_back(TopoDS::Edge(edge.Oriented(edges[i].Orientation())));
    }
    return joined;
}

} // namespace kervo::geom
