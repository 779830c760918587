// The free borders of a surface: edges that only one of its faces has.
#pragma once

#include "geom/kernel/shape.h"

#include <TopoDS_Edge.hxx>

namespace kervo::geom {

struct Border {
    std::vector<TopoDS_Edge> edges; ///< as they lie in their faces
    bool closed = false;            ///< a ring: every vertex has two of the edges
    double length = 0;              ///< mm
};

/// What hangs together over vertices is one border; rings that touch in a vertex count as one. Seams and degenerate
/// edges are none. In the order of the faces.
std::vector<Border> free_borders(const TopoDS_Shape& surface);

/// Edges that more than two faces share: no surface has two sides there.
std::vector<TopoDS_Edge> branching_edges(const TopoDS_Shape& surface);

} // namespace kervo::geom
