#include "geom/cut/merge_faces.h"

#include "geom/cut/continuing.h"
#include "geom/cut/merge_edges.h"
#include "geom/kernel/by_shape.h"
#include "geom/measure/measure.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepTools_ReShape.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <ElCLib.hxx>
#include <ElSLib.hxx>
#include <Geom2d_Circle.hxx>
#include <Geom2d_Ellipse.hxx>
#include <Geom2d_Line.hxx>
#include <Geom2d_TrimmedCurve.hxx>
#include <ShapeFix_Edge.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <cmath>
#include <deque>
#include <numeric>
#include <set>

namespace kervo::geom {

namespace {

constexpr double same = continuing_tolerance;

// Edges one after the other, each as it is passed in a forward face.
using Chain = std::vector<TopoDS_Edge>;

TopoDS_Vertex start_of(const TopoDS_Edge& edge) {
    return TopExp::FirstVertex(edge, Standard_True);
}
TopoDS_Vertex end_of(const TopoDS_Edge& edge) {
    return TopExp::LastVertex(edge, Standard_True);
}

// Several faces that are to become one.
class Group {
public:
    explicit Group(std::vector<TopoDS_Face> faces)
        : faces_(std::move(faces)), surface_(faces_.front(), Standard_False),
          turned_(faces_.front().Orientation() == TopAbs_REVERSED) {
        u_period_ = surface_.IsUPeriodic() ? surface_.UPeriod() : 0;
        v_period_ = surface_.IsVPeriodic() ? surface_.VPeriod() : 0;
    }

    // The face; null where it is not clear.
    TopoDS_Face merged() {
        find_border();
        if (!is_elementary(surface_) && (surface_.IsUClosed() || surface_.IsVClosed())) {
            return {};
        }
        if (border_.empty()) {
            return all_of_it();
        }
        if (std::any_of(border_.begin(), border_.end(), [](const auto& e) { return BRep_Tool::Degenerated(e); })) {
            return {};
        }
        std::vector<Chain> loops;
        if (!chain(loops)) {
            return {};
        }
        std::vector<size_t> winding;
        for (size_t i = 0; i < loops.size(); ++i) {
            const auto turns = is_elementary(surface_) ? turns_of(loops[i]) : std::array<int, 2>{0, 0};
            if (std::abs(turns[0]) + std::abs(turns[1]) > 1) {
                return {};
            }
            if (turns[0] != 0 || turns[1] != 0) {
                winding.push_back(i);
            }
        }
        if (winding.empty()) {
            // A pole inside would need an edge of its own.
            return holds_pole() ? TopoDS_Face() : face_of({}, loops);
        }
        if (winding.size() != 2 || surface_.GetType() == GeomAbs_Sphere) {
            return {};
        }
        const Chain seam = path_between(loops[winding[0]], loops[winding[1]]);
        if (seam.empty()) {
            return {};
        }
        const Chain first = begun_at(loops[winding[0]], start_of(seam.front()));
        const Chain second = begun_at(loops[winding[1]], end_of(seam.back()));
        std::vector<Chain> others;
        for (size_t i = 0; i < loops.size(); ++i) {
            if (i != winding[0] && i != winding[1]) {
                others.push_back(loops[i]);
            }
        }
        Chain band = first;
        band.insert(band.end(), seam.begin(), seam.end());
        band.insert(band.end(), second.begin(), second.end());
        for (auto it = seam.rbegin(); it != seam.rend(); ++it) {
            band.push_back(TopoDS::Edge(it->Reversed()));
        }
        others.insert(others.begin(), band);
        return face_of(seam, others);
    }

private:
    // Edges that only one of the faces has; the others lie inside.
    void find_border() {
        ByShape<int> uses;
        std::vector<TopoDS_Edge> all;
        for (const TopoDS_Face& face : faces_) {
            for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
                const TopoDS_Edge edge = TopoDS::Edge(it.Current());
                ++entry(uses, edge);
                all.push_back(turned_ ? TopoDS::Edge(edge.Reversed()) : edge);
            }
        }
        ByShape<bool> known;
        for (const TopoDS_Edge& edge : all) {
            if (uses.Find(edge) == 1) {
                border_.push_back(edge);
            } else if (!known.IsBound(edge)) {
                known.Bind(edge, true);
                inside_.push_back(edge);
            }
        }
    }

