#include "geom/cut/curve_division.h"

#include "geom/cut/continuing.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/face_foot.h"
#include "geom/kernel/fuse.h"
#include "geom/kernel/hanging_together.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Tool.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double in_from_the_end = 1e-4; // of the parameters of a part
constexpr double touches = 1e-7;         // mm, beyond what vertices allow

gp_Pnt place_at(const TopoDS_Edge& edge, double share) {
    const BRepAdaptor_Curve curve(edge);
    return curve.Value(curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter()));
}

// The part as its edge runs: where the kernel took another edge for it that lies on it, that may run the other way.
TopoDS_Edge as_it_ran(const TopoDS_Edge& part, const TopoDS_Edge& edge) {
    const TopoDS_Edge forward = TopoDS::Edge(part.Oriented(TopAbs_FORWARD));
    return runs_along(forward, edge) ? forward : TopoDS::Edge(forward.Reversed());
}

TopAbs_ShapeEnum parts_of(const TopoDS_Shape& cutter) {
    return TopExp_Explorer(cutter, TopAbs_FACE).More()   ? TopAbs_FACE
           : TopExp_Explorer(cutter, TopAbs_EDGE).More() ? TopAbs_EDGE
                                                         : TopAbs_VERTEX;
}

// The cutters, and which of them are where.
class Cutters {
public:
    explicit Cutters(const std::vector<TopoDS_Shape>& cutters) : cutters_(cutters) {
        for (const TopoDS_Shape& cutter : cutters) {
            boxes_.push_back(bounds_of(cutter));
            kinds_.push_back(parts_of(cutter));
            skins_.push_back(kinds_.back() == TopAbs_FACE ? gather(faces_of(cutter)) : cutter);
        }
    }

    struct At {
        int cutter;
        TopoDS_Shape element;
    };
    std::vector<At> at(const gp_Pnt& place, double tolerance) const {
        std::vector<At> found;
        Bnd_Box around;
        around.Add(place);
        around.Enlarge(tolerance);
        for (size_t k = 0; k < cutters_.size(); ++k) {
            if (boxes_[k].IsOut(around)) {
                continue;
            }
            const NearElement nearest = nearest_element(cutters_[k], kinds_[k], place);
            if (!nearest.element.IsNull() && nearest.distance <= tolerance) {
                found.push_back({static_cast<int>(k), nearest.element});
            }
        }
        return found;
    }

    // Whether a part meets a cutter between its ends, and does not lie on it.
    [[nodiscard]] bool passed_by(const TopoDS_Edge& part, double tolerance) const {
        const BRepAdaptor_Curve curve(part);
        const double from = curve.FirstParameter();
        const double to = curve.LastParameter();
        const double in = std::clamp(20 * touches / length_of(part), in_from_the_end, 0.25) * (to - from);
        const TopoDS_Edge within = BRepBuilderAPI_MakeEdge(curve.Curve().Curve(), from + in, to - in).Edge();
        const TopoDS_Shape placed = within.Moved(TopLoc_Location(curve.Trsf()));
        const Bnd_Box box = bounds_of(placed);
        for (size_t k = 0; k < cutters_.size(); ++k) {
            if (boxes_[k].IsOut(box)) {
                continue;
            }
            const std::array<double, 5> shares{0.1, 0.3, 0.5, 0.7, 0.9};
            const bool lies_on = std::all_of(shares.begin(), shares.end(), [&](double share) {
                return distance_to(skins_[k], place_at(part, share)) <= tolerance;
            });
            const double gap = lies_on ? 1 : gap_between(placed, skins_[k]).width;
            if (gap <= touches || std::isinf(gap)) { // it does, or nothing is known
                return true;
            }
        }
        return false;
    }

    // Whether all that is between the ends of these parts is within a solid; nothing where some is and some is not.
    [[nodiscard]] std::optional<bool> holds(size_t k, const std::vector<TopoDS_Shape>& parts) const {
        int in = 0;
        int out = 0;
        for (const TopoDS_Shape& solid : solids_of(cutters_[k])) {
            BRepClass3d_SolidClassifier classifier(solid);
            for (const TopoDS_Shape& part : parts) {
                for (const double share : {0.07, 0.31, 0.5, 0.83}) {
                    classifier.Perform(place_at(TopoDS::Edge(part), share), coincidence);
                    in += classifier.State() == TopAbs_IN ? 1 : 0;
                    out += classifier.State() == TopAbs_OUT ? 1 : 0;
                }
            }
            if (in > 0 && out > 0) {
                return std::nullopt;
            }
            if (in > 0) {
                return true;
            }
            out = 0;
        }
        return false;
    }

