// The kernel's general fuse: all shapes split by each other, and what became of each.
#pragma once

#include "base/progress.h"
#include "geom/kernel/near_origin.h"
#include "geom/kernel/shape.h"

#include <BOPAlgo_Builder.hxx>
#include <BOPAlgo_PaveFiller.hxx>
#include <IntTools_Context.hxx>
#include <TopTools_MapOfShape.hxx>

namespace kervo::geom {

class Fuse {
public:
    /// Shapes of any kind; they are not changed. `fuzziness` in mm.
    Fuse(const std::vector<TopoDS_Shape>& shapes, double fuzziness, Progress& progress);
    /// False where the kernel gave up, was told to, or made points so loose (over 0.01 mm, or twice what came) that
    /// nothing can be trusted.
    [[nodiscard]] bool done() const { return done_; }
    /// What became of a face or solid of the inputs; the shape itself where it was not split.
    [[nodiscard]] std::vector<TopoDS_Shape> images_of(const TopoDS_Shape& shape) const;
    /// What became of a face, each part looking the way that the face looks.
    [[nodiscard]] std::vector<TopoDS_Face> parts_like(const TopoDS_Face& face) const;

    /// A solid that lies inside one or several of the cutters: their indices, ascending.
    struct Part {
        TopoDS_Shape shape;
        std::vector<int> inside;
    };
    /// What became of solids of the inputs, each part once.
    [[nodiscard]] std::vector<Part> parts_of(const std::vector<TopoDS_Shape>& cutters) const;
    /// Adds what became of a face as lying on `source`, as far as it is present.
    void trace(const TopoDS_Shape& face, const TopoDS_Shape& source, const TopTools_MapOfShape& present,
               std::vector<FaceOrigin>& origins) const;

private:
    Handle(IntTools_Context) context_ = new IntTools_Context;
    NearOrigin near_;
    BOPAlgo_PaveFiller filler_;
    BOPAlgo_Builder builder_;
    bool done_ = false;
};

} // namespace kervo::geom