    bool chain(std::vector<Chain>& loops) const {
        ByShape<TopoDS_Edge> leaving;
        for (const TopoDS_Edge& edge : border_) {
            if (leaving.IsBound(start_of(edge))) {
                return false; // loops touch there
            }
            leaving.Bind(start_of(edge), edge);
        }
        ByShape<bool> used;
        for (const TopoDS_Edge& first : border_) {
            if (used.IsBound(first)) {
                continue;
            }
            Chain loop;
            for (TopoDS_Edge edge = first; !used.IsBound(edge);) {
                used.Bind(edge, true);
                loop.push_back(edge);
                const TopoDS_Edge* next = leaving.Seek(end_of(edge));
                if (next == nullptr) {
                    return false;
                }
                edge = *next;
            }
            if (!end_of(loop.back()).IsSame(start_of(loop.front()))) {
                return false;
            }
            loops.push_back(std::move(loop));
        }
        return true;
    }

    // The parameters of the edge's places, without jumps.
    [[nodiscard]] std::vector<gp_Pnt2d> followed(const TopoDS_Edge& edge) const {
        auto places = places_along(edge, 24);
        if (edge.Orientation() == TopAbs_REVERSED) {
            std::reverse(places.begin(), places.end());
        }
        std::vector<gp_Pnt2d> flat;
        for (const gp_Pnt& place : places) {
            gp_Pnt2d at = parameters_on(surface_, place);
            if (!flat.empty()) {
                at = near(at, flat.back());
            }
            flat.push_back(at);
        }
        return flat;
    }
    [[nodiscard]] gp_Pnt2d near(gp_Pnt2d at, const gp_Pnt2d& other) const {
        if (u_period_ > 0) {
            at.SetX(at.X() + whole_periods(other.X() - at.X(), u_period_));
        }
        if (v_period_ > 0) {
            at.SetY(at.Y() + whole_periods(other.Y() - at.Y(), v_period_));
        }
        return at;
    }

    // How often a loop goes round the surface, in each parameter.
    [[nodiscard]] std::array<int, 2> turns_of(const Chain& loop) const {
        gp_Vec2d gone;
        for (const TopoDS_Edge& edge : loop) {
            const auto flat = followed(edge);
            gone += gp_Vec2d(flat.front(), flat.back());
        }
        return {u_period_ > 0 ? static_cast<int>(std::lround(gone.X() / u_period_)) : 0,
                v_period_ > 0 ? static_cast<int>(std::lround(gone.Y() / v_period_)) : 0};
    }

    [[nodiscard]] bool holds_pole() const {
        if (surface_.GetType() != GeomAbs_Sphere && surface_.GetType() != GeomAbs_Cone) {
            return false;
        }
        return std::any_of(inside_.begin(), inside_.end(), [](const auto& e) { return BRep_Tool::Degenerated(e); });
    }

    // Edges inside that lead from one loop to another, as few as can be.
    [[nodiscard]] Chain path_between(const Chain& from, const Chain& to) const {
        ByShape<TopoDS_Edge> reached_by;
        ByShape<bool> goals;
        std::deque<TopoDS_Shape> open;
        for (const TopoDS_Edge& edge : to) {
            goals.Bind(start_of(edge), true);
        }
        for (const TopoDS_Edge& edge : from) {
            reached_by.Bind(start_of(edge), TopoDS_Edge());
            open.push_back(start_of(edge));
        }
        while (!open.empty()) {
            const TopoDS_Shape here = open.front();
            open.pop_front();
            if (goals.IsBound(here)) {
                Chain path;
                for (TopoDS_Edge edge = reached_by.Find(here); !edge.IsNull();
                     edge = reached_by.Find(start_of(path.front()))) {
                    path.insert(path.begin(), edge);
                }
                return path;
            }
            for (const TopoDS_Edge& any : inside_) {
                if (BRep_Tool::Degenerated(any)) {
                    continue;
                }
                for (const TopoDS_Edge& edge : {any, TopoDS::Edge(any.Reversed())}) {
                    if (start_of(edge).IsSame(here) && !reached_by.IsBound(end_of(edge))) {
                        reached_by.Bind(end_of(edge), edge);
                        open.push_back(end_of(edge));
                    }
                }
            }
        }
        return {};
    }

    static Chain begun_at(Chain loop, const TopoDS_Vertex& vertex) {
        const auto at = std::find_if(loop.begin(), loop.end(),
                                     [&](const TopoDS_Edge& edge) { return start_of(edge).IsSame(vertex); });
        std::rotate(loop.begin(), at, loop.end());
        return loop;
    }

    [[nodiscard]] TopoDS_Face empty_face() const {
        TopoDS_Face face;
        TopLoc_Location location;
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(faces_.front(), location);
        BRep_Builder().MakeFace(face, surface, location, BRep_Tool::Tolerance(faces_.front()));
        return face;
    }

