#include "geom/alter/chain.h"

#include "geom/measure/arc_length.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Extrema_ExtPC.hxx>
#include <GeomConvert_ApproxCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_TrimmedCurve.hxx>

#include <cmath>

namespace kervo::geom {

std::optional<Chain::Foot> Chain::foot_of(const gp_Pnt& point) const {
    constexpr double square = 1e-6; // of the way, that may lie along the edge where one follows another
    std::optional<Foot> nearest;
    bool is_square = false;
    for (size_t i = 0; i < edges_.size(); ++i) {
        const BRepAdaptor_Curve curve(edges_[i]);
        const auto consider = [&](double at, bool at_end) {
            Foot foot;
            curve.D1(at, foot.place, foot.along);
            foot.distance = foot.place.Distance(point);
            if (foot.along.Magnitude() < gp::Resolution() || (nearest && foot.distance >= nearest->distance)) {
                return;
            }
            foot.along.Normalize();
            is_square = !at_end || std::fabs(foot.along.Dot(gp_Vec(foot.place, point))) < square * foot.distance;
            foot.edge = i;
            foot.share = (at - curve.FirstParameter()) / (curve.LastParameter() - curve.FirstParameter());
            nearest = foot;
        };
        const Extrema_ExtPC feet(point, curve, curve.FirstParameter(), curve.LastParameter());
        for (int k = 1; feet.IsDone() && k <= feet.NbExt(); ++k) {
            consider(feet.Point(k).Parameter(), false);
        }
        consider(curve.FirstParameter(), true);
        consider(curve.LastParameter(), true);
    }
    return is_square ? nearest : std::nullopt;
}

double Chain::way_on_edge(const Foot& foot) const {
    const BRepAdaptor_Curve curve(edges_[foot.edge]);
    const double first = curve.FirstParameter();
    const double last = curve.LastParameter();
    const double at = first + foot.share * (last - first);
    const bool reversed = edges_[foot.edge].Orientation() == TopAbs_REVERSED;
    return arc_length(curve, reversed ? at : first, reversed ? last : at);
}

bool Chain::smooth() {
    bool changed = false;
    constexpr double close = 1e-9; // mm
    for (const TopoDS_Edge& edge : edges_) {
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
        if (curve.IsNull() || BRepAdaptor_Curve(edge).GetType() == GeomAbs_Line) {
            continue;
        }
        const GeomConvert_ApproxCurve near(new Geom_TrimmedCurve(curve, first, last), close, GeomAbs_C2, 200, 12);
        if (near.HasResult() && near.MaxError() < 10 * close) {
            const BRep_Builder builder;
            builder.UpdateEdge(edge, near.Curve(), BRep_Tool::Tolerance(edge));
            builder.Range(edge, first, last);
            changed = true;
        }
    }
    return changed;
}

} // namespace kervo::geom
