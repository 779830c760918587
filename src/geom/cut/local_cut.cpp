#include "geom/kernel/box_pairs.h"

#include "geom/cut/local_cut.h"

#include "geom/cut/reached_faces.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/fuse.h"
#include "geom/kernel/rebuild.h"
#include "geom/kernel/too_much.h"
#include "geom/measure/pick.h"
#include "geom/measure/self_crossing.h"
#include "geom/outline/flat_outline.h"

#include <BOPTools_AlgoTools.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <IntTools_Context.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <boost/pending/disjoint_sets.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <set>

namespace kervo::geom {

namespace {

std::vector<TopoDS_Shape> real_edges_of(const TopoDS_Shape& face) {
    std::vector<TopoDS_Shape> edges;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        if (!BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
            edges.push_back(it.Current());
        }
    }
    return edges;
}

// How often each edge is used. False where one lies within a face.
bool count_uses(const std::vector<TopoDS_Face>& faces, ByShape<int>& uses) {
    for (const TopoDS_Face& face : faces) {
        for (const TopoDS_Shape& edge : real_edges_of(face)) {
            if (edge.Orientation() != TopAbs_FORWARD && edge.Orientation() != TopAbs_REVERSED) {
                return false;
            }
            ++entry(uses, edge);
        }
    }
    return true;
}

// Faces that hang together over edges get the same number.
std::vector<size_t> connected(const std::vector<TopoDS_Face>& faces) {
    boost::disjoint_sets_with_storage<> sets(faces.size());
    ByShape<size_t> first;
    for (size_t i = 0; i < faces.size(); ++i) {
        for (const TopoDS_Shape& edge : real_edges_of(faces[i])) {
            if (const size_t* other = first.Seek(edge)) {
                sets.union_set(*other, i);
            } else {
                first.Bind(edge, i);
            }
        }
    }
    std::vector<size_t> groups;
    for (size_t i = 0; i < faces.size(); ++i) {
        groups.push_back(sets.find_set(i));
    }
    return groups;
}

class LocalCut {
public:
    LocalCut(const BodyIndexPtr& body, const std::vector<TopoDS_Shape>& cutters)
        : body_(body), cutters_(cutters), reached_(body, cutters) {}

    /// Faces that are only touched are no part of the cut. False where there are none.
    bool leave_out_what_touches(Progress& progress) { return reached_.leave_out_what_touches(progress); }

    std::optional<LocalDivision> divide(const LazyIndex& workpiece, Progress& progress, size_t worth_it) {
        if (reached_.find() < worth_it) {
            why_not_ = "hardly anything is out of reach";
            return std::nullopt;
        }
        if (too_much_overlaps(reached_.with_cutters())) {
            why_not_ = "too much overlaps within reach";
            return std::nullopt;
        }
        const Fuse fuse(reached_.with_cutters(), 0, progress);
        if (!fuse.done()) {
            why_not_ = "the faces in reach could not be split";
            return std::nullopt;
        }
        if (!find_cells(fuse) || !find_material(fuse) || !sort_faces() || !close_up() || !take_loops_back()) {
            return std::nullopt;
        }
        whole_ = workpiece.cone();
        put_together();
        add_plugs();
        if (!balanced()) {
            return std::nullopt;
        }
        trace(fuse);
        return std::move(result_);
    }
    [[nodiscard]] const std::string& why_not() const { return why_not_; }

private:
    struct Use {
        size_t cell = 0;
        TopoDS_Face face; // as it lies in the cell
    };
    struct Cell : Fuse::Part { // where one or several cutters are
        std::optional<bool> material;
    };

    bool refuse(const char* why) {
        why_not_ = why;
        return false;
    }

    bool find_cells(const Fuse& fuse) {
        for (Fuse::Part& part : fuse.parts_of(cutters_)) {
            cells_.push_back({std::move(part), {}});
        }
        for (size_t i = 0; i < cells_.size(); ++i) {
            for (TopExp_Explorer it(cells_[i].shape, TopAbs_FACE); it.More(); it.Next()) {
                if (it.Current().Orientation() != TopAbs_FORWARD && it.Current().Orientation() != TopAbs_REVERSED) {
                    return refuse("a face ends within a cutter");
                }
                auto& uses = entry(uses_, it.Current());
                uses.push_back({i, TopoDS::Face(it.Current())});
                order_.push_back(it.Current());
            }
        }
        return true;
    }

