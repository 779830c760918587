#include "geom/surface/swept_curves.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"
#include "geom/surface/assemble.h"
#include "geom/surface/borders.h"

#include <BRepAdaptor_Curve.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopoDS.hxx>
#include <gp_Lin.hxx>

#include <boost/math/quadrature/gauss.hpp>

#include <cmath>
#include <functional>

namespace kervo::geom {

namespace {

// The integral over all curves of what `weight` says of a place and the way on (mm for a millimetre of the parameter).
double integral_along(const ShapeWithRoles& curves, const std::function<double(const gp_Pnt&, const gp_Vec&)>& weight) {
    double sum = 0;
    for (const FaceRole& role : curves.roles) {
        const BRepAdaptor_Curve curve(TopoDS::Edge(role.face));
        TColStd_Array1OfReal breaks(1, curve.NbIntervals(GeomAbs_C3) + 1);
        curve.Intervals(breaks, GeomAbs_C3);
        constexpr int shares = 4; // of each smooth stretch
        for (int i = breaks.Lower(); i < breaks.Upper(); ++i) {
            const double width = (breaks(i + 1) - breaks(i)) / shares;
            for (int k = 0; k < shares; ++k) {
                const double from = breaks(i) + k * width;
                sum += boost::math::quadrature::gauss<double, 20>::integrate(
                    [&](double t) {
                        gp_Pnt place;
                        gp_Vec way;
                        curve.D1(t, place, way);
                        return weight(place, way);
                    },
                    from, from + width);
            }
        }
    }
    return sum;
}

// The walls as one surface, if they are what they should be. Areas of free-form faces are good to 1e-6.
Result<ShapeWithRoles> proven(const ShapeWithRoles& walls, double wanted_area) {
    std::vector<TopoDS_Shape> faces;
    for (const FaceRole& role : walls.roles) {
        if (role.face.ShapeType() == TopAbs_FACE) {
            faces.push_back(role.face);
        }
    }
    const Finding failed = error_finding("surface.failed", "No surface could be made of these curves.",
                                         "Look whether some lie along the way that they are swept.");
    if (faces.empty()) {
        return failed;
    }
    ShapeWithRoles made{assembled(faces).shape, walls.roles};
    if (std::fabs(area_of(made.shape) - wanted_area) > 1e-6 * wanted_area) {
        return failed;
    }
    const auto branching = branching_edges(made.shape);
    const auto crossing = self_crossing(made.shape);
    if (crossing || !branching.empty()) {
        Finding finding = error_finding("surface.crosses", "Curves cross or branch here, so the surface would too.",
                                        "Trim them, or make one of them a guide.");
        add_place(finding, crossing ? crossing->place : center_of(branching.front()));
        return finding;
    }
    return made;
}

} // namespace

Result<ShapeWithRoles> surface_over(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces, const gp_Vec& rise,
                                    double start, double end) try {
    gp_Ax3 lifted = frame;
    lifted.Translate(rise * start);
    const gp_Vec way = rise * (end - start);
    const ShapeWithRoles curves = make_curves(lifted, pieces);
    return proven(extrude_curves(curves, way),
                  integral_along(curves, [&](const gp_Pnt&, const gp_Vec& on) { return on.CrossMagnitude(way); }));
} catch (const Standard_Failure&) {
    return error_finding("surface.failed", "No surface could be made of these curves.", "Change them a little.");
}

Result<ShapeWithRoles> surface_about(const gp_Ax3& frame, const std::vector<OutlinePiece>& pieces, const gp_Ax1& axis,
                                     double start, double sweep) try {
    const ShapeWithRoles curves = make_curves(frame, pieces);
    gp_Trsf level; // the axis becomes x, across it in the plane becomes y
    level.SetTransformation(gp_Ax3(axis.Location(), frame.Direction(), axis.Direction()));
    const auto box = box_of(curves.shape.Moved(TopLoc_Location(level)));
    if (box[1] < -coincidence && box[4] > coincidence) {
        return error_finding("surface.crosses_axis",
                             "The curves lie on both sides of the axis, so the surface would run through itself.",
                             "Draw them on one side of the axis.");
    }
    return proven(revolve_curves(curves, axis, start, sweep),
                  integral_along(curves, [&](const gp_Pnt& place, const gp_Vec& on) {
                      return gp_Lin(axis).Distance(place) * on.Magnitude() * std::fabs(sweep);
                  }));
} catch (const Standard_Failure&) {
    return error_finding("surface.failed", "No surface could be made of these curves.", "Change them a little.");
}

} // namespace kervo::geom
