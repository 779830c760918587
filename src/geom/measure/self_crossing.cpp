#include "geom/kernel/box_pairs.h"

#include "geom/measure/self_crossing.h"

#include "geom/measure/edge_through.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Tool.hxx>
#include <ElSLib.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <memory>
#include <set>

namespace kervo::geom {

namespace {

// How far from what two faces share a crossing must be to count.
constexpr double aside = 1e-5; // mm

class Search {
public:
    Search(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& changed) {
        TopExp::MapShapes(body, TopAbs_FACE, faces_);
        for (int i = 1; i <= faces_.Extent(); ++i) {
            boxes_.push_back(box_within(bounds_of(faces_(i))));
        }
        for (const TopoDS_Shape& face : changed) {
            if (const int at = faces_.FindIndex(face); at > 0) {
                asked_.insert(static_cast<size_t>(at - 1));
            }
        }
        all_ = changed.empty();
        make_room();
    }
    /// Within each of the pieces, leaving out pairs from one body.
    Search(const std::vector<TopoDS_Shape>& pieces, const ByShape<int>& from) : all_(true) {
        for (size_t k = 0; k < pieces.size(); ++k) {
            for (const TopoDS_Shape& face : faces_of(pieces[k])) {
                const auto at = static_cast<size_t>(faces_.Add(face) - 1);
                if (at == boxes_.size()) {
                    boxes_.push_back(box_within(bounds_of(face)));
                    within_.emplace_back();
                    const int* body = from.Seek(face);
                    from_.push_back(body != nullptr ? *body : -1);
                }
                within_[at].push_back(k);
            }
        }
        make_room();
    }

    std::optional<SelfCrossing> find() {
        std::vector<Box> ones;
        std::vector<size_t> index;
        for (size_t i = 0; i < boxes_.size(); ++i) {
            if (all_ || asked_.contains(i)) {
                ones.push_back(boxes_[i]);
                index.push_back(i);
            }
        }
        each_meeting_pair(ones, boxes_, [&](size_t a, size_t other) {
            const size_t one = index[a];
            const bool twice = one > other && (all_ || asked_.contains(other));
            if (!found_ && one != other && !twice && worth_asking(one, other)) {
                look_at(one, other);
            }
        });
        return found_;
    }

private:
    void make_room() {
        parts_.resize(boxes_.size());
        classifiers_.resize(boxes_.size());
        distances_.resize(boxes_.size());
    }

    [[nodiscard]] bool worth_asking(size_t one, size_t other) const {
        if (within_.empty()) {
            return true;
        }
        const auto& here = within_[one];
        const auto& there = within_[other];
        return (from_[one] < 0 || from_[one] != from_[other]) &&
               std::find_first_of(here.begin(), here.end(), there.begin(), there.end()) != here.end();
    }

    struct Parts {
        TopTools_IndexedMapOfShape edges, vertices;
    };

    [[nodiscard]] const TopoDS_Face& face(size_t i) const { return TopoDS::Face(faces_(static_cast<int>(i) + 1)); }

    // Made when they are first asked for: of most faces nobody does.
    const Parts& parts(size_t i) {
        if (!parts_[i]) {
            parts_[i] = std::make_unique<Parts>();
            TopExp::MapShapes(face(i), TopAbs_EDGE, parts_[i]->edges);
            TopExp::MapShapes(face(i), TopAbs_VERTEX, parts_[i]->vertices);
        }
        return *parts_[i];
    }

    void look_at(size_t one, size_t other) {
        if (on_one_side(one, other) || on_one_side(other, one)) {
            lie_on_each_other(one, other);
            return;
        }
        std::vector<TopoDS_Shape> shared;
        for (int i = 1; i <= parts(one).vertices.Extent(); ++i) {
            if (parts(other).vertices.Contains(parts(one).vertices(i))) {
                shared.push_back(parts(one).vertices(i));
            }
        }
        for (int i = 1; i <= parts(one).edges.Extent(); ++i) {
            if (parts(other).edges.Contains(parts(one).edges(i))) {
                shared.push_back(parts(one).edges(i));
            }
        }
        if (shared.empty()) {
            BRepExtrema_DistShapeShape distance(face(one), face(other));
            if (!distance.IsDone() || distance.NbSolution() == 0 || distance.Value() >= coincidence) {
                return;
            }
            for (int i = 1; i <= distance.NbSolution() && !found_; ++i) { // or else they only touch
                const gp_Pnt place = distance.PointOnShape1(i);
                if (normal_at(one, place).Crossed(normal_at(other, place)).Magnitude() > 1e-3) {
                    found_ = SelfCrossing{face(one), face(other), place};
                }
            }
        }
        pierced(one, other, shared);
        if (!found_) {
            pierced(other, one, shared);
        }
    }