    // A cell whose outside looks the way the body's looks holds material; it is the same across a cutter's face.
    bool find_material(const Fuse& fuse) {
        Handle(IntTools_Context) context = new IntTools_Context;
        std::vector<size_t> open;
        for (size_t i = 0; i < reached_.size(); ++i) {
            reached_[i].pieces = fuse.images_of(reached_[i].bare);
            const TopoDS_Face& whole = reached_[i].bare;
            for (const TopoDS_Shape& piece : reached_[i].pieces) {
                if (of_body_.IsBound(piece)) {
                    return refuse("faces of the body lie on each other");
                }
                of_body_.Bind(piece, i);
                const auto* uses = uses_.Seek(piece);
                for (size_t k = 0; uses != nullptr && k < uses->size(); ++k) {
                    const auto& [cell, face] = (*uses)[k];
                    int failed = 0;
                    const bool inside = !BOPTools_AlgoTools::IsSplitToReverse(face, whole, context, &failed);
                    auto& material = cells_[cell].material;
                    if (failed != 0 || (material && *material != inside)) {
                        return refuse("it is not clear where the material is");
                    }
                    if (!inside && uses->size() == 1) {
                        return refuse("a cutter touches a face from outside");
                    }
                    if (!material) {
                        material = inside;
                        open.push_back(cell);
                    }
                }
            }
        }
        while (!open.empty()) {
            const size_t from = open.back();
            open.pop_back();
            for (TopExp_Explorer it(cells_[from].shape, TopAbs_FACE); it.More(); it.Next()) {
                if (of_body_.IsBound(it.Current())) {
                    continue;
                }
                for (const Use& use : uses_.Find(it.Current())) {
                    auto& material = cells_[use.cell].material;
                    if (!material) {
                        material = cells_[from].material;
                        open.push_back(use.cell);
                    } else if (*material != *cells_[from].material) {
                        return refuse("it is not clear where the material is");
                    }
                }
            }
        }
        for (Cell& cell : cells_) {
            if (!cell.material) {
                if (body_->box.meets(box_within(bounds_of(cell.shape)))) {
                    return refuse("a cutter meets no face");
                }
                cell.material = false;
            }
        }
        return true;
    }

    // What stays of the reached faces, and which faces the cutters give the body.
    bool sort_faces() {
        Handle(IntTools_Context) context = new IntTools_Context;
        for (ReachedFace& each : reached_) {
            for (const TopoDS_Shape& piece : each.pieces) {
                if (uses_.IsBound(piece)) {
                    continue;
                }
                TopoDS_Face left = TopoDS::Face(piece);
                if (!left.IsEqual(each.bare)) {
                    int failed = 0;
                    if (BOPTools_AlgoTools::IsSplitToReverse(left, each.bare, context, &failed)) {
                        left.Reverse();
                    }
                    if (failed != 0) {
                        return refuse("it is not clear which way a face looks");
                    }
                }
                each.left.push_back(left);
            }
        }
        for (const TopoDS_Shape& face : order_) {
            const auto& uses = uses_.Find(face);
            if (uses.size() == 1 && !of_body_.IsBound(face) && *cells_[uses.front().cell].material) {
                made_.push_back(TopoDS::Face(uses.front().face.Reversed()));
            }
        }
        return true;
    }

