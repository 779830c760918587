// Edges that follow each other smoothly, along which something is rounded or bevelled.
#pragma once

#include <TopoDS_Edge.hxx>
#include <gp_Vec.hxx>

#include <optional>
#include <vector>

namespace kervo::geom {

class Chain {
public:
    explicit Chain(std::vector<TopoDS_Edge> edges) : edges_(std::move(edges)) {}

    [[nodiscard]] const std::vector<TopoDS_Edge>& edges() const { return edges_; }

    struct Foot {
        gp_Pnt place;
        gp_Vec along;        ///< of length 1
        double distance = 0; ///< mm
        size_t edge = 0;     ///< among those of the chain
        double share = 0;    ///< of the edge's parameters, from 0 to 1
    };
    /// The nearest place on the chain; none where the way from there to `point` is not square to it: beyond an end.
    [[nodiscard]] std::optional<Foot> foot_of(const gp_Pnt& point) const;

    /// How far it is to the foot along its edge, mm; one that is reversed is gone along backwards.
    [[nodiscard]] double way_on_edge(const Foot& foot) const;

    /// Gives each edge that is not straight a polynomial curve without a bend, within 1e-9 mm of its own; says whether
    /// there was one. Writes to the edges, which nobody else may hold.
    bool smooth();

private:
    std::vector<TopoDS_Edge> edges_;
};

} // namespace kervo::geom
