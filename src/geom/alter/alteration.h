// What is shared by the operations that alter a body solid by solid and face by face.
#pragma once

#include "geom/alter/altered.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/private_copy.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"

#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>

#include <algorithm>
#include <iterator>

namespace kervo::geom {

/// Solids that are closed, valid and hold something.
inline bool is_sound(const TopoDS_Shape& shape) {
    return !shape.IsNull() && !solids_of(shape).empty() && is_closed(shape) && is_valid(shape) && volume_of(shape) > 0;
}

/// The same, and no face that `before` does not have crosses another.
inline bool is_sound_after(const TopoDS_Shape& before, const TopoDS_Shape& now) {
    return is_sound(now) && !new_crossing(before, now);
}

/// Those of `all` whose shape, an edge or a face as `shape_of` gives it, belongs to the solid.
template <class T, class ShapeOf>
std::vector<T> those_on(const TopoDS_Shape& solid, const std::vector<T>& all, ShapeOf&& shape_of) {
    TopTools_IndexedMapOfShape own;
    TopExp::MapShapes(solid, own);
    std::vector<T> here;
    std::copy_if(all.begin(), all.end(), std::back_inserter(here),
                 [&](const T& each) { return own.Contains(shape_of(each)); });
    return here;
}

/// Adds what was altered in a copy to the rest, as altered in what it is a copy of.
template <class Copy> void add_from_copy(const Altered& in_copy, const Copy& own, Altered& altered) {
    for (const FaceOrigin& origin : in_copy.origins) {
        altered.origins.push_back({own.back(origin.result), own.original(origin.source)});
    }
    for (const Altered::Made& made : in_copy.made) {
        altered.made.push_back({own.back(made.face), own.original(made.source)});
    }
}

/// Notes a solid that nothing happens to.
inline void keep(const TopoDS_Shape& solid, Altered& altered, std::vector<TopoDS_Shape>& solids) {
    solids.push_back(solid);
    for (const TopoDS_Shape& face : faces_of(solid)) {
        altered.origins.push_back({face, face});
    }
}

} // namespace kervo::geom
