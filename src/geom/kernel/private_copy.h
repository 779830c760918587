// A copy of a shape for the kernel's algorithms that write to what they are given: tolerances of vertices and edges,
// flags. Bodies are read by several steps at once, and must stay what they are.
//
//   const PrivateCopy own(solid);
//   BRepFilletAPI_MakeFillet maker(own.shape());
//   maker.Add(radius, TopoDS::Edge(own.of(edge)));
//   altered.origins.push_back({face, own.original(source)});
#pragma once

#include "geom/kernel/by_shape.h"
#include "geom/kernel/near_origin.h"
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
    /// What was made of it lies where it belongs; see `CopyNearOrigin`.
    [[nodiscard]] static const TopoDS_Shape& back(const TopoDS_Shape& made) { return made; }

private:
    TopoDS_Shape shape_;
    ByShape<TopoDS_Shape> copies_, originals_; ///< FORWARD
};

/// The same brought near the origin: far away the kernel's blends and drafts are wrong by a thousandth.
class CopyNearOrigin {
public:
    explicit CopyNearOrigin(const TopoDS_Shape& shape)
        : own_(shape), near_({shape}), shape_(near_.bring(own_.shape())) {}

    [[nodiscard]] const TopoDS_Shape& shape() const { return shape_; }
    /// There, of a face, edge or vertex of the shape.
    [[nodiscard]] TopoDS_Shape of(const TopoDS_Shape& part) const {
        return part.IsNull() ? part : near_.bring(own_.of(part));
    }
    [[nodiscard]] TopoDS_Shape original(const TopoDS_Shape& copied) const {
        return copied.IsNull() ? copied : own_.original(near_.take_back(copied));
    }
    /// What was made there, where it belongs.
    [[nodiscard]] TopoDS_Shape back(const TopoDS_Shape& made) const {
        return made.IsNull() ? made : near_.take_back(made);
    }
    [[nodiscard]] gp_Trsf way_there() const { return near_.way(); }

private:
    PrivateCopy own_;
    NearOrigin near_;
    TopoDS_Shape shape_;
};

} // namespace kervo::geom