    // Unit; of no length where the surface has none there.
    [[nodiscard]] gp_Vec normal_at(size_t i, const gp_Pnt& place) const {
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(face(i));
        const GeomAPI_ProjectPointOnSurf foot(place, surface);
        if (foot.NbPoints() == 0) {
            return {};
        }
        double u = 0;
        double v = 0;
        foot.LowerDistanceParameters(u, v);
        gp_Pnt on;
        gp_Vec du;
        gp_Vec dv;
        surface->D1(u, v, on, du, dv);
        const gp_Vec normal = du.Crossed(dv);
        return normal.Magnitude() > 1e-12 ? normal.Normalized() : gp_Vec();
    }

    // Flat faces in one plane must not share area: what is between them would have no thickness.
    void lie_on_each_other(size_t one, size_t other) {
        const BRepAdaptor_Surface a(face(one), Standard_False);
        const BRepAdaptor_Surface b(face(other), Standard_False);
        if (found_ || a.GetType() != GeomAbs_Plane || b.GetType() != GeomAbs_Plane ||
            !a.Plane().Axis().IsParallel(b.Plane().Axis(), 1e-6) || a.Plane().Distance(b.Plane().Location()) > aside) {
            return;
        }
        for (const auto& [inner, outer] : {std::pair(one, other), std::pair(other, one)}) {
            for (const gp_Pnt& place : places_on(face(inner))) {
                double u = 0;
                double v = 0;
                ElSLib::Parameters((outer == one ? a : b).Plane(), place, u, v);
                if (inside(outer, gp_Pnt2d(u, v), place)) {
                    found_ = SelfCrossing{face(one), face(other), place};
                    return;
                }
            }
        }
    }

    const std::optional<SurfaceDistance>& distance_to(size_t i) {
        if (!distances_[i]) {
            distances_[i] = SurfaceDistance::of(BRep_Tool::Surface(face(i)));
        }
        return *distances_[i];
    }

    // A face and one whose box lies on one side of its surface, or in its plane, do not cross.
    [[nodiscard]] bool on_one_side(size_t one, size_t other) {
        const std::optional<SurfaceDistance>& distance = distance_to(one);
        if (!distance) {
            return false;
        }
        const auto& [low, high] = boxes_[other];
        const gp_XYZ from(low[0], low[1], low[2]);
        const gp_XYZ to(high[0], high[1], high[2]);
        if (BRepAdaptor_Surface(face(one), Standard_False).GetType() != GeomAbs_Plane) {
            return std::fabs((*distance)(gp_Pnt((from + to) / 2))) > (to - from).Modulus() / 2;
        }
        double least = 1e300;
        double most = -1e300;
        for (int corner = 0; corner < 8; ++corner) {
            const double height =
                (*distance)(gp_Pnt((corner & 1) != 0 ? high[0] : low[0], (corner & 2) != 0 ? high[1] : low[1],
                                   (corner & 4) != 0 ? high[2] : low[2]));
            least = std::min(least, height);
            most = std::max(most, height);
        }
        return least > -aside || most < aside;
    }

    // An edge of one face that passes through the inside of another, apart from what both share.
    void pierced(size_t by, size_t through, const std::vector<TopoDS_Shape>& shared) {
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(face(through));
        for (int i = 1; i <= parts(by).edges.Extent() && !found_; ++i) {
            const TopoDS_Edge& edge = TopoDS::Edge(parts(by).edges(i));
            if (BRep_Tool::Degenerated(edge) || parts(through).edges.Contains(edge) ||
                !box_within(bounds_of(edge)).meets(boxes_[through])) {
                continue;
            }
            for (const Through& each : edge_through(edge, surface, distance_to(through))) {
                if (is_aside(each.place, shared) && inside(through, each.at, each.place)) {
                    found_ = SelfCrossing{face(by), face(through), each.place};
                    break;
                }
            }
        }
    }

