// Edges that continue each other become one.
#pragma once

#include <BRepTools_ReShape.hxx>
#include <TopoDS_Shape.hxx>

namespace kervo::geom {

/// One edge in place of two that run on one curve and meet in a vertex where nothing else is, wherever that can be at
/// once: what is to be replaced goes `into` the changes. Whether there is any; a chain needs several calls.
bool merge_edges(const TopoDS_Shape& shape, BRepTools_ReShape& into);

} // namespace kervo::geom