    [[nodiscard]] std::vector<TopoDS_Face> new_faces() const {
        std::vector<TopoDS_Face> all;
        for (const ReachedFace& each : reached_) {
            all.insert(all.end(), each.left.begin(), each.left.end());
        }
        all.insert(all.end(), made_.begin(), made_.end());
        return all;
    }
    // Every edge has two faces, but where the faces border on those out of reach: there nothing may have changed.
    bool close_up() {
        ByShape<int> before;
        ByShape<int> after;
        if (!count_uses(reached_.as_they_were(), before) || !count_uses(new_faces(), after)) {
            return refuse("a cutter's edge ends within a face");
        }
        int borders = 0;
        for (ByShape<int>::Iterator it(before); it.More(); it.Next()) {
            borders += it.Value() == 1 ? 1 : 0;
        }
        for (ByShape<int>::Iterator it(after); it.More(); it.Next()) {
            const int* uses = before.Seek(it.Key());
            if (it.Value() == 1 && uses != nullptr && *uses == 1) {
                --borders;
            } else if (it.Value() != 2) {
                return refuse("the faces do not close");
            }
        }
        return borders == 0 || refuse("the faces do not close");
    }

    bool take_loops_back() {
        const char* why = reached_.take_loops_back(change_.divided);
        return why == nullptr || refuse(why);
    }

    // Whether what hung together within reach still does; then the whole body does.
    [[nodiscard]] bool still_one() const {
        const auto before = connected(reached_.as_they_were());
        const auto after = connected(new_faces());
        std::map<size_t, std::set<size_t>> became;
        std::set<size_t> grown;
        size_t at = 0;
        for (size_t i = 0; i < reached_.size(); ++i) {
            for (size_t k = 0; k < reached_[i].left.size(); ++k, ++at) {
                became[before[i]].insert(after[at]);
                grown.insert(after[at]);
            }
        }
        return std::all_of(became.begin(), became.end(), [](const auto& each) { return each.second.size() == 1; }) &&
               std::all_of(after.begin(), after.end(), [&](size_t group) { return grown.contains(group); });
    }

    void put_together() {
        std::set<int> changed;
        for (const auto& divided : change_.divided) {
            changed.insert(divided.face);
        }
        std::vector<TopoDS_Face> all;
        for (size_t i = 0; i < body_->faces.size(); ++i) {
            if (!changed.contains(static_cast<int>(i))) {
                all.push_back(body_->faces[i].face);
            }
        }
        for (const auto& divided : change_.divided) {
            for (const auto& part : divided.parts) {
                all.push_back(part.face);
            }
        }
        all.insert(all.end(), made_.begin(), made_.end());
        std::map<size_t, std::vector<TopoDS_Face>> lumps;
        if (still_one()) {
            lumps[0] = all;
        } else {
            const auto groups = connected(all);
            for (size_t i = 0; i < all.size(); ++i) {
                lumps[groups[i]].push_back(all[i]);
            }
        }
        for (const auto& [group, faces] : lumps) {
            const auto cone = lumps.size() == 1 ? cone_of_rest() : cone_over(faces);
            result_.division.pieces.push_back({solid_of(faces), {}, cone.volume, cone.center()});
            if (lumps.size() == 1) {
                change_.before = body_;
                change_.made = made_;
                change_.cone = cone;
                result_.left = std::move(change_);
            }
        }
    }

    [[nodiscard]] VolumeMeter::Cone cone_over(const std::vector<TopoDS_Face>& faces) const {
        return VolumeMeter::cone_over(faces, body_->apex);
    }

    // Of the body, but for the faces that changed.
    [[nodiscard]] VolumeMeter::Cone cone_of_rest() const {
        VolumeMeter::Cone rest = whole_;
        for (const ReachedFace& each : reached_) {
            if (!each.untouched()) {
                rest -= cone_over({each.bare});
                rest += cone_over(each.left);
            }
        }
        rest += cone_over(made_);
        return rest;
    }

    void add_plugs() {
        VolumeMeter meter(body_->apex);
        for (const Cell& cell : cells_) {
            if (*cell.material) {
                const auto measured = meter.measure(cell.shape);
                result_.division.pieces.push_back({cell.shape, cell.inside, measured.volume, measured.center});
            }
        }
    }

