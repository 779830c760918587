#include "geom/surface/match_borders.h"

#include "geom/kernel/by_shape.h"
#include "geom/surface/border_side.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepTools_ReShape.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom2dConvert.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom2d_TrimmedCurve.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_map>

namespace kervo::geom {

namespace {

constexpr size_t samples = 5; // both ends among them

struct Free {
    BorderSide side;
    std::array<gp_Pnt, samples> at;
    bool used = false;
};

struct Cell {
    long x, y, z;
    friend bool operator==(const Cell&, const Cell&) = default;
};
struct CellHash {
    size_t operator()(const Cell& cell) const {
        return static_cast<size_t>(cell.x) * 73856093U ^ static_cast<size_t>(cell.y) * 19349663U ^
               static_cast<size_t>(cell.z) * 83492791U;
    }
};

// What lies near a place, by a grid of cells.
class Grid {
public:
    explicit Grid(double cell) : cell_(cell) {}
    void add(const gp_Pnt& place, size_t what) { cells_[cell_of(place)].push_back(what); }
    template <class Visit> void near(const gp_Pnt& place, const Visit& visit) const {
        const Cell middle = cell_of(place);
        for (long x = -1; x <= 1; ++x) {
            for (long y = -1; y <= 1; ++y) {
                for (long z = -1; z <= 1; ++z) {
                    const auto known = cells_.find({middle.x + x, middle.y + y, middle.z + z});
                    for (size_t i = 0; known != cells_.end() && i < known->second.size(); ++i) {
                        visit(known->second[i]);
                    }
                }
            }
        }
    }

private:
    [[nodiscard]] Cell cell_of(const gp_Pnt& place) const {
        const auto cell = [this](double value) { return std::lround(value / cell_); };
        return {cell(place.X()), cell(place.Y()), cell(place.Z())};
    }
    double cell_;
    std::unordered_map<Cell, std::vector<size_t>, CellHash> cells_;
};

bool match(const Free& one, const Free& other, bool same_way, double tolerance) {
    for (size_t i = 0; i < samples; ++i) {
        if (one.at[i].Distance(other.at[same_way ? i : samples - 1 - i]) > tolerance) {
            return false;
        }
    }
    return true;
}

// The kept edge gets the curve that the dropped one has in the parameters of its face, over its own parameters.
bool lay_on_face(const Free& kept, const Free& dropped, bool same_way) {
    const BRep_Builder builder;
    double from = 0;
    double to = 0;
    const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(dropped.side.edge, dropped.side.face, from, to);
    if (flat.IsNull()) {
        return false;
    }
    Handle(Geom2d_Curve) mine = flat;
    const bool as_it_is =
        same_way && std::fabs(from - kept.side.first()) < 1e-12 && std::fabs(to - kept.side.last()) < 1e-12;
    if (!as_it_is) {
        const Handle(Geom2d_BSplineCurve) spline =
            Geom2dConvert::CurveToBSplineCurve(new Geom2d_TrimmedCurve(flat, from, to), Convert_QuasiAngular);
        if (!same_way) {
            spline->Reverse();
        }
        TColStd_Array1OfReal knots(1, spline->NbKnots());
        spline->Knots(knots);
        const double first = knots.First();
        const double scale = (kept.side.last() - kept.side.first()) / (knots.Last() - first);
        for (int i = knots.Lower(); i <= knots.Upper(); ++i) {
            knots(i) = kept.side.first() + (knots(i) - first) * scale;
        }
        spline->SetKnots(knots);
        mine = spline;
    }
    builder.UpdateEdge(kept.side.edge, mine, dropped.side.face, BRep_Tool::Tolerance(kept.side.edge));
    return true;
}

// Vertices that are to be one.
class Joints {
public:
    void join(const TopoDS_Vertex& one, const TopoDS_Vertex& other) {
        const TopoDS_Vertex a = root(one);
        const TopoDS_Vertex b = root(other);
        if (!a.IsSame(b)) {
            root_.Bind(b, a);
            dropped_.push_back(b);
        }
    }
    void apply(BRepTools_ReShape& changes) {
        const BRep_Builder builder;
        for (const TopoDS_Vertex& vertex : dropped_) {
            const TopoDS_Vertex kept = root(vertex);
            const double apart = BRep_Tool::Pnt(vertex).Distance(BRep_Tool::Pnt(kept));
            builder.UpdateVertex(kept, apart + BRep_Tool::Tolerance(vertex));
            changes.Replace(vertex.Oriented(TopAbs_FORWARD), kept.Oriented(TopAbs_FORWARD));
        }
    }

private:
    TopoDS_Vertex root(TopoDS_Vertex vertex) const {
        while (const TopoDS_Shape* up = root_.Seek(vertex)) {
            vertex = TopoDS::Vertex(*up);
        }
        return vertex;
    }
    ByShape<TopoDS_Shape> root_;
    std::vector<TopoDS_Vertex> dropped_;
};

} // namespace

Matched match_borders(const TopoDS_Shape& own, double tolerance) {
    Matched matched{own, {}, 0};
    std::vector<Free> free;
    for (BorderSide& side : border_sides(own)) {
        Free each{std::move(side), {}, false};
        const BRepAdaptor_Curve curve(each.side.edge);
        for (size_t i = 0; i < samples; ++i) {
            each.at[i] = curve.Value(each.side.first() +
                                     (each.side.last() - each.side.first()) * static_cast<double>(i) / (samples - 1));
        }
        free.push_back(std::move(each));
    }
    Grid middles(std::max(4 * tolerance, 1e-5));
    for (size_t i = 0; i < free.size(); ++i) {
        middles.add(free[i].at[samples / 2], i);
    }
    Handle(BRepTools_ReShape) changes = new BRepTools_ReShape;
    Joints joints;
    for (size_t i = 0; i < free.size(); ++i) {
        std::vector<size_t> partners; // of more than one nobody knows which
        middles.near(free[i].at[samples / 2], [&](size_t k) {
            if (k != i && !free[k].used &&
                (match(free[i], free[k], true, tolerance) || match(free[i], free[k], false, tolerance))) {
                partners.push_back(k);
            }
        });
        if (free[i].used || partners.size() != 1 || free[partners.front()].side.face.IsSame(free[i].side.face)) {
            continue;
        }
        Free& kept = free[i];
        Free& dropped = free[partners.front()];
        const bool same_way = match(kept, dropped, true, tolerance);
        if (!lay_on_face(kept, dropped, same_way)) {
            continue;
        }
        kept.used = dropped.used = true;
        const TopoDS_Edge edge = TopoDS::Edge(kept.side.edge.Oriented(TopAbs_FORWARD));
        const TopoDS_Edge other = TopoDS::Edge(dropped.side.edge.Oriented(TopAbs_FORWARD));
        changes->Replace(other, edge.Oriented(same_way ? TopAbs_FORWARD : TopAbs_REVERSED));
        joints.join(TopExp::FirstVertex(edge), same_way ? TopExp::FirstVertex(other) : TopExp::LastVertex(other));
        joints.join(TopExp::LastVertex(edge), same_way ? TopExp::LastVertex(other) : TopExp::FirstVertex(other));
        ++matched.joined;
    }
    joints.apply(*changes);
    matched.shape = matched.joined > 0 ? changes->Apply(own) : own;
    for (const TopoDS_Shape& face : faces_of(own)) {
        matched.origins.push_back({matched.joined > 0 ? changes->Value(face) : face, face});
    }
    return matched;
}

} // namespace kervo::geom
