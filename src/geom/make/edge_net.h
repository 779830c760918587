// Points and edges between them, as one builds them one by one: what is at the same place is one.
#pragma once

#include "base/finding.h"
#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>
#include <TopoDS_Vertex.hxx>

#include <array>
#include <vector>

namespace kervo::geom {

class EdgeNet {
public:
    /// Nearer than this (mm), two points are one.
    static constexpr double same_place = 1e-6;

    struct Added {
        size_t index = 0;
        bool fresh = true; ///< false: it was there already
    };

    Added point(const gp_Pnt& at);
    /// From point to point. Finding: build.no_length.
    Result<Added> line(size_t from, size_t to);
    /// From the first to the last through the middle one. Finding: build.no_arc (they lie on a line).
    Result<Added> arc(size_t from, size_t through, size_t to);
    /// A cubic spline through points (three at least, or two), with a continuous second derivative; closed where it
    /// comes back to the first one. Finding: build.no_curve.
    Result<Added> curve(const std::vector<size_t>& through);
    /// An edge of a body, between points of the net.
    Added taken(const TopoDS_Edge& edge);

    [[nodiscard]] const gp_Pnt& place(size_t point) const { return places_[point]; }
    [[nodiscard]] const TopoDS_Vertex& vertex(size_t point) const { return vertices_[point]; }
    [[nodiscard]] const TopoDS_Edge& edge(size_t index) const { return edges_[index]; }
    /// Points at which an edge begins and ends.
    [[nodiscard]] const std::array<size_t, 2>& ends(size_t edge) const { return ends_[edge]; }
    [[nodiscard]] size_t points() const { return places_.size(); }
    [[nodiscard]] size_t edges() const { return edges_.size(); }

    /// What hangs together of these edges, each in the order in which one runs through it; nothing where an end is
    /// loose or more than two meet: these points are in `trouble`.
    struct Chains {
        std::vector<std::vector<size_t>> closed;
        std::vector<size_t> trouble;
    };
    [[nodiscard]] Chains closed_chains(const std::vector<size_t>& edges) const;

private:
    Added add(const TopoDS_Edge& edge, size_t from, size_t to);

    std::vector<gp_Pnt> places_;
    std::vector<TopoDS_Vertex> vertices_;
    std::vector<TopoDS_Edge> edges_;
    std::vector<std::array<size_t, 2>> ends_;
};

} // namespace kervo::geom
