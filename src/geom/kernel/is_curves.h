// Shapes that are curves alone.
#pragma once

#include <TopExp_Explorer.hxx>
#include <TopoDS_Shape.hxx>

namespace kervo::geom {

/// Edges that bound no face. Quick: no list of its faces is made.
inline bool is_curves(const TopoDS_Shape& shape) {
    return !TopExp_Explorer(shape, TopAbs_FACE).More() && TopExp_Explorer(shape, TopAbs_EDGE).More();
}

} // namespace kervo::geom