    TopoDS_Face all_of_it() const {
        if (surface_.GetType() != GeomAbs_Sphere && surface_.GetType() != GeomAbs_Torus) {
            return {};
        }
        TopoDS_Face face = BRepBuilderAPI_MakeFace(BRep_Tool::Surface(faces_.front()), same).Face();
        face.Orientation(faces_.front().Orientation());
        return face;
    }

    // The first loop, which may pass the seam twice, and then the others.
    TopoDS_Face face_of(const Chain& seam, std::vector<Chain> loops) const {
        TopoDS_Face face = empty_face();
        const BRep_Builder builder;
        if (seam.empty()) { // the largest one first
            std::stable_sort(loops.begin(), loops.end(),
                             [](const Chain& a, const Chain& b) { return extent_of(a) > extent_of(b); });
        }
        if (is_elementary(surface_) && surface_.GetType() != GeomAbs_Plane && !lay(face, seam, loops)) {
            return {};
        }
        for (const Chain& loop : loops) {
            TopoDS_Wire wire;
            builder.MakeWire(wire);
            for (const TopoDS_Edge& edge : loop) {
                builder.Add(wire, edge);
            }
            wire.Closed(Standard_True);
            builder.Add(face, wire);
        }
        face.Orientation(faces_.front().Orientation());
        return face;
    }

    static double extent_of(const Chain& loop) {
        Bnd_Box box;
        for (const TopoDS_Edge& edge : loop) {
            box.Add(bounds_of(edge));
        }
        return box.SquareExtent();
    }

    // Parameter curves that follow each other without jumps; the seam has two.
    [[nodiscard]] bool lay(const TopoDS_Face& face, const Chain& seam, const std::vector<Chain>& loops) const {
        const auto is_seam = [&](const TopoDS_Edge& edge) {
            return std::any_of(seam.begin(), seam.end(), [&](const auto& each) { return each.IsSame(edge); });
        };
        ByShape<Handle(Geom2d_Curve)> first_side; // of seams
        std::optional<gp_Pnt2d> middle;           // of the first loop
        for (const Chain& loop : loops) {
            std::optional<gp_Pnt2d> before;
            gp_XY sum;
            std::vector<std::pair<TopoDS_Edge, Handle(Geom2d_Curve)>> laid;
            for (const TopoDS_Edge& edge : loop) {
                const Handle(Geom2d_Curve) curve = parameter_curve(edge, face);
                if (curve.IsNull()) {
                    return false;
                }
                double first = 0;
                double last = 0;
                BRep_Tool::Range(edge, first, last);
                const bool back = edge.Orientation() == TopAbs_REVERSED;
                const gp_Pnt2d start = curve->Value(back ? last : first);
                const gp_Pnt2d end = curve->Value(back ? first : last);
                const gp_Vec2d shift = before ? gp_Vec2d(start, near(start, *before)) : gp_Vec2d(0, 0);
                if (before && start.Translated(shift).Distance(*before) > 1e-4) {
                    return false;
                }
                before = end.Translated(shift);
                sum += start.Translated(shift).XY();
                laid.emplace_back(edge, Handle(Geom2d_Curve)::DownCast(curve->Translated(shift)));
            }
            const gp_Pnt2d center(sum / static_cast<double>(loop.size()));
            const gp_Vec2d whole = middle ? gp_Vec2d(center, near(center, *middle)) : gp_Vec2d(0, 0);
            middle = middle ? middle : std::optional(center);
            for (auto& [edge, curve] : laid) {
                curve->Translate(whole);
                if (!is_seam(edge)) {
                    set_curve(edge, curve, face);
                } else if (const auto* other = first_side.Seek(edge)) {
                    const bool forward = edge.Orientation() == TopAbs_FORWARD;
                    BRep_Builder().UpdateEdge(TopoDS::Edge(edge.Oriented(TopAbs_FORWARD)), forward ? curve : *other,
                                              forward ? *other : curve, face, BRep_Tool::Tolerance(edge));
                } else {
                    first_side.Bind(edge, curve);
                }
            }
        }
        return true;
    }

    static Handle(Geom2d_Curve) parameter_curve(const TopoDS_Edge& given, const TopoDS_Face& face) {
        // On an edge of its own: what the edge knows of this surface may be another side of a seam.
        double first = 0;
        double last = 0;
        TopLoc_Location location;
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(given, location, first, last);
        TopoDS_Edge bare;
        BRep_Builder().MakeEdge(bare, curve, location, BRep_Tool::Tolerance(given));
        BRep_Builder().Range(bare, first, last);
        ShapeFix_Edge().FixAddPCurve(bare, face, Standard_False, same);
        double from = 0;
        double to = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(bare, face, from, to);
        return flat.IsNull() ? flat : Handle(Geom2d_Curve)::DownCast(flat->Copy());
    }

