// Triangles of flat faces by constrained Delaunay triangulation of their loops: no node but those of the edges, so that
// neighbours agree. Triangulations of faces with many loops are kept; a face that has some more takes up where the one
// before it stopped.
#pragma once

#include "geom/kernel/shape.h"

#include <Poly_Triangulation.hxx>

#include <functional>

namespace kervo::geom {

/// An edge as points on it, by ascending parameter, ends included.
struct EdgeNodes {
    std::vector<gp_Pnt> points;
    std::vector<double> parameters;
};
using NodesOf = std::function<EdgeNodes(const TopoDS_Shape& edge)>;

/// From so many loops on, a triangulation is kept.
inline constexpr int many_loops = 64;

struct FlatMesh {
    Handle(Poly_Triangulation) triangles; ///< in the face's own place; null where the chords of its edges cross
    std::vector<std::pair<TopoDS_Shape, std::vector<int>>> edges; ///< nodes of those that were asked for
};

/// Whether triangles of the chord tolerance `has` serve where `wanted` is asked for (mm).
inline bool as_fine(double has, double wanted) {
    return has <= 1.25 * wanted;
}

/// `chord`: the tolerance of the nodes, mm. `wanted`: whether the nodes of an edge are to be handed back. Safe to call
/// from several threads.
FlatMesh mesh_flat(const TopoDS_Face& face, double chord, const NodesOf& nodes_of,
                   const std::function<bool(const TopoDS_Shape& edge)>& wanted);

} // namespace kervo::geom