    [[nodiscard]] bool is_surface(size_t k) const { return kinds_[k] == TopAbs_FACE && solids_of(cutters_[k]).empty(); }

private:
    const std::vector<TopoDS_Shape>& cutters_;
    std::vector<Bnd_Box> boxes_;
    std::vector<TopAbs_ShapeEnum> kinds_;
    std::vector<TopoDS_Shape> skins_; // what of each can be met: of solids their faces
};

// Whether a part that begins (or ends) on a face lies in front of it there.
bool is_in_front(const TopoDS_Edge& part, bool at_start, const TopoDS_Face& face) {
    const bool first = at_start == (part.Orientation() != TopAbs_REVERSED);
    const gp_Pnt on = place_at(part, first ? 0 : 1);
    const gp_Pnt near = place_at(part, first ? in_from_the_end : 1 - in_from_the_end);
    const auto foot = foot_on(face, on);
    return foot && foot->normal && gp_Vec(on, near).Dot(gp_Vec(*foot->normal)) > 0;
}

class Attempt {
public:
    Attempt(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters, double fuzziness)
        : workpiece_(workpiece), shapes_(cutters), cutters_(cutters), fuzziness_(fuzziness) {}

    std::optional<CurveDivision> divide(Progress& progress) {
        if (!split(progress)) {
            return std::nullopt;
        }
        const auto uncut = [this](const TopoDS_Shape& vertex) {
            const auto* at = at_.Seek(vertex);
            return at == nullptr || at->empty();
        };
        double total = 0;
        for (const auto& group : hanging_together(parts_, TopAbs_VERTEX, uncut)) {
            auto piece = piece_of(group);
            if (!piece) {
                return std::nullopt;
            }
            total += piece->volume;
            made_.division.pieces.push_back(std::move(*piece));
        }
        const double whole = length_of(workpiece_);
        made_.division.workpiece_volume = whole;
        made_.division.imbalance = std::fabs(total - whole) / whole;
        return made_.division.imbalance <= balance_tolerance ? std::optional(std::move(made_)) : std::nullopt;
    }

private:
    bool split(Progress& progress) {
        const auto edges = edges_of(workpiece_);
        std::vector<TopoDS_Shape> arguments{gather(edges)};
        arguments.insert(arguments.end(), shapes_.begin(), shapes_.end());
        const Fuse fuse(arguments, fuzziness_, progress);
        if (!fuse.done()) {
            return false;
        }
        TopTools_MapOfShape seen;
        for (const TopoDS_Shape& edge : edges) {
            for (const TopoDS_Shape& image : fuse.images_of(edge)) {
                if (!seen.Add(image)) {
                    continue;
                }
                const TopoDS_Edge part = as_it_ran(TopoDS::Edge(image), TopoDS::Edge(edge));
                double loosest = touches + fuzziness_;
                for (const bool at_start : {true, false}) {
                    const TopoDS_Vertex vertex =
                        at_start ? TopExp::FirstVertex(part, Standard_True) : TopExp::LastVertex(part, Standard_True);
                    const double tolerance = touches + fuzziness_ + BRep_Tool::Tolerance(vertex);
                    loosest = std::max(loosest, tolerance);
                    note(part, vertex, tolerance, at_start);
                }
                if (cutters_.passed_by(part, loosest)) {
                    return false;
                }
                parts_.push_back(part);
                made_.division.origins.push_back({part, edge});
            }
        }
        return true;
    }

    void note(const TopoDS_Edge& part, const TopoDS_Vertex& vertex, double tolerance, bool at_start) {
        if (!at_.IsBound(vertex)) {
            at_.Bind(vertex, cutters_.at(BRep_Tool::Pnt(vertex), tolerance));
        }
        for (const Cutters::At& each : at_.Find(vertex)) {
            made_.cuts.push_back({part, each.cutter, each.element, at_start});
        }
    }

    std::optional<DividedPiece> piece_of(const std::vector<TopoDS_Shape>& group) const {
        DividedPiece piece{group.size() == 1 ? group.front() : gather(group), {}, 0, {}};
        piece.volume = length_of(piece.shape);
        piece.center = centroid_of(piece.shape);
        TopTools_MapOfShape members;
        for (const TopoDS_Shape& part : group) {
            members.Add(part);
        }
        for (size_t k = 0; k < shapes_.size(); ++k) {
            bool inside = false;
            if (cutters_.is_surface(k)) {
                inside = std::any_of(made_.cuts.begin(), made_.cuts.end(), [&](const CurveDivision::Cut& cut) {
                    return cut.cutter == static_cast<int>(k) && members.Contains(cut.part) &&
                           is_in_front(TopoDS::Edge(cut.part), cut.at_start, TopoDS::Face(cut.element));
                });
            } else {
                const auto within = cutters_.holds(k, group);
                if (!within) {
                    return std::nullopt;
                }
                inside = *within;
            }
            if (inside) {
                piece.inside.push_back(static_cast<int>(k));
            }
        }
        return piece;
    }

