#include "geom/cut/divide.h"

#include "geom/cut/sides_agree.h"
#include "geom/cut/surface_division.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/common_part.h"
#include "geom/kernel/copy.h"
#include "geom/kernel/fuse.h"
#include "geom/kernel/private_copy.h"
#include "geom/kernel/too_much.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"

#include <BOPTools_AlgoTools.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <IntTools_Context.hxx>
#include <ShapeBuild_ReShape.hxx>
#include <ShapeFix_Shape.hxx>
#include <ShapeUpgrade_ShapeDivideClosed.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
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

// Which of the bodies the faces of pieces are from; what two of them have in common is taken for the first one's.
ByShape<int> bodies_of_faces(const Fuse& fuse, const std::vector<TopoDS_Shape>& bodies) {
    ByShape<int> from;
    for (size_t k = 0; k < bodies.size(); ++k) {
        for (const TopoDS_Shape& face : faces_of(bodies[k])) {
            for (const TopoDS_Shape& image : fuse.images_of(face)) {
                if (!from.IsBound(image)) {
                    from.Bind(image, static_cast<int>(k));
                }
            }
        }
    }
    return from;
}

bool pieces_are_sound(const Fuse& fuse, const std::vector<TopoDS_Shape>& bodies, Division& division) {
    const TopoDS_Shape& workpiece = bodies.front();
    VolumeMeter meter(workpiece);
    division.workpiece_volume = meter.measure(workpiece).volume;
    double total = 0;
    std::vector<TopoDS_Shape> shapes;
    for (DividedPiece& piece : division.pieces) {
        const auto measured = meter.measure(piece.shape);
        piece.volume = measured.volume;
        piece.center = measured.center;
        total += piece.volume;
        if (piece.volume <= 0 || !is_closed(piece.shape) || !is_valid(piece.shape)) {
            return false;
        }
        shapes.push_back(piece.shape);
    }
    if (crossing_within(shapes, bodies_of_faces(fuse, bodies))) {
        return false; // a meeting that was missed
    }
    division.imbalance = std::fabs(total - division.workpiece_volume) / division.workpiece_volume;
    return division.imbalance <= balance_tolerance;
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
    const ByShape<int> skin = bodies_of_faces(fuse, {workpiece});
    Handle(IntTools_Context) context = new IntTools_Context;
    for (size_t k = 0; k < cutters.size(); ++k) {
        const int cutter = static_cast<int>(k);
        bool hangs = false;
        for (const TopoDS_Shape& face : is_surface(cutters[k]) ? faces_of(cutters[k]) : std::vector<TopoDS_Shape>{}) {
            for (const TopoDS_Shape& image : fuse.images_of(face)) {
                const auto* here = skin.IsBound(image) ? nullptr : uses.Seek(image);
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
        return divide_surface(workpiece, cutters, fuzziness, progress);
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
            if (!pieces_are_sound(fuse, arguments, division) || !sides_agree(fuse, {workpiece}, used, division)) {
                return std::nullopt;
            }
            collect_origins(fuse, workpiece, used, division);
        }
        return division;
    });
}

// Inputs made anew for another try: their new faces are handed back under the faces they were made from.
class Remade {
public:
    enum class How {
        healed,
        in_halves, ///< closed faces have no seam then, and spheres no poles
        free_form  ///< the kernel finds other places where surfaces meet when it does not know that they are round
    };
    explicit Remade(How how) : how_(how) {}

    TopoDS_Shape of(const TopoDS_Shape& shape) {
        if (how_ == How::free_form) {
            return in_free_form(shape);
        }
        const PrivateCopy own(shape);
        Handle(ShapeBuild_ReShape) context;
        TopoDS_Shape made;
        if (how_ == How::healed) {
            Handle(ShapeFix_Shape) fix = new ShapeFix_Shape(own.shape());
            fix->Perform();
            context = fix->Context();
            made = fix->Shape();
        } else {
            ShapeUpgrade_ShapeDivideClosed divider(own.shape());
            divider.SetNbSplitPoints(1);
            divider.Perform();
            context = divider.GetContext();
            made = divider.Result();
        }
        for (const TopoDS_Shape& face : faces_of(shape)) {
            for (const TopoDS_Shape& now : faces_of(context->Apply(own.of(face)))) {
                sources_.Bind(now, face);
            }
        }
        return made;
    }
    std::vector<TopoDS_Shape> of(const std::vector<TopoDS_Shape>& shapes) {
        std::vector<TopoDS_Shape> made;
        for (const TopoDS_Shape& shape : shapes) {
            made.push_back(of(shape));
        }
        return made;
    }
    [[nodiscard]] std::optional<Division> traced_back(std::optional<Division> division) const {
        if (division) {
            for (FaceOrigin& origin : division->origins) {
                if (const TopoDS_Shape* source = sources_.Seek(origin.source)) {
                    origin.source = *source;
                }
            }
        }
        return division;
    }

private:
    TopoDS_Shape in_free_form(const TopoDS_Shape& shape) {
        ShapeWithRoles given{shape, {}};
        const auto faces = faces_of(shape);
        for (const TopoDS_Shape& face : faces) {
            given.roles.push_back({face, {}});
        }
        const ShapeWithRoles made = free_form(given);
        for (size_t i = 0; i < made.roles.size(); ++i) {
            sources_.Bind(made.roles[i].face, faces[i]);
        }
        return made.shape.IsNull() ? shape : made.shape;
    }

