#include "geom/cut/merge_faces.h"

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

constexpr double same = 1e-7; // mm

// As many whole periods as lie in a value.
double whole_periods(double value, double period) {
    return std::round(value / period) * period;
}

// Where a place lies on an elementary surface, in its parameters.
gp_Pnt2d parameters_on(const BRepAdaptor_Surface& surface, const gp_Pnt& place) {
    double u = 0;
    double v = 0;
    switch (surface.GetType()) {
    case GeomAbs_Plane:
        ElSLib::Parameters(surface.Plane(), place, u, v);
        break;
    case GeomAbs_Cylinder:
        ElSLib::Parameters(surface.Cylinder(), place, u, v);
        break;
    case GeomAbs_Cone:
        ElSLib::Parameters(surface.Cone(), place, u, v);
        break;
    case GeomAbs_Sphere:
        ElSLib::Parameters(surface.Sphere(), place, u, v);
        break;
    default:
        ElSLib::Parameters(surface.Torus(), place, u, v);
    }
    return {u, v};
}

bool is_elementary(const BRepAdaptor_Surface& surface) {
    return surface.GetType() <= GeomAbs_Torus;
}

// Outwards, at a place on or near the face.
gp_Vec outwards(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, const gp_Pnt& place) {
    const gp_Pnt2d at = parameters_on(surface, place);
    gp_Pnt on;
    gp_Vec du;
    gp_Vec dv;
    surface.D1(at.X(), at.Y(), on, du, dv);
    const gp_Vec normal = du.Crossed(dv);
    return face.Orientation() == TopAbs_REVERSED ? normal.Reversed() : normal;
}

std::vector<gp_Pnt> places_along(const TopoDS_Edge& edge, int number) {
    const BRepAdaptor_Curve curve(edge);
    std::vector<gp_Pnt> places;
    for (int i = 0; i <= number; ++i) {
        const double t = i / static_cast<double>(number);
        places.push_back(curve.Value(curve.FirstParameter() * (1 - t) + curve.LastParameter() * t));
    }
    return places;
}

