// A copy of a shape for the kernel's algorithms that write to what they are given: tolerances of vertices and edges,
// flags. Bodies are read by several steps at once, and must stay what they are.
//
//   const PrivateCopy own(solid);
//   BRepFilletAPI_MakeFillet maker(own.shape());
//   maker.Add(radius, TopoDS::Edge(own.of(edge)));
//   altered.origins.push_back({face, own.original(source)});
#pragma once

#include "geom/kernel/by_shape.h"
#include "geom/kernel/shape.h"

namespace kervo::geom {

/// Of all faces, edges and vertices; curves and surfaces are shared, as nobody writes to them.
class PrivateCopy {
public:
    explicit PrivateCopy(const TopoDS_Shape& shape);

    [[nodiscard]] const TopoDS_Shape& shape() const { return shape_; }
    /// The copy of a face, edge or vertex of the shape, lying as it does; the same where it is none of the shape.
    [[nodiscard]] TopoDS_Shape of(const TopoDS_Shape& part) const;
    /// What a face, edge or vertex is a copy of; the same where it is none.
    [[nodiscard]] TopoDS_Shape original(const TopoDS_Shape& copied) const;

private:
    TopoDS_Shape shape_;
    ByShape<TopoDS_Shape> copies_, originals_; ///< FORWARD
};

} // namespace kervo::geom
