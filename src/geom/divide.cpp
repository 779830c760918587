#include "geom/divide.h"

#include "geom/kernel_progress.h"
#include "geom/measure.h"

#include <BOPAlgo_Builder.hxx>
#include <BOPAlgo_PaveFiller.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <ShapeBuild_ReShape.hxx>
#include <ShapeFix_Shape.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>

#include <cmath>
#include <optional>

namespace kervo::geom {

namespace {

// The images of a shape after the general fuse; the shape itself when it was not split.
std::vector<TopoDS_Shape> images_of(const BOPAlgo_Builder& builder, const TopoDS_Shape& shape) {
    std::vector<TopoDS_Shape> result;
    const auto same = [&](const TopoDS_Shape& s) {
        const TopoDS_Shape* domain = builder.ShapesSD().Seek(s);
        return domain != nullptr ? *domain : s;
    };
    if (const TopTools_ListOfShape* images = builder.Images().Seek(shape)) {
        for (const TopoDS_Shape& image : *images) {
            result.push_back(same(image));
        }
    } else {
        result.push_back(same(shape));
    }
    return result;
}

void collect_pieces(const BOPAlgo_Builder& builder, const TopoDS_Shape& workpiece,
                    const std::vector<TopoDS_Shape>& cutters, Division& division) {
    NCollection_DataMap<TopoDS_Shape, std::vector<int>, TopTools_ShapeMapHasher> inside;
    for (size_t i = 0; i < cutters.size(); ++i) {
        for (const TopoDS_Shape& solid : solids_of(cutters[i])) {
            for (const TopoDS_Shape& image : images_of(builder, solid)) {
                if (!inside.IsBound(image)) {
                    inside.Bind(image, {});
                }
                auto& list = inside.ChangeFind(image);
                if (list.empty() || list.back() != static_cast<int>(i)) {
                    list.push_back(static_cast<int>(i));
                }
            }
        }
    }
    for (const TopoDS_Shape& solid : solids_of(workpiece)) {
        for (const TopoDS_Shape& image : images_of(builder, solid)) {
            const auto* cutters_around = inside.Seek(image);
            division.pieces.push_back({image, cutters_around != nullptr ? *cutters_around : std::vector<int>{}, 0, {}});
        }
    }
}

void collect_origins(const BOPAlgo_Builder& builder, const TopoDS_Shape& workpiece,
                     const std::vector<TopoDS_Shape>& cutters, Division& division) {
    TopTools_MapOfShape present;
    for (const DividedPiece& piece : division.pieces) {
        for (TopExp_Explorer it(piece.solid, TopAbs_FACE); it.More(); it.Next()) {
            present.Add(it.Current());
        }
    }
    const auto trace = [&](const TopoDS_Shape& input) {
        for (const TopoDS_Shape& source : faces_of(input)) {
            for (const TopoDS_Shape& face : images_of(builder, source)) {
                if (present.Contains(face)) {
                    division.origins.push_back({face, source});
                }
            }
        }
    };
    trace(workpiece);
    for (const TopoDS_Shape& cutter : cutters) {
        trace(cutter);
    }
}

bool pieces_are_sound(const TopoDS_Shape& workpiece, Division& division) {
    VolumeMeter meter(workpiece);
    division.workpiece_volume = meter.measure(workpiece).volume;
    double total = 0;
    for (DividedPiece& piece : division.pieces) {
        const auto measured = meter.measure(piece.solid);
        piece.volume = measured.volume;
        piece.center = measured.center;
        total += piece.volume;
        if (piece.volume <= 0 || !is_closed(piece.solid)) {
            return false;
        }
    }
    division.imbalance = std::fabs(total - division.workpiece_volume) / division.workpiece_volume;
    return division.imbalance <= balance_tolerance;
}

std::optional<Division> try_divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                   double fuzziness, Progress& progress) {
    TopTools_ListOfShape arguments;
    arguments.Append(workpiece);
    for (const TopoDS_Shape& cutter : cutters) {
        arguments.Append(cutter);
    }
    Handle(KernelProgress) watch = new KernelProgress(progress);
    Message_ProgressScope scope(watch->Start(), "divide", 10);
    BOPAlgo_PaveFiller filler;
    filler.SetArguments(arguments);
    filler.SetNonDestructive(Standard_True);
    filler.SetRunParallel(Standard_True);
    filler.SetFuzzyValue(fuzziness);
    filler.Perform(scope.Next(8));
    if (filler.HasErrors() || progress.cancelled()) {
        return std::nullopt;
    }
    BOPAlgo_Builder builder;
    for (const TopoDS_Shape& argument : arguments) {
        builder.AddArgument(argument);
    }
    builder.SetRunParallel(Standard_True);
    builder.SetCheckInverted(Standard_False);
    builder.SetToFillHistory(Standard_False);
    builder.PerformWithFiller(filler, scope.Next(2));
    if (builder.HasErrors() || progress.cancelled()) {
        return std::nullopt;
    }
    Division division;
    collect_pieces(builder, workpiece, cutters, division);
    if (!pieces_are_sound(workpiece, division)) {
        return std::nullopt;
    }
    collect_origins(builder, workpiece, cutters, division);
    return division;
}

// Healing makes new faces; they are handed back under the faces they were made from.
TopoDS_Shape healed(const TopoDS_Shape& shape, std::vector<FaceOrigin>& replaced) {
    Handle(ShapeFix_Shape) fix = new ShapeFix_Shape(shape);
    fix->Perform();
    for (const TopoDS_Shape& face : faces_of(shape)) {
        replaced.push_back({fix->Context()->Apply(face), face});
    }
    return fix->Shape();
}

std::optional<Division> divide_healed(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                      Progress& progress) {
    std::vector<FaceOrigin> replaced;
    const TopoDS_Shape mended = healed(workpiece, replaced);
    std::vector<TopoDS_Shape> mended_cutters;
    for (const TopoDS_Shape& cutter : cutters) {
        mended_cutters.push_back(healed(cutter, replaced));
    }
    auto division = try_divide(mended, mended_cutters, 1e-6, progress);
    if (division) {
        for (FaceOrigin& origin : division->origins) {
            for (const FaceOrigin& pair : replaced) {
                if (pair.result.IsSame(origin.source)) {
                    origin.source = pair.source;
                    break;
                }
            }
        }
    }
    return division;
}

} // namespace

Result<Division> divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, Progress& progress) {
    std::string reason = "the kernel could not divide the body cleanly";
    for (const double fuzziness : {0.0, 1e-6, 1e-5, -1.0}) {
        try {
            auto division = fuzziness < 0 ? divide_healed(workpiece, cutters, progress)
                                          : try_divide(workpiece, cutters, fuzziness, progress);
            if (division) {
                return std::move(*division);
            }
        } catch (const Standard_Failure& failure) {
            reason = std::string("the kernel stopped (") + failure.DynamicType()->Name() + ")";
        }
        if (progress.cancelled()) {
            return error_finding("divide.cancelled", "The cut was cancelled.", "");
        }
    }
    return error_finding("divide.failed", "This cut has no sound result: " + reason + ".",
                         "Move the profile a little, so that it does not nearly touch an edge or a face.");
}

bool overlap(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    if (bounds_of(first).IsOut(bounds_of(second))) {
        return false;
    }
    BRepAlgoAPI_Common common(first, second);
    return common.IsDone() && volume_of(common.Shape()) > 1e-9;
}

} // namespace kervo::geom
