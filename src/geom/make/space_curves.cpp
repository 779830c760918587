#include "geom/make/space_curves.h"

#include "geom/kernel/join_ends.h"
#include "geom/kernel/splines.h"
#include "geom/make/curve_flaws.h"
#include "geom/measure/arc_length.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

Result<std::vector<TopoDS_Edge>> curve_of_points(const std::vector<gp_Pnt>& points, PointsAre are, int degree,
                                                 bool closed) try {
    if (auto flaw = flaw_of(points, closed)) {
        return std::move(*flaw);
    }
    if (degree <= 1 || (points.size() == 2 && !closed)) {
        std::vector<TopoDS_Edge> lines;
        for (size_t i = 1; i < points.size() + (closed ? 1 : 0); ++i) {
            lines.push_back(BRepBuilderAPI_MakeEdge(points[i - 1], points[i % points.size()]).Edge());
        }
        return join_ends(lines, coincidence);
    }
    const Handle(Geom_BSplineCurve) curve =
        are == PointsAre::passed ? spline_through(points, degree, closed) : spline_by_poles(points, degree, closed);
    if (curve.IsNull()) {
        return no_curve(points.front());
    }
    const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
    for (const gp_Pnt& point : are == PointsAre::passed ? points : std::vector<gp_Pnt>{}) {
        if (distance_to(edge, point) > curve_true_enough) {
            return no_curve(point);
        }
    }
    return std::vector<TopoDS_Edge>{edge};
} catch (const Standard_Failure&) {
    return no_curve(points.front());
}

namespace {

// Along an edge by length, from one end or the other.
class ByLength {
public:
    ByLength(const TopoDS_Edge& edge, bool forward) : curve_(edge), length_(arc_length(curve_)), forward_(forward) {}
    [[nodiscard]] gp_Pnt at(double share) const {
        const double way = forward_ ? share : 1 - share;
        if (curve_.GetType() == GeomAbs_Line || curve_.GetType() == GeomAbs_Circle) { // as its parameter goes
            return curve_.Value(curve_.FirstParameter() + way * (curve_.LastParameter() - curve_.FirstParameter()));
        }
        return curve_.Value(parameter_after(curve_, curve_.FirstParameter(), length_ * way));
    }

private:
    BRepAdaptor_Curve curve_;
    double length_;
    bool forward_;
};

gp_Pnt between(const gp_Pnt& a, const gp_Pnt& b) {
    return gp_Pnt((a.XYZ() + b.XYZ()) / 2);
}

} // namespace

Result<TopoDS_Edge> curve_halfway(const TopoDS_Edge& one, const TopoDS_Edge& other) try {
    const auto is_closed_edge = [](const TopoDS_Edge& edge) {
        return TopExp::FirstVertex(edge).IsSame(TopExp::LastVertex(edge));
    };
    const bool closed = is_closed_edge(one);
    if (closed != is_closed_edge(other)) {
        return curve_flaw("space.unlike", "One of the two curves is closed, the other is open.",
                          "Choose two that are alike.", center_of(one));
    }
    const ByLength first(one, true);
    const auto apart = [&](const ByLength& second) {
        double sum = 0;
        for (const double share : {0.1, 0.3, 0.5, 0.7, 0.9}) {
            sum += first.at(share).SquareDistance(second.at(share));
        }
        return sum;
    };
    const ByLength same(other, true);
    const ByLength turned(other, false);
    const ByLength& second = apart(turned) < apart(same) ? turned : same;
    const auto at = [&](double share) { return between(first.at(share), second.at(share)); };
    if (direction_of(one) && direction_of(other)) {
        BRepBuilderAPI_MakeEdge straight(at(0), at(1));
        return straight.IsDone() ? Result<TopoDS_Edge>(straight.Edge()) : no_curve(at(0));
    }
    constexpr int most = 1024;
    for (int parts = 16; parts <= most; parts *= 2) {
        std::vector<gp_Pnt> places;
        for (int i = 0; i < parts + (closed ? 0 : 1); ++i) {
            places.push_back(at(static_cast<double>(i) / parts));
        }
        const Handle(Geom_BSplineCurve) curve = spline_through(places, 3, closed);
        if (curve.IsNull()) {
            return no_curve(places.front());
        }
        const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
        double worst = 0;
        for (int i = 0; i < parts; ++i) {
            worst = std::max(worst, distance_to(edge, at((i + 0.5) / parts)));
        }
        if (worst < curve_true_enough) {
            return edge;
        }
    }
    return no_curve(at(0));
} catch (const Standard_Failure&) {
    return no_curve(center_of(one));
}

} // namespace kervo::geom
