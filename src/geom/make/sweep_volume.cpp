#include "geom/make/sweep_volume.h"

#include "geom/measure/arc_length.h"
#include "geom/measure/measure.h"
#include "geom/outline/path.h"

#include <BRepAdaptor_Curve.hxx>
#include <gp_Ax1.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

// A place on a part of the path, `share` (0 to 1) along its parameters.
void on_part(const Path::Part& part, double share, gp_Pnt& place, gp_Vec& heading) {
    const BRepAdaptor_Curve curve(part.edge);
    const bool back = part.edge.Orientation() == TopAbs_REVERSED;
    const double t = back ? 1 - share : share;
    curve.D1(curve.FirstParameter() * (1 - t) + curve.LastParameter() * t, place, heading);
    heading = (back ? heading.Reversed() : heading).Normalized();
}

double length_of(const Path::Part& part) {
    return arc_length(BRepAdaptor_Curve(part.edge));
}

} // namespace

double swept_volume(const ProfileFace& profile, const Path& path, const Carrying& carrying) {
    double length = 0;
    for (const auto& part : path.parts) {
        length += length_of(part);
    }
    gp_Pnt place;
    gp_Vec heading;
    on_part(path.parts.front(), 0, place, heading);
    CarriedFrame frame = CarriedFrame::at_start(place, heading);
    const gp_Pnt center = center_of(profile.face);
    const gp_Vec across(profile.frame.Direction());
    const gp_Mat start = frame.axes().Transposed();
    const gp_Vec arm(place, center);
    double gone = 0; // of the path's length
    // Where the profile's centre is, and which way the profile looks, at a place that the frame has come to.
    const auto carried = [&](gp_Pnt& middle, gp_Vec& normal) {
        gp_XYZ from = arm.XYZ();
        gp_XYZ look = across.XYZ();
        if (carrying.turning) {
            const gp_Mat turn = frame.axes() * start;
            gp_Vec side = gp_Vec(turn * from);
            gp_Vec ahead = gp_Vec(turn * look);
            const gp_Ax1 about(gp_Pnt(), gp_Dir(frame.along));
            side.Rotate(about, carrying.twist * gone / length);
            ahead.Rotate(about, carrying.twist * gone / length);
            from = side.XYZ();
            look = ahead.XYZ();
        }
        middle = frame.at.XYZ() + from;
        normal = gp_Vec(look);
    };
    gp_Pnt middle;
    gp_Vec normal;
    carried(middle, normal);
    double way = 0;
    constexpr int steps = 2000; // on each part
    for (size_t i = 0; i < path.parts.size(); ++i) {
        const auto& part = path.parts[i];
        const bool straight = BRepAdaptor_Curve(part.edge).GetType() == GeomAbs_Line;
        const int number = straight && carrying.twist == 0 ? 1 : steps;
        for (int k = 1; k <= number; ++k) {
            on_part(part, k / static_cast<double>(number), place, heading);
            gone += gp_Vec(frame.at, place).Magnitude();
            frame.carry_to(place, heading);
            gp_Pnt next;
            gp_Vec ahead;
            carried(next, ahead);
            way += gp_Vec(middle, next).Dot(normal + ahead) / 2;
            middle = next;
            normal = ahead;
        }
        const bool last = i + 1 == path.parts.size();
        if (!carrying.turning || (last && !path.closed)) {
            continue;
        }
        on_part(path.parts[last ? 0 : i + 1], 0, place, heading);
        if (const double corner = frame.along.Angle(heading); corner > 1e-9) {
            // Mitred: what is nearer to the inside of the corner ends earlier and begins later.
            const gp_Vec inwards = (heading - frame.along * std::cos(corner)).Normalized();
            way -= 2 * gp_Vec(frame.at, middle).Dot(inwards) * std::tan(corner / 2) * normal.Dot(frame.along);
            frame.carry_to(frame.at, heading);
            carried(middle, normal);
        }
    }
    return std::fabs(way) * area_of(profile.face);
}

} // namespace kervo::geom
