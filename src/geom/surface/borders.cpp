#include "geom/surface/borders.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/hanging_together.h"
#include "geom/measure/measure.h"

#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

// Edges in the order of the faces, with how many faces use each; a face that closes on itself uses its seam twice.
std::vector<std::pair<TopoDS_Edge, int>> uses_of_edges(const TopoDS_Shape& surface) {
    std::vector<std::pair<TopoDS_Edge, int>> uses;
    ByShape<size_t> at;
    for (const TopoDS_Shape& face : faces_of(surface)) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
            if (BRep_Tool::Degenerated(edge) || edge.Orientation() == TopAbs_INTERNAL) {
                continue;
            }
            if (const size_t* known = at.Seek(edge)) {
                ++uses[*known].second;
            } else {
                at.Bind(edge, uses.size());
                uses.emplace_back(edge, 1);
            }
        }
    }
    return uses;
}

bool is_ring(const std::vector<TopoDS_Edge>& edges) {
    ByShape<int> ends;
    for (const TopoDS_Edge& edge : edges) {
        for (TopExp_Explorer it(edge, TopAbs_VERTEX); it.More(); it.Next()) { // both ends, also where they are one
            ++entry(ends, it.Current());
        }
    }
    for (ByShape<int>::Iterator it(ends); it.More(); it.Next()) {
        if (it.Value() % 2 != 0) {
            return false;
        }
    }
    return true;
}

} // namespace

std::vector<Border> free_borders(const TopoDS_Shape& surface) {
    std::vector<TopoDS_Shape> free;
    for (const auto& [edge, uses] : uses_of_edges(surface)) {
        if (uses == 1) {
            free.push_back(edge);
        }
    }
    std::vector<Border> borders;
    for (const auto& edges : hanging_together(free, TopAbs_VERTEX)) {
        Border border;
        for (const TopoDS_Shape& edge : edges) {
            border.edges.push_back(TopoDS::Edge(edge));
            border.length += length_of(edge);
        }
        border.closed = is_ring(border.edges);
        borders.push_back(std::move(border));
    }
    return borders;
}

std::vector<TopoDS_Edge> branching_edges(const TopoDS_Shape& surface) {
    std::vector<TopoDS_Edge> branching;
    for (const auto& [edge, uses] : uses_of_edges(surface)) {
        if (uses > 2) {
            branching.push_back(edge);
        }
    }
    return branching;
}

} // namespace kervo::geom
