// Something for each of many shapes.
#pragma once

#include <NCollection_DataMap.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS_Shape.hxx>

namespace kervo::geom {

template <class T> using ByShape = NCollection_DataMap<TopoDS_Shape, T, TopTools_ShapeMapHasher>;

/// What the map has for the shape, or an empty one that it has from now on.
template <class T> T& entry(ByShape<T>& map, const TopoDS_Shape& shape) {
    T* known = map.ChangeSeek(shape);
    return known != nullptr ? *known : *map.Bound(shape, T());
}

} // namespace kervo::geom
