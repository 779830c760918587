// Rounded and bevelled edges.
#pragma once

#include "base/finding.h"
#include "geom/alter/altered.h"

#include <TopoDS_Edge.hxx>

#include <map>
#include <optional>

namespace kervo::geom {

/// How an edge is rounded. An edge brings those with it that continue it smoothly.
struct RoundedEdge {
    TopoDS_Edge edge;
    double size = 0;                ///< mm: the radius, or the width across where `by_width`
    std::optional<double> end_size; ///< mm: the radius grows or shrinks to this, straight along the edges
    TopoDS_Shape from;              ///< the vertex where `size` holds, with `end_size`
    bool by_width = false;          ///< the straight distance between the borders of the round
};

/// How an edge is bevelled.
struct BevelledEdge {
    TopoDS_Edge edge;
    TopoDS_Face on;              ///< the face beside it on which `distance` is measured
    double distance = 0;         ///< mm
    std::optional<double> other; ///< mm, on the other face
    std::optional<double> angle; ///< rad, from `on` into the material
};

/// Whether two faces meet there at an angle, so that there is something to round: none along a seam, a smooth border,
/// or the border of a surface body.
bool is_sharp(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside);

/// Accepts bodies of solids, edges of them. The kernel's ChFi3d algorithm, solid by solid; the result is closed, valid
/// and within the box of the body, and measured: bevels are as far from the edge as was asked, a ball rolls along
/// rounds. Where it is looser than the kernel need be, `off` says by how much. Findings, with the places of the edges
/// that failed: blend.failed (says the largest size that fits, where one smaller does), blend.smooth (an edge that is
/// none), blend.open_end (a size that changes along a closed chain or from a vertex that is not its end).
Result<Altered> round_edges(const TopoDS_Shape& body, const std::vector<RoundedEdge>& edges);
Result<Altered> bevel_edges(const TopoDS_Shape& body, const std::vector<BevelledEdge>& edges);

} // namespace kervo::geom