    static bool is_aside(const gp_Pnt& place, const std::vector<TopoDS_Shape>& shared) {
        return std::none_of(shared.begin(), shared.end(), [&](const TopoDS_Shape& element) {
            if (element.ShapeType() == TopAbs_VERTEX) {
                const TopoDS_Vertex& vertex = TopoDS::Vertex(element);
                return BRep_Tool::Pnt(vertex).Distance(place) < aside + BRep_Tool::Tolerance(vertex);
            }
            const TopoDS_Edge& edge = TopoDS::Edge(element);
            if (BRep_Tool::Degenerated(edge)) {
                return false;
            }
            double first = 0;
            double last = 0;
            const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
            const GeomAPI_ProjectPointOnCurve foot(place, curve, first, last);
            return foot.NbPoints() > 0 && foot.LowerDistance() < aside + BRep_Tool::Tolerance(edge);
        });
    }

    bool inside(size_t i, gp_Pnt2d at, const gp_Pnt& place) {
        if (!classifiers_[i]) {
            classifiers_[i] = std::make_unique<BRepTopAdaptor_FClass2d>(face(i), 1e-9);
        }
        if (classifiers_[i]->Perform(at) != TopAbs_IN) {
            return false;
        }
        // Well within: its own border is farther than tolerances reach.
        for (int k = 1; k <= parts(i).edges.Extent(); ++k) {
            const TopoDS_Edge& edge = TopoDS::Edge(parts(i).edges(k));
            if (!is_aside(place, {edge}) && !BRep_Tool::IsClosed(edge, face(i))) {
                return false;
            }
        }
        return true;
    }

    TopTools_IndexedMapOfShape faces_;
    std::vector<Box> boxes_;
    std::vector<std::unique_ptr<Parts>> parts_;                            ///< by face
    std::vector<std::optional<std::optional<SurfaceDistance>>> distances_; ///< by face, once asked
    std::vector<std::unique_ptr<BRepTopAdaptor_FClass2d>> classifiers_;
    std::set<size_t> asked_;
    std::vector<std::vector<size_t>> within_; ///< of each face, the pieces that have it; empty: all are of one
    std::vector<int> from_;                   ///< of each face, the body that it is from; -1: none
    bool all_ = false;
    std::optional<SelfCrossing> found_;
};

} // namespace

std::optional<SelfCrossing> crossing_among(const std::vector<TopoDS_Shape>& faces,
                                           const std::vector<TopoDS_Shape>& changed) {
    return changed.empty() ? std::nullopt : Search(gather(faces), changed).find();
}

std::optional<SelfCrossing> crossing_within(const std::vector<TopoDS_Shape>& pieces, const ByShape<int>& from) {
    return Search(pieces, from).find();
}

std::optional<SelfCrossing> new_crossing(const TopoDS_Shape& before, const TopoDS_Shape& now) {
    TopTools_IndexedMapOfShape old;
    TopExp::MapShapes(before, TopAbs_FACE, old);
    std::vector<TopoDS_Shape> fresh;
    for (const TopoDS_Shape& face : faces_of(now)) {
        if (!old.Contains(face)) {
            fresh.push_back(face);
        }
    }
    return fresh.empty() ? std::nullopt : self_crossing(now, fresh);
}

std::optional<SelfCrossing> self_crossing(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& changed) {
    const auto solids = solids_of(body);
    for (const TopoDS_Shape& whole : solids.empty() ? std::vector<TopoDS_Shape>{body} : solids) {
        if (auto found = Search(whole, changed).find()) {
            return found;
        }
    }
    return std::nullopt;
}

bool is_sound_body(const TopoDS_Shape& body) {
    return is_valid(body) && !self_crossing(body);
}

} // namespace kervo::geom
