// Edges made one by one that are to hang together.
#pragma once

#include <TopoDS_Edge.hxx>

#include <vector>

namespace kervo::geom {

/// The same edges, where ends that are no farther apart than `tolerance` (mm) are one vertex, which reaches all of
/// them. Edges whose ends are all their own stay as they are; others keep their curves and how they run.
std::vector<TopoDS_Edge> join_ends(const std::vector<TopoDS_Edge>& edges, double tolerance);

} // namespace kervo::geom
