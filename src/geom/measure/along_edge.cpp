#include "geom/measure/along_edge.h"

#include "geom/kernel/shape.h"
#include "geom/measure/arc_length.h"

#include <BRepAdaptor_Curve.hxx>

#include <cmath>

namespace kervo::geom {

bool runs_from_its_first_end(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    const gp_Pnt first = curve.Value(curve.FirstParameter());
    const gp_Pnt last = curve.Value(curve.LastParameter());
    bool forward = true;
    for (const int axis : {3, 2, 1}) {
        const double rise = last.Coord(axis) - first.Coord(axis);
        forward = std::fabs(rise) > coincidence ? rise > 0 : forward;
    }
    return forward;
}

gp_Pnt place_along(const TopoDS_Edge& edge, double share) {
    const BRepAdaptor_Curve curve(edge);
    const double length = arc_length(curve) * (runs_from_its_first_end(edge) ? share : 1 - share);
    return curve.Value(parameter_after(curve, curve.FirstParameter(), length));
}

std::array<gp_Pnt, 3> places_within(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    const auto at = [&](double share) {
        return curve.Value(curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter()));
    };
    return {at(0.5), at(0.23), at(0.81)};
}

} // namespace kervo::geom
