#include "geom/cut/merge_edges.h"

#include "geom/cut/continuing.h"
#include "geom/kernel/by_shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <ElCLib.hxx>
#include <Geom2d_Circle.hxx>
#include <Geom2d_Ellipse.hxx>
#include <Geom2d_Line.hxx>
#include <Geom2d_TrimmedCurve.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

constexpr double same = continuing_tolerance;

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

bool merge_edges(const TopoDS_Shape& shape, BRepTools_ReShape& into) {
    return EdgeMerge(shape).merge(into);
}

} // namespace kervo::geom
