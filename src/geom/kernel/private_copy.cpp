#include "geom/kernel/private_copy.h"

#include <BRepBuilderAPI_Copy.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>

namespace kervo::geom {

PrivateCopy::PrivateCopy(const TopoDS_Shape& shape) {
    BRepBuilderAPI_Copy copy(shape, Standard_False, Standard_False);
    shape_ = copy.Shape();
    for (const TopAbs_ShapeEnum kind : {TopAbs_FACE, TopAbs_EDGE, TopAbs_VERTEX}) {
        TopTools_IndexedMapOfShape parts;
        TopExp::MapShapes(shape, kind, parts);
        for (int i = 1; i <= parts.Extent(); ++i) {
            const TopoDS_Shape& part = parts(i);
            const TopoDS_Shape copied = copy.ModifiedShape(part);
            copies_.Bind(part, copied.Oriented(TopAbs_FORWARD));
            originals_.Bind(copied, part.Oriented(TopAbs_FORWARD));
        }
    }
}

TopoDS_Shape PrivateCopy::of(const TopoDS_Shape& part) const {
    const TopoDS_Shape* copied = part.IsNull() ? nullptr : copies_.Seek(part);
    return copied != nullptr ? copied->Oriented(part.Orientation()) : part;
}

TopoDS_Shape PrivateCopy::original(const TopoDS_Shape& copied) const {
    const TopoDS_Shape* part = copied.IsNull() ? nullptr : originals_.Seek(copied);
    return part != nullptr ? part->Oriented(copied.Orientation()) : copied;
}

} // namespace kervo::geom
