// What steps that alter a body face by face share: told from the kernel's makers.
#pragma once

#include "geom/altered.h"
#include "geom/measure.h"

#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>

namespace kervo::geom {

/// Solids that are closed, valid and hold something.
inline bool is_sound(const TopoDS_Shape& shape) {
    return !shape.IsNull() && !solids_of(shape).empty() && is_closed(shape) && is_valid(shape) && volume_of(shape) > 0;
}

// What became of the solid's faces, edges and vertices.
template <class Maker> void take_over(Maker& maker, const TopoDS_Shape& solid, Altered& altered) {
    TopTools_IndexedMapOfShape present;
    TopExp::MapShapes(maker.Shape(), TopAbs_FACE, present);
    for (const TopoDS_Shape& face : faces_of(solid)) {
        const TopTools_ListOfShape& modified = maker.Modified(face);
        for (const TopoDS_Shape& now : modified) {
            if (present.Contains(now)) {
                altered.origins.push_back({now, face});
            }
        }
        if (modified.IsEmpty() && present.Contains(face)) {
            altered.origins.push_back({face, face});
        }
    }
    auto sources = edges_of(solid);
    const auto vertices = vertices_of(solid);
    sources.insert(sources.end(), vertices.begin(), vertices.end());
    for (const TopoDS_Shape& source : sources) {
        for (const TopoDS_Shape& face : maker.Generated(source)) {
            if (face.ShapeType() == TopAbs_FACE && present.Contains(face)) {
                altered.made.push_back({face, source});
            }
        }
    }
}

} // namespace kervo::geom
