#include "geom/divide.h"

#include "geom/by_shape.h"
#include "geom/fuse.h"
#include "geom/measure.h"
#include "geom/surface_division.h"

#include <BOPTools_AlgoTools.hxx>
#include <BOPTools_AlgoTools3D.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <IntTools_Context.hxx>
#include <ShapeBuild_ReShape.hxx>
#include <ShapeFix_Shape.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
#include <memory>
#include <numeric>
#include <optional>

namespace kervo::geom {

namespace {

bool is_surface(const TopoDS_Shape& shape) {
    return solids_of(shape).empty();
}

void collect_pieces(const Fuse& fuse, const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                    Division& division) {
    ByShape<std::vector<int>> inside;
    for (const Fuse::Part& part : fuse.parts_of(cutters)) {
        inside.Bind(part.shape, part.inside);
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
        for (TopExp_Explorer it(piece.shape, TopAbs_FACE); it.More(); it.Next()) {
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
        const auto measured = meter.measure(piece.shape);
        piece.volume = measured.volume;
        piece.center = measured.center;
        total += piece.volume;
        if (piece.volume <= 0 || !is_closed(piece.shape) || !is_valid(piece.shape)) {
            return false;
        }
    }
    division.imbalance = std::fabs(total - division.workpiece_volume) / division.workpiece_volume;
    return division.imbalance <= balance_tolerance;
}

// The kernel may miss that two solids overlap, and leave both whole: then a part of a face lies inside a solid that its
// piece is not said to be in. Parts of divided faces are asked, of small bodies all.
bool sides_agree(const Fuse& fuse, const std::vector<TopoDS_Shape>& of, const std::vector<TopoDS_Shape>& solids,
                 const Division& division) {
    constexpr size_t small = 40; // faces
    ByShape<std::vector<size_t>> pieces_at;
    for (size_t i = 0; i < division.pieces.size(); ++i) {
        for (const TopoDS_Shape& face : faces_of(division.pieces[i].shape)) {
            entry(pieces_at, face).push_back(i);
        }
    }
    std::vector<Bnd_Box> boxes;
    for (const TopoDS_Shape& solid : solids) {
        boxes.push_back(bounds_of(solid));
    }
    std::vector<std::unique_ptr<BRepClass3d_SolidClassifier>> asked(solids.size());
    Handle(IntTools_Context) context = new IntTools_Context;
    for (const TopoDS_Shape& body : of) {
        const auto faces = faces_of(body);
        for (const TopoDS_Shape& face : faces) {
            const auto images = fuse.images_of(face);
            if (images.size() < 2 && faces.size() > small) {
                continue;
            }
            for (const TopoDS_Shape& image : images) {
                const auto* here = pieces_at.Seek(image);
                gp_Pnt place;
                gp_Pnt2d in_face;
                if (here == nullptr ||
                    BOPTools_AlgoTools3D::PointInFace(TopoDS::Face(image), place, in_face, context) != 0) {
                    continue;
                }
                for (size_t k = 0; k < solids.size(); ++k) {
                    if (boxes[k].IsOut(place) || solids[k].IsSame(body) || is_surface(solids[k])) {
                        continue;
                    }
                    if (!asked[k]) {
                        asked[k] = std::make_unique<BRepClass3d_SolidClassifier>(solids[k]);
                    }
                    asked[k]->Perform(place, 1e-6);
                    const TopAbs_State state = asked[k]->State();
                    if (state != TopAbs_IN && state != TopAbs_OUT) {
                        continue;
                    }
                    for (const size_t piece : *here) {
                        const auto& inside = division.pieces[piece].inside;
                        const bool said = std::find(inside.begin(), inside.end(), static_cast<int>(k)) != inside.end();
                        if (said != (state == TopAbs_IN)) {
                            return false;
                        }
                    }
                }
            }
        }
    }
    return true;
}

// Says of every piece in front of which surfaces it lies: those that it shows the back of its own face to. Surfaces
// that end in the material, or of which one piece touches both sides, hang.
void find_sides(const Fuse& fuse, const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                Division& division) {
    struct Use {
        size_t piece;
        TopoDS_Face face; // as it lies in the piece
    };
    ByShape<std::vector<Use>> uses;
    for (size_t i = 0; i < division.pieces.size(); ++i) {
        for (TopExp_Explorer it(division.pieces[i].shape, TopAbs_FACE); it.More(); it.Next()) {
            entry(uses, it.Current()).push_back({i, TopoDS::Face(it.Current())});
        }
    }
    TopTools_MapOfShape skin;
    for (const TopoDS_Shape& face : faces_of(workpiece)) {
        for (const TopoDS_Shape& image : fuse.images_of(face)) {
            skin.Add(image);
        }
    }
    Handle(IntTools_Context) context = new IntTools_Context;
    for (size_t k = 0; k < cutters.size(); ++k) {
        const int cutter = static_cast<int>(k);
        bool hangs = false;
        for (const TopoDS_Shape& face : is_surface(cutters[k]) ? faces_of(cutters[k]) : std::vector<TopoDS_Shape>{}) {
            for (const TopoDS_Shape& image : fuse.images_of(face)) {
                const auto* here = skin.Contains(image) ? nullptr : uses.Seek(image);
                if (here == nullptr || hangs) {
                    continue;
                }
                const bool parts = here->size() == 2 && here->front().piece != here->back().piece;
                if (!parts) {
                    hangs = true;
                    division.hanging.push_back({cutter, center_of(image)});
                    continue;
                }
                for (const Use& use : *here) {
                    auto& inside = division.pieces[use.piece].inside;
                    if (BOPTools_AlgoTools::IsSplitToReverse(use.face, face, context) &&
                        std::find(inside.begin(), inside.end(), cutter) == inside.end()) {
                        inside.push_back(cutter);
                    }
                }
            }
        }
    }
    for (DividedPiece& piece : division.pieces) {
        std::sort(piece.inside.begin(), piece.inside.end());
    }
}

// Divides by all but the surfaces that hang, as `attempt` does by those that it is given; indices stay as they are.
template <class Attempt>
std::optional<Division> without_hanging(const std::vector<TopoDS_Shape>& cutters, Attempt&& attempt) {
    std::vector<Hanging> hanging;
    std::vector<int> left(cutters.size());
    std::iota(left.begin(), left.end(), 0);
    while (true) {
        std::vector<TopoDS_Shape> used;
        for (const int k : left) {
            used.push_back(cutters[static_cast<size_t>(k)]);
        }
        std::optional<Division> division = attempt(used);
        if (!division) {
            return std::nullopt;
        }
        for (DividedPiece& piece : division->pieces) {
            for (int& cutter : piece.inside) {
                cutter = left[static_cast<size_t>(cutter)];
            }
        }
        if (division->hanging.empty()) {
            division->hanging = std::move(hanging);
            return division;
        }
        for (Hanging& each : division->hanging) {
            each.cutter = left[static_cast<size_t>(each.cutter)];
            std::erase(left, each.cutter);
            hanging.push_back(each);
        }
    }
}

std::optional<Division> try_divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                   double fuzziness, Progress& progress) {
    if (is_surface(workpiece)) {
        return without_hanging(cutters, [&](const std::vector<TopoDS_Shape>& used) {
            return divide_surface(workpiece, used, fuzziness, progress);
        });
    }
    return without_hanging(cutters, [&](const std::vector<TopoDS_Shape>& used) -> std::optional<Division> {
        std::vector<TopoDS_Shape> arguments{workpiece};
        arguments.insert(arguments.end(), used.begin(), used.end());
        const Fuse fuse(arguments, fuzziness, progress);
        if (!fuse.done()) {
            return std::nullopt;
        }
        Division division;
        collect_pieces(fuse, workpiece, used, division);
        if (std::any_of(used.begin(), used.end(), is_surface)) {
            find_sides(fuse, workpiece, used, division);
        }
        if (division.hanging.empty()) {
            if (!pieces_are_sound(workpiece, division) || !sides_agree(fuse, {workpiece}, used, division)) {
                return std::nullopt;
            }
            collect_origins(fuse, workpiece, used, division);
        }
        return division;
    });
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

namespace {

// The ladder: the same again with more tolerance, then, asked by a fuzziness below zero, with healed inputs.
template <class Attempt> Result<Division> climb(Progress& progress, Attempt&& attempt) {
    std::string reason = "the kernel could not divide the body cleanly";
    for (const double fuzziness : {0.0, 1e-6, 1e-5, -1.0}) {
        try {
            if (std::optional<Division> division = attempt(fuzziness)) {
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
                         "Move what cuts a little, so that it does not nearly touch an edge or a face.");
}

std::optional<Division> try_cells(const std::vector<TopoDS_Shape>& bodies, double fuzziness, Progress& progress) {
    const Fuse fuse(bodies, fuzziness, progress);
    if (!fuse.done()) {
        return std::nullopt;
    }
    Division division;
    VolumeMeter meter(bodies.front());
    double total = 0;
    for (const Fuse::Part& part : fuse.parts_of(bodies)) {
        const auto measured = meter.measure(part.shape);
        if (measured.volume <= 0 || !is_closed(part.shape) || !is_valid(part.shape)) {
            return std::nullopt;
        }
        division.pieces.push_back({part.shape, part.inside, measured.volume, measured.center});
        total += measured.volume * static_cast<double>(part.inside.size());
    }
    for (const TopoDS_Shape& body : bodies) {
        division.workpiece_volume += meter.measure(body).volume;
    }
    division.imbalance = std::fabs(total - division.workpiece_volume) / division.workpiece_volume;
    if (division.imbalance > balance_tolerance || !sides_agree(fuse, bodies, bodies, division)) {
        return std::nullopt;
    }
    collect_origins(fuse, gather(bodies), {}, division);
    return division;
}

} // namespace

Result<Division> divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, Progress& progress) {
    return climb(progress, [&](double fuzziness) {
        return fuzziness < 0 ? divide_healed(workpiece, cutters, progress)
                             : try_divide(workpiece, cutters, fuzziness, progress);
    });
}

Result<Division> cells_of(const std::vector<TopoDS_Shape>& bodies, Progress& progress) {
    return climb(progress, [&](double fuzziness) {
        return fuzziness < 0 ? std::nullopt : try_cells(bodies, fuzziness, progress);
    });
}

Division lumps_of(const TopoDS_Shape& body) {
    Division division;
    if (is_surface(body)) {
        Progress progress;
        return divide_surface(body, {}, 0, progress).value_or(Division{});
    }
    VolumeMeter meter(body);
    for (const TopoDS_Shape& solid : solids_of(body)) {
        const auto measured = meter.measure(solid);
        division.pieces.push_back({solid, {}, measured.volume, measured.center});
        division.workpiece_volume += measured.volume;
    }
    for (const TopoDS_Shape& face : faces_of(body)) {
        division.origins.push_back({face, face});
    }
    return division;
}

bool overlap(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    if (bounds_of(first).IsOut(bounds_of(second))) {
        return false;
    }
    BRepAlgoAPI_Common common(first, second);
    return common.IsDone() && volume_of(common.Shape()) > 1e-9;
}

} // namespace kervo::geom
