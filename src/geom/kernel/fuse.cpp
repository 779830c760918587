#include "geom/kernel/fuse.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/kernel_progress.h"

#include <BOPTools_AlgoTools.hxx>
#include <BRep_Tool.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

// The largest tolerance of a vertex, mm.
double loosest_vertex(const TopoDS_Shape& shape) {
    TopTools_IndexedMapOfShape vertices;
    TopExp::MapShapes(shape, TopAbs_VERTEX, vertices);
    double loosest = 0;
    for (int i = 1; i <= vertices.Extent(); ++i) {
        loosest = std::max(loosest, BRep_Tool::Tolerance(TopoDS::Vertex(vertices(i))));
    }
    return loosest;
}

} // namespace

Fuse::Fuse(const std::vector<TopoDS_Shape>& shapes, double fuzziness, Progress& progress) {
    if (shapes.size() < 2) { // the kernel wants two; alone, nothing becomes anything else
        done_ = true;
        return;
    }
    near_ = NearOrigin(shapes);
    TopTools_ListOfShape arguments;
    for (const TopoDS_Shape& shape : shapes) {
        arguments.Append(near_.bring(shape));
    }
    Handle(KernelProgress) watch = new KernelProgress(progress);
    Message_ProgressScope scope(watch->Start(), "divide", 10);
    filler_.SetArguments(arguments);
    filler_.SetNonDestructive(Standard_True);
    filler_.SetRunParallel(Standard_True);
    filler_.SetFuzzyValue(fuzziness);
    filler_.Perform(scope.Next(8));
    if (filler_.HasErrors() || progress.cancelled()) {
        return;
    }
    for (const TopoDS_Shape& argument : arguments) {
        builder_.AddArgument(argument);
    }
    builder_.SetRunParallel(Standard_True);
    builder_.SetCheckInverted(Standard_False);
    builder_.SetToFillHistory(Standard_False);
    builder_.PerformWithFiller(filler_, scope.Next(2));
    if (builder_.HasErrors() || progress.cancelled()) {
        return;
    }
    // A vertex that swallowed others is a ball in which every check passes and nothing is true.
    double loosest = 0.01;
    for (const TopoDS_Shape& shape : shapes) {
        loosest = std::max(loosest, 2 * loosest_vertex(shape));
    }
    done_ = loosest_vertex(builder_.Shape()) <= loosest;
}

std::vector<TopoDS_Shape> Fuse::images_of(const TopoDS_Shape& shape) const {
    std::vector<TopoDS_Shape> result;
    const auto same = [&](const TopoDS_Shape& s) {
        const TopoDS_Shape* domain = builder_.ShapesSD().Seek(s);
        return near_.take_back(domain != nullptr ? *domain : s);
    };
    const TopoDS_Shape given = near_.bring(shape);
    if (const TopTools_ListOfShape* images = builder_.Images().Seek(given)) {
        for (const TopoDS_Shape& image : *images) {
            result.push_back(same(image));
        }
    } else {
        result.push_back(same(given));
    }
    return result;
}

std::vector<TopoDS_Face> Fuse::parts_like(const TopoDS_Face& face) const {
    std::vector<TopoDS_Face> parts;
    for (const TopoDS_Shape& image : images_of(face)) {
        TopoDS_Face part = TopoDS::Face(image.Oriented(TopAbs_FORWARD));
        if (part.IsSame(face) ? face.Orientation() == TopAbs_REVERSED
                              : BOPTools_AlgoTools::IsSplitToReverse(part, face, context_)) {
            part.Reverse();
        }
        parts.push_back(part);
    }
    return parts;
}

std::vector<Fuse::Part> Fuse::parts_of(const std::vector<TopoDS_Shape>& cutters) const {
    std::vector<Part> parts;
    ByShape<size_t> known;
    for (size_t i = 0; i < cutters.size(); ++i) {
        for (const TopoDS_Shape& solid : solids_of(cutters[i])) {
            for (const TopoDS_Shape& image : images_of(solid)) {
                if (!known.IsBound(image)) {
                    known.Bind(image, parts.size());
                    parts.push_back({image, {}});
                }
                auto& inside = parts[known.Find(image)].inside;
                if (inside.empty() || inside.back() != static_cast<int>(i)) {
                    inside.push_back(static_cast<int>(i));
                }
            }
        }
    }
    return parts;
}

void Fuse::trace(const TopoDS_Shape& face, const TopoDS_Shape& source, const TopTools_MapOfShape& present,
                 std::vector<FaceOrigin>& origins) const {
    for (const TopoDS_Shape& image : images_of(face)) {
        if (present.Contains(image)) {
            origins.push_back({image, source});
        }
    }
}

} // namespace kervo::geom
