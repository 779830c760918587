// Curves that run one way, chain by chain.
#pragma once

#include <TopoDS_Edge.hxx>
#include <gp_Dir.hxx>

#include <vector>

namespace kervo::geom {

/// The edges in their order, turned so that along each chain, that is what hangs together over vertices, one runs on
/// from the other: closed ones counterclockwise as seen against `up`, open ones as their first edge does. Where more
/// than two meet all of the chain stay as they are.
std::vector<TopoDS_Edge> one_way(const std::vector<TopoDS_Edge>& edges, const gp_Dir& up);

} // namespace kervo::geom