// Whether the two faces lie on one surface with the material on the same side.
bool continue_each_other(const TopoDS_Face& one, const TopoDS_Face& other, const TopoDS_Edge& between) {
    TopLoc_Location here;
    TopLoc_Location there;
    if (BRep_Tool::Surface(one, here) == BRep_Tool::Surface(other, there) && here.IsEqual(there) &&
        one.Orientation() == other.Orientation()) {
        return true;
    }
    const BRepAdaptor_Surface a(one, Standard_False);
    const BRepAdaptor_Surface b(other, Standard_False);
    if (a.GetType() != b.GetType() || !is_elementary(a)) {
        return false;
    }
    switch (a.GetType()) {
    case GeomAbs_Plane:
        if (!a.Plane().Axis().IsParallel(b.Plane().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Cylinder:
        if (std::fabs(a.Cylinder().Radius() - b.Cylinder().Radius()) > same ||
            !a.Cylinder().Axis().IsParallel(b.Cylinder().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Cone:
        if (a.Cone().Apex().Distance(b.Cone().Apex()) > 10 * same ||
            std::fabs(std::fabs(a.Cone().SemiAngle()) - std::fabs(b.Cone().SemiAngle())) > 1e-9 ||
            !a.Cone().Axis().IsParallel(b.Cone().Axis(), 1e-9)) {
            return false;
        }
        break;
    case GeomAbs_Sphere:
        if (std::fabs(a.Sphere().Radius() - b.Sphere().Radius()) > same ||
            a.Sphere().Location().Distance(b.Sphere().Location()) > same) {
            return false;
        }
        break;
    default:
        if (std::fabs(a.Torus().MajorRadius() - b.Torus().MajorRadius()) > same ||
            std::fabs(a.Torus().MinorRadius() - b.Torus().MinorRadius()) > same ||
            a.Torus().Location().Distance(b.Torus().Location()) > same ||
            !a.Torus().Axis().IsParallel(b.Torus().Axis(), 1e-9)) {
            return false;
        }
    }
    // All of the other's border lies on this surface, and both look the same way.
    for (TopExp_Explorer it(other, TopAbs_EDGE); it.More(); it.Next()) {
        if (BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
            continue;
        }
        for (const gp_Pnt& place : places_along(TopoDS::Edge(it.Current()), 4)) {
            const gp_Pnt2d at = parameters_on(a, place);
            if (a.Value(at.X(), at.Y()).Distance(place) > 10 * same) {
                return false;
            }
        }
    }
    const gp_Pnt middle = places_along(between, 2)[1];
    return outwards(one, a, middle).Dot(outwards(other, b, middle)) > 0;
}

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

// One edge in place of two that run on one curve and meet in a vertex where nothing else is.
class EdgeMerge {
public:
    explicit EdgeMerge(const TopoDS_Shape& shape) {
        TopExp::MapShapesAndUniqueAncestors(shape, TopAbs_VERTEX, TopAbs_EDGE, at_vertex_);
        TopExp::MapShapesAndAncestors(shape, TopAbs_EDGE, TopAbs_FACE, at_edge_);
    }

    // Whether something was merged; then all is in `into`.
    bool merge(BRepTools_ReShape& into) {
        bool any = false;
        ByShape<bool> busy;
        for (int i = 1; i <= at_vertex_.Extent(); ++i) {
            const auto& around = at_vertex_(i);
            if (around.Extent() != 2) {
                continue;
            }
            const TopoDS_Edge one = TopoDS::Edge(around.First().Oriented(TopAbs_FORWARD));
            const TopoDS_Edge other = TopoDS::Edge(around.Last().Oriented(TopAbs_FORWARD));
            if (busy.IsBound(one) || busy.IsBound(other) || !alike(one, other)) {
                continue;
            }
            const TopoDS_Edge made = joined(one, other, TopoDS::Vertex(at_vertex_.FindKey(i)));
            if (made.IsNull()) {
                continue;
            }
            into.Replace(one, made);
            into.Remove(other);
            busy.Bind(one, true);
            busy.Bind(other, true);
            any = true;
        }
        return any;
    }

private:
    // Between the same faces, and each of them used as often.
    [[nodiscard]] bool alike(const TopoDS_Edge& one, const TopoDS_Edge& other) const {
        if (BRep_Tool::Degenerated(one) || BRep_Tool::Degenerated(other) || one.IsSame(other)) {
            return false;
        }
        const auto& a = at_edge_.FindFromKey(one);
        const auto& b = at_edge_.FindFromKey(other);
        if (a.Extent() != b.Extent() || a.Extent() > 2 || a.IsEmpty()) {
            return false;
        }
        return (a.First().IsSame(b.First()) && a.Last().IsSame(b.Last())) ||
               (a.First().IsSame(b.Last()) && a.Last().IsSame(b.First()));
    }

    [[nodiscard]] TopoDS_Edge joined(const TopoDS_Edge& one, const TopoDS_Edge& other,
                                     const TopoDS_Vertex& between) const {
        const BRepAdaptor_Curve a(one);
        const BRepAdaptor_Curve b(other);
        if (a.GetType() != b.GetType() ||
            (a.GetType() != GeomAbs_Line && a.GetType() != GeomAbs_Circle && a.GetType() != GeomAbs_Ellipse)) {
            return {};
        }
        for (const gp_Pnt& place : places_along(other, 4)) {
            if (off(a, place) > 10 * same) {
                return {};
            }
        }
        const double length = b.LastParameter() - b.FirstParameter(); // lines and circles run evenly
        const bool ends_here = end_vertex(one, true).IsSame(between);
        if (!ends_here && !end_vertex(one, false).IsSame(between)) {
            return {};
        }
        double first = a.FirstParameter();
        double last = a.LastParameter();
        const TopoDS_Vertex far =
            end_vertex(other, true).IsSame(between) ? end_vertex(other, false) : end_vertex(other, true);
        const TopoDS_Vertex own = end_vertex(one, !ends_here);
        const bool closes = far.IsSame(own);
        if (a.GetType() == GeomAbs_Line) {
            if (closes) {
                return {};
            }
            const double at = ElCLib::Parameter(a.Line(), BRep_Tool::Pnt(far));
            if (ends_here ? at <= last : at >= first) {
                return {}; // it folds back
            }
            (ends_here ? last : first) = at;
        } else {
            const double period = 2 * M_PI;
            double more = length;
            if (!closes) {
                const gp_Pnt place = BRep_Tool::Pnt(far);
                double at = a.GetType() == GeomAbs_Circle ? ElCLib::Parameter(a.Circle(), place)
                                                          : ElCLib::Parameter(a.Ellipse(), place);
                const double from = ends_here ? last : first;
                at += whole_periods(from + (ends_here ? length : -length) - at, period);
                more = std::fabs(at - from);
                if (std::fabs(more - length) > 1e-6) {
                    return {}; // it runs the other way round
                }
            } else if (std::fabs(last - first + length - period) > 1e-6) {
                return {};
            } else {
                more = period - (last - first);
            }
            if (last - first + more > period + 1e-9) {
                return {};
            }
            (ends_here ? last : first) += ends_here ? more : -more;
        }
        return built(one, first, last, ends_here ? own : far, ends_here ? far : own);
    }

    static TopoDS_Vertex end_vertex(const TopoDS_Edge& edge, bool last) {
        return last ? TopExp::LastVertex(edge) : TopExp::FirstVertex(edge);
    }

    static double off(const BRepAdaptor_Curve& curve, const gp_Pnt& place) {
        switch (curve.GetType()) {
        case GeomAbs_Line:
            return curve.Line().Distance(place);
        case GeomAbs_Circle:
            return curve.Circle().Distance(place);
        default:
            return ElCLib::Value(ElCLib::Parameter(curve.Ellipse(), place), curve.Ellipse()).Distance(place);
        }
    }

    [[nodiscard]] TopoDS_Edge built(const TopoDS_Edge& one, double first, double last, const TopoDS_Vertex& from,
                                    const TopoDS_Vertex& to) const {
        const BRep_Builder builder;
        double was_first = 0;
        double was_last = 0;
        TopLoc_Location location;
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(one, location, was_first, was_last);
        TopoDS_Edge made;
        builder.MakeEdge(made, curve, location, BRep_Tool::Tolerance(one));
        builder.Add(made, from.Oriented(TopAbs_FORWARD));
        builder.Add(made, to.Oriented(TopAbs_REVERSED));
        builder.Range(made, first, last);
        const auto& faces = at_edge_.FindFromKey(one);
        const bool seam = faces.Extent() == 2 && faces.First().IsSame(faces.Last());
        ByShape<bool> done;
        for (const TopoDS_Shape& any : faces) {
            const TopoDS_Face face = TopoDS::Face(any.Oriented(TopAbs_FORWARD));
            if (done.IsBound(face)) {
                continue;
            }
            done.Bind(face, true);
            double f = 0;
            double l = 0;
            const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(one, face, f, l);
            const auto endless = [](const Handle(Geom2d_Curve) & c) {
                const Handle(Geom2d_TrimmedCurve) trimmed = Handle(Geom2d_TrimmedCurve)::DownCast(c);
                const Handle(Geom2d_Curve) basis = trimmed.IsNull() ? c : trimmed->BasisCurve();
                return basis->IsKind(STANDARD_TYPE(Geom2d_Line)) || basis->IsKind(STANDARD_TYPE(Geom2d_Circle)) ||
                               basis->IsKind(STANDARD_TYPE(Geom2d_Ellipse))
                           ? basis
                           : Handle(Geom2d_Curve)();
            };
            if (BRepAdaptor_Surface(face, Standard_False).GetType() == GeomAbs_Plane) {
                continue; // planes need none
            }
            if (flat.IsNull() || endless(flat).IsNull()) {
                return {};
            }
            if (seam) {
                const Handle(Geom2d_Curve) back = BRep_Tool::CurveOnSurface(TopoDS::Edge(one.Reversed()), face, f, l);
                if (back.IsNull() || endless(back).IsNull()) {
                    return {};
                }
                builder.UpdateEdge(made, endless(flat), endless(back), face, BRep_Tool::Tolerance(one));
            } else {
                builder.UpdateEdge(made, endless(flat), face, BRep_Tool::Tolerance(one));
            }
        }
        builder.SameParameter(made, Standard_True);
        builder.SameRange(made, Standard_True);
        return made;
    }

    TopTools_IndexedDataMapOfShapeListOfShape at_vertex_, at_edge_;
};

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
    for (const TopoDS_Shape& solid : solids_of(shape)) {
        for (const auto& group : groups_in(solid)) {
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
        if (!EdgeMerge(merged.shape).merge(*edges)) {
            break;
        }
        apply(*edges);
    }
    return merged;
}

} // namespace kervo::geom