    const TopoDS_Shape& workpiece_;
    const std::vector<TopoDS_Shape>& shapes_;
    Cutters cutters_;
    double fuzziness_;
    std::vector<TopoDS_Shape> parts_;
    ByShape<std::vector<Cutters::At>> at_; // by vertex
    CurveDivision made_;
};

} // namespace

Result<CurveDivision> divide_curves(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                    Progress& progress) {
    for (const double fuzziness : {0.0, 1e-6, 1e-5}) {
        try {
            if (auto made = Attempt(workpiece, cutters, fuzziness).divide(progress)) {
                return std::move(*made);
            }
        } catch (const Standard_Failure&) { // the next rung
        }
        if (progress.cancelled()) {
            return error_finding("divide.cancelled", "The cut was cancelled.", "");
        }
    }
    return error_finding("divide.failed", "These curves could not be divided for certain.",
                         "Move what cuts a little, so that it does not nearly touch them.");
}

namespace {

// Parts on one curve, one after the other, as one edge.
TopoDS_Edge run_of(const std::vector<TopoDS_Edge>& parts) {
    double from = 0;
    double to = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(parts.front(), from, to);
    BRep_Tool::Range(parts.back(), to, last);
    BRepBuilderAPI_MakeEdge made(curve, TopExp::FirstVertex(parts.front()), TopExp::LastVertex(parts.back()), from,
                                 last);
    return made.IsDone() ? TopoDS::Edge(made.Edge().Oriented(parts.front().Orientation())) : TopoDS_Edge();
}

// Whether `next` goes on on the same curve where `one` ends.
bool goes_on(const TopoDS_Edge& one, const TopoDS_Edge& next) {
    double from = 0;
    double to = 0;
    double again = 0;
    double last = 0;
    return BRep_Tool::Curve(one, from, to) == BRep_Tool::Curve(next, again, last) && std::fabs(to - again) < 1e-9 &&
           TopExp::LastVertex(one).IsSame(TopExp::FirstVertex(next));
}

} // namespace

std::vector<FaceOrigin> parts_joined(const std::vector<TopoDS_Shape>& staying, const std::vector<FaceOrigin>& all) {
    std::vector<std::pair<TopoDS_Shape, std::vector<TopoDS_Edge>>> by_edge; // in their order
    ByShape<size_t> index;
    ByShape<size_t> parts;
    TopTools_MapOfShape stays;
    for (const TopoDS_Shape& part : staying) {
        stays.Add(part);
    }
    for (const FaceOrigin& origin : all) {
        ++entry(parts, origin.source);
        if (!stays.Contains(origin.result)) {
            continue;
        }
        if (!index.IsBound(origin.source)) {
            index.Bind(origin.source, by_edge.size());
            by_edge.push_back({origin.source, {}});
        }
        by_edge[index.Find(origin.source)].second.push_back(TopoDS::Edge(origin.result));
    }
    std::vector<FaceOrigin> joined;
    const auto start = [](const TopoDS_Edge& edge) { return BRepAdaptor_Curve(edge).FirstParameter(); };
    for (auto& [edge, pieces] : by_edge) {
        if (pieces.size() > 1 && pieces.size() == parts.Find(edge)) {
            joined.push_back({edge, edge});
            continue;
        }
        std::sort(pieces.begin(), pieces.end(), [&](const auto& a, const auto& b) { return start(a) < start(b); });
        for (size_t i = 0; i < pieces.size();) {
            std::vector<TopoDS_Edge> run{pieces[i]};
            while (++i < pieces.size() && goes_on(run.back(), pieces[i])) {
                run.push_back(pieces[i]);
            }
            const TopoDS_Edge one = run.size() == 1 ? run.front() : run_of(run);
            if (one.IsNull()) {
                std::transform(run.begin(), run.end(), std::back_inserter(joined), [](const TopoDS_Edge& part) {
                    return FaceOrigin{part, part};
                });
            } else {
                joined.push_back({one, run.front()});
            }
        }
    }
    return joined;
}

} // namespace kervo::geom