    How how_;
    ByShape<TopoDS_Shape> sources_;
};

// The ladder: `attempt` with the inputs as they are, then with more tolerance, then with inputs made anew.
template <class Attempt> Result<Division> climb(Progress& progress, Attempt&& attempt) {
    std::vector<std::string> trace;
    int number = 0;
    using How = Remade::How;
    struct Rung {
        double fuzziness;
        std::optional<How> remade;
    };
    for (const Rung& rung :
         {Rung{0, {}}, Rung{1e-6, {}}, Rung{1e-5, {}}, Rung{0, How::in_halves}, Rung{1e-6, How::healed}, Rung{1e-4, {}},
          Rung{0, How::free_form}, Rung{1e-5, How::free_form}}) {
        const std::string rung_text = "rung " + std::to_string(++number) + ": ";
        try {
            if (std::optional<Division> division = attempt(rung.fuzziness, rung.remade)) {
                division->free_form = rung.remade == How::free_form;
                return std::move(*division);
            }
            trace.push_back(rung_text + "no sound pieces");
        } catch (const Standard_Failure& failure) {
            trace.push_back(rung_text + failure.DynamicType()->Name() + " " + failure.GetMessageString());
        }
        if (progress.cancelled()) {
            return error_finding("divide.cancelled", "The cut was cancelled.", "");
        }
    }
    Finding failed =
        error_finding("divide.failed", "This cut has no sound result: the body could not be divided cleanly.",
                      "Move what cuts a little, so that it does not nearly touch an edge or a face.");
    failed.trace = std::move(trace);
    return failed;
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
        if (measured.volume <= 0 || !is_closed(part.shape) || !is_valid(part.shape) || self_crossing(part.shape)) {
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

namespace {

// The last rung: one cutter after the other, each climbing by itself. Pieces share no faces then.
Result<Division> divide_one_by_one(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                   Progress& progress) {
    Division division = lumps_of(workpiece);
    for (size_t k = 0; k < cutters.size(); ++k) {
        std::vector<DividedPiece> pieces;
        std::vector<FaceOrigin> origins;
        for (const DividedPiece& piece : division.pieces) {
            const auto divided = divide(piece.shape, {cutters[k]}, progress);
            if (!divided) {
                return divided.finding();
            }
            for (DividedPiece part : divided->pieces) {
                const bool within = !part.inside.empty();
                part.inside = piece.inside;
                if (within) {
                    part.inside.push_back(static_cast<int>(k));
                }
                pieces.push_back(std::move(part));
            }
            for (FaceOrigin& origin : traced_back(divided->origins, division.origins)) {
                origins.push_back(std::move(origin));
            }
            division.imbalance = std::max(division.imbalance, divided->imbalance);
            division.free_form = division.free_form || divided->free_form;
        }
        division.pieces = std::move(pieces);
        division.origins = std::move(origins);
    }
    return division;
}

} // namespace

Result<Division> divide(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, Progress& progress) {
    auto all = cutters;
    all.push_back(workpiece);
    if (auto much = too_much_overlaps(all)) {
        return *much;
    }
    auto division = climb(progress, [&](double fuzziness, std::optional<Remade::How> how) {
        if (!how) {
            return try_divide(workpiece, cutters, fuzziness, progress);
        }
        Remade remade(*how);
        const TopoDS_Shape again = remade.of(workpiece);
        if (is_surface(again) != is_surface(workpiece)) { // a solid that is none
            return std::optional<Division>();
        }
        return remade.traced_back(try_divide(again, remade.of(cutters), fuzziness, progress));
    });
    const bool solids = !is_surface(workpiece) && std::none_of(cutters.begin(), cutters.end(), is_surface);
    if (!division && solids && cutters.size() > 1 && !progress.cancelled()) {
        if (auto one_by_one = divide_one_by_one(workpiece, cutters, progress)) {
            return one_by_one;
        }
    }
    return division;
}

Result<Division> cells_of(const std::vector<TopoDS_Shape>& bodies, Progress& progress) {
    if (auto much = too_much_overlaps(bodies)) {
        return *much;
    }
    return climb(progress, [&](double fuzziness, std::optional<Remade::How> how) {
        if (!how) {
            return try_cells(bodies, fuzziness, progress);
        }
        Remade remade(*how);
        return remade.traced_back(try_cells(remade.of(bodies), fuzziness, progress));
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

std::optional<bool> overlap(const TopoDS_Shape& first, const TopoDS_Shape& second) {
    if (bounds_of(first).IsOut(bounds_of(second))) {
        return false;
    }
    try {
        const auto shared = common_part(first, second);
        return shared ? std::optional(volume_of(*shared) > 1e-9) : std::nullopt;
    } catch (const Standard_Failure&) {
        return std::nullopt;
    }
}

} // namespace kervo::geom