    static void set_curve(const TopoDS_Edge& edge, const Handle(Geom2d_Curve) & curve, const TopoDS_Face& face) {
        BRep_Builder().UpdateEdge(TopoDS::Edge(edge.Oriented(TopAbs_FORWARD)), curve, face, BRep_Tool::Tolerance(edge));
    }

    std::vector<TopoDS_Face> faces_;
    BRepAdaptor_Surface surface_;
    bool turned_;
    double u_period_ = 0, v_period_ = 0;
    std::vector<TopoDS_Edge> border_; ///< as they run in a forward face
    std::vector<TopoDS_Edge> inside_;
};

// Faces that continue each other, two and more together, solid by solid.
std::vector<std::vector<TopoDS_Face>> groups_in(const TopoDS_Shape& solid) {
    TopTools_IndexedMapOfShape faces;
    for (TopExp_Explorer it(solid, TopAbs_FACE); it.More(); it.Next()) {
        faces.Add(it.Current());
    }
    TopTools_IndexedDataMapOfShapeListOfShape at_edge;
    TopExp::MapShapesAndAncestors(solid, TopAbs_EDGE, TopAbs_FACE, at_edge);
    std::vector<int> root(static_cast<size_t>(faces.Extent()));
    std::iota(root.begin(), root.end(), 0);
    const auto top = [&](int i) {
        while (root[static_cast<size_t>(i)] != i) {
            i = root[static_cast<size_t>(i)] = root[static_cast<size_t>(root[static_cast<size_t>(i)])];
        }
        return i;
    };
    for (int i = 1; i <= at_edge.Extent(); ++i) {
        const auto& around = at_edge(i);
        const TopoDS_Edge& edge = TopoDS::Edge(at_edge.FindKey(i));
        if (around.Extent() != 2 || BRep_Tool::Degenerated(edge) || around.First().IsSame(around.Last())) {
            continue;
        }
        const int one = top(faces.FindIndex(around.First()) - 1);
        const int other = top(faces.FindIndex(around.Last()) - 1);
        if (one != other && continue_each_other(TopoDS::Face(around.First()), TopoDS::Face(around.Last()), edge)) {
            root[static_cast<size_t>(other)] = one;
        }
    }
    std::map<int, std::vector<TopoDS_Face>> by_root;
    for (int i = 0; i < faces.Extent(); ++i) {
        by_root[top(i)].push_back(TopoDS::Face(faces(i + 1)));
    }
    std::vector<std::vector<TopoDS_Face>> groups;
    for (auto& [first, members] : by_root) {
        if (members.size() > 1) {
            groups.push_back(std::move(members));
        }
    }
    return groups;
}

} // namespace

Merged merge_faces(const TopoDS_Shape& shape) {
    Merged merged{shape, {}};
    for (const TopoDS_Shape& face : faces_of(shape)) {
        merged.origins.push_back({face, face});
    }
    const auto apply = [&](BRepTools_ReShape& changes) {
        merged.shape = changes.Apply(merged.shape);
        for (FaceOrigin& origin : merged.origins) {
            origin.result = changes.Value(origin.result);
        }
    };
    Handle(BRepTools_ReShape) changes = new BRepTools_ReShape;
    ByShape<TopoDS_Shape> became;
    const auto solids = solids_of(shape);
    for (const TopoDS_Shape& whole : solids.empty() ? std::vector<TopoDS_Shape>{shape} : solids) {
        for (const auto& group : groups_in(whole)) {
            const TopoDS_Face face = Group(group).merged();
            if (face.IsNull()) {
                continue;
            }
            changes->Replace(group.front(), face);
            for (size_t i = 0; i < group.size(); ++i) {
                if (i > 0) {
                    changes->Remove(group[i]);
                }
                became.Bind(group[i], face);
            }
        }
    }
    if (!became.IsEmpty()) {
        merged.shape = changes->Apply(merged.shape);
        for (FaceOrigin& origin : merged.origins) {
            const TopoDS_Shape* face = became.Seek(origin.result);
            origin.result = face != nullptr ? *face : changes->Value(origin.result);
        }
    }
    constexpr int most_passes = 40; // each halves what is left of a chain of edges
    for (int pass = 0; pass < most_passes; ++pass) {
        Handle(BRepTools_ReShape) edges = new BRepTools_ReShape;
        if (!merge_edges(merged.shape, *edges)) {
            break;
        }
        apply(*edges);
    }
    return merged;
}

} // namespace kervo::geom
