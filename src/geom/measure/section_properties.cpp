#include "geom/measure/section_properties.h"

#include "geom/measure/measure.h"
#include "geom/measure/spans.h"

#include <BRepAdaptor_Curve.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <gp_Trsf.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

// Of one face along its border, about the frame's origin.
struct Moments {
    double area = 0, x = 0, y = 0, xx = 0, yy = 0, xy = 0; // of 1, x, y, x^2, y^2, xy
};

Moments moments_of(const TopoDS_Shape& face, const gp_Ax3& frame, double& perimeter) {
    Moments sum;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        const TopoDS_Edge edge = TopoDS::Edge(it.Current());
        if (edge.Orientation() != TopAbs_FORWARD && edge.Orientation() != TopAbs_REVERSED) {
            continue;
        }
        const double sign = edge.Orientation() == TopAbs_FORWARD ? 1 : -1;
        const BRepAdaptor_Curve curve(edge);
        perimeter += length_of(edge);
        const auto spans = spans_of(curve);
        for (size_t i = 0; i + 1 < spans.size(); ++i) {
            each_gauss_point(spans[i], spans[i + 1], [&](double t, double weight) {
                gp_Pnt p;
                gp_Vec d;
                curve.D1(t, p, d);
                const gp_Vec r(frame.Location(), p);
                const double x = r.Dot(gp_Vec(frame.XDirection()));
                const double y = r.Dot(gp_Vec(frame.YDirection()));
                const double dx = sign * weight * d.Dot(gp_Vec(frame.XDirection()));
                const double dy = sign * weight * d.Dot(gp_Vec(frame.YDirection()));
                sum.area += (x * dy - y * dx) / 2;
                sum.x += x * x * dy / 2;
                sum.y -= y * y * dx / 2;
                sum.xx += x * x * x * dy / 3;
                sum.yy -= y * y * y * dx / 3;
                sum.xy += x * x * y * dy / 2;
            });
        }
    }
    const double hand = sum.area < 0 ? -1 : 1; // it may look the other way
    return {sum.area * hand, sum.x * hand, sum.y * hand, sum.xx * hand, sum.yy * hand, sum.xy * hand};
}

} // namespace

SectionProperties section_properties(const std::vector<TopoDS_Shape>& faces, const gp_Ax3& frame) {
    SectionProperties all;
    if (faces.empty()) {
        return all;
    }
    // About a place among them, so that nothing is lost in differences of large numbers.
    const gp_Ax3 near = frame.Translated(gp_Vec(frame.Location(), center_of(faces.front())));
    Moments sum;
    for (const TopoDS_Shape& face : faces) {
        const Moments one = moments_of(face, near, all.perimeter);
        sum = {sum.area + one.area, sum.x + one.x, sum.y + one.y, sum.xx + one.xx, sum.yy + one.yy, sum.xy + one.xy};
    }
    all.area = sum.area;
    if (sum.area <= 0) {
        return all;
    }
    const double x = sum.x / sum.area;
    const double y = sum.y / sum.area;
    all.iyy = sum.xx - sum.area * x * x;
    all.ixx = sum.yy - sum.area * y * y;
    all.ixy = sum.xy - sum.area * x * y;
    const gp_Vec shift(frame.Location(), near.Location());
    all.x = x + shift.Dot(gp_Vec(frame.XDirection()));
    all.y = y + shift.Dot(gp_Vec(frame.YDirection()));
    gp_Trsf to_frame;
    to_frame.SetDisplacement(near, gp_Ax3());
    const auto box = box_of(gather(faces).Moved(TopLoc_Location(to_frame)));
    all.wx = all.ixx / std::max(box[4] - y, y - box[1]);
    all.wy = all.iyy / std::max(box[3] - x, x - box[0]);
    return all;
}

} // namespace kervo::geom
