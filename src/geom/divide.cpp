#include "geom/divide.h"

#include "geom/by_shape.h"
#include "geom/fuse.h"
#include "geom/measure.h"

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

void collect_pieces(const Fuse& fuse, const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                    Division& division) {
    ByShape<std::vector<int>> inside;
    for (const Fuse::Part& part : fuse.parts_of(cutters)) {
        inside.Bind(part.solid, part.inside);
    }
    for (const TopoDS_Shape& solid : solids_of(workpiece)) {
        for (const TopoDS_Shape& image : fuse.images_of(solid)) {
            const auto* cutters_around = inside.Seek(image);
            division.pieces.push_back({image, cutters_around != nullptr ? *cutters_around : std::vector<int>{}, 0, {}});
        }
    }
}

void collect_origins(const Fuse& fuse, const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                     Division& division) {
    TopTools_MapOfShape present;
    for (const DividedPiece& piece : division.pieces) {
        for (TopExp_Explorer it(piece.solid, TopAbs_FACE); it.More(); it.Next()) {
            present.Add(it.Current());
        }
    }
    const auto trace = [&](const TopoDS_Shape& input) {
        for (const TopoDS_Shape& face : faces_of(input)) {
            fuse.trace(face, face, present, division.origins);
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
    std::vector<TopoDS_Shape> arguments{workpiece};
    arguments.insert(arguments.end(), cutters.begin(), cutters.end());
    const Fuse fuse(arguments, fuzziness, progress);
    if (!fuse.done()) {
        return std::nullopt;
    }
    Division division;
    collect_pieces(fuse, workpiece, cutters, division);
    if (!pieces_are_sound(workpiece, division)) {
        return std::nullopt;
    }
    collect_origins(fuse, workpiece, cutters, division);
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