    bool balanced() {
        Division& division = result_.division;
        division.workpiece_volume = whole_.volume;
        double total = 0;
        for (const DividedPiece& piece : division.pieces) {
            total += piece.volume;
            if (piece.volume <= 0 || (!piece.inside.empty() && !is_closed(piece.shape))) {
                return refuse("a piece is not sound");
            }
        }
        std::vector<TopoDS_Shape> here; // what is out of reach is out of reach of the new faces too
        std::vector<TopoDS_Shape> fresh(made_.begin(), made_.end());
        for (const ReachedFace& each : reached_) {
            here.insert(here.end(), each.left.begin(), each.left.end());
            if (!each.untouched()) {
                fresh.insert(fresh.end(), each.left.begin(), each.left.end());
            }
        }
        here.insert(here.end(), made_.begin(), made_.end());
        if (crossing_among(here, fresh)) {
            return refuse("the kernel missed where faces meet");
        }
        division.imbalance = std::fabs(total - whole_.volume) / whole_.volume;
        return division.imbalance <= balance_tolerance || refuse("the pieces do not add up to the whole");
    }

    void trace(const Fuse& fuse) {
        TopTools_MapOfShape present;
        for (const Cell& cell : cells_) {
            for (TopExp_Explorer it(cell.shape, TopAbs_FACE); *cell.material && it.More(); it.Next()) {
                present.Add(it.Current());
            }
        }
        auto& origins = result_.division.origins;
        for (const auto& divided : result_.left ? result_.left->divided : change_.divided) {
            for (const auto& part : divided.parts) {
                origins.push_back({part.face, body_->faces[static_cast<size_t>(divided.face)].face});
            }
        }
        for (const ReachedFace& each : reached_) {
            fuse.trace(each.bare, body_->faces[static_cast<size_t>(each.face)].face, present, origins);
        }
        for (const TopoDS_Shape& cutter : cutters_) {
            for (const TopoDS_Shape& face : faces_of(cutter)) {
                fuse.trace(face, face, present, origins);
            }
        }
    }

    BodyIndexPtr body_;
    VolumeMeter::Cone whole_;
    const std::vector<TopoDS_Shape>& cutters_;
    std::string why_not_;
    ReachedFaces reached_;
    std::vector<Cell> cells_;
    ByShape<std::vector<Use>> uses_;  // by face
    std::vector<TopoDS_Shape> order_; // of these
    ByShape<size_t> of_body_;         // pieces of reached faces
    std::vector<TopoDS_Face> made_;
    IndexChange change_;
    LocalDivision result_;
};

} // namespace

namespace {

std::optional<LocalDivision> cut_locally(const LazyIndex& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                         Progress& progress, std::string& why_not, size_t worth_it,
                                         bool past_touching) {
    const BodyIndexPtr index = workpiece.get();
    if (!index) {
        why_not = "the body is no solid with one shell";
        return std::nullopt;
    }
    if (std::any_of(cutters.begin(), cutters.end(), [](const auto& cutter) { return solids_of(cutter).empty(); })) {
        why_not = "a cutter is a surface";
        return std::nullopt;
    }
    LocalCut cut(index, cutters);
    std::optional<LocalDivision> result;
    try {
        if (past_touching && !cut.leave_out_what_touches(progress)) {
            why_not = "no face is only touched";
            return std::nullopt;
        }
        result = cut.divide(workpiece, progress, worth_it);
        why_not = cut.why_not();
    } catch (const Standard_Failure& failure) {
        why_not = std::string("the kernel stopped (") + failure.DynamicType()->Name() + ")";
    }
    return result;
}

} // namespace

std::optional<LocalDivision> divide_past_touching(const LazyIndex& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                                  Progress& progress, std::string& why_not) {
    auto result = cut_locally(workpiece, cutters, progress, why_not, 0, true);
    if (result && !std::all_of(result->division.pieces.begin(), result->division.pieces.end(),
                               [](const DividedPiece& piece) { return is_valid(piece.shape); })) {
        why_not = "a piece is not sound";
        result.reset();
    }
    return result;
}

std::optional<LocalDivision> divide_reached(const LazyIndex& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                            Progress& progress, std::string& why_not, size_t worth_it) {
    return cut_locally(workpiece, cutters, progress, why_not, worth_it, false);
}

} // namespace kervo::geom
