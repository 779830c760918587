// Flat faces in what edges enclose.
#pragma once

#include "geom/make/edge_net.h"

#include <TopoDS_Face.hxx>

namespace kervo::geom {

struct LoopFace {
    TopoDS_Face face;
    std::vector<size_t> edges; ///< of the net, sorted
};

/// A face for each flat part that the edges enclose and none of them divides, in whatever planes they lie; a part
/// within another is a hole of it. Edges that enclose nothing are left. Traced in each plane around every point by
/// direction; areas are compared with Green's integral along the edges, and every face passes the kernel's check.
/// Findings: build.crossing (edges meet where no point is, with the place), build.no_face.
Result<std::vector<LoopFace>> flat_faces(const EdgeNet& net, const std::vector<size_t>& edges);

/// Whether all the edges lie in one plane.
bool are_flat(const EdgeNet& net, const std::vector<size_t>& edges);

} // namespace kervo::geom
