#include "geom/measure/placing.h"

#include "geom/measure/measure.h"
#include "geom/outline/profile.h"

#include <cmath>

namespace kervo::geom {

namespace {

gp_Trsf moved(const gp_Vec& by) {
    gp_Trsf move;
    move.SetTranslation(by);
    return move;
}

} // namespace

Anchor anchor_of(const TopoDS_Shape& element) {
    Anchor anchor{element.ShapeType() <= TopAbs_SOLID ? centroid_of(element) : center_of(element), {}, false};
    if (element.ShapeType() == TopAbs_FACE) {
        if (const auto plane = plane_of(element)) {
            anchor.way = plane->Axis().Direction();
            anchor.flat = true;
            return anchor;
        }
    }
    if (element.ShapeType() == TopAbs_FACE || element.ShapeType() == TopAbs_EDGE) {
        if (const auto axis = axis_of(element)) {
            anchor.way = axis->Direction();
            const gp_Vec along(axis->Direction());
            anchor.point = axis->Location().Translated(along * gp_Vec(axis->Location(), anchor.point).Dot(along));
        }
    }
    return anchor;
}

gp_Trsf turn_onto(const gp_Dir& from, const gp_Dir& to, const gp_Pnt& at) {
    gp_Trsf turn;
    const double angle = from.Angle(to);
    if (angle < 1e-12) {
        return turn;
    }
    gp_Dir about(0, 0, 1);
    if (angle < M_PI - 1e-9) {
        about = from.Crossed(to);
    } else if (!from.IsParallel(about, 1e-6)) {
        about = gp_Dir(gp_Vec(about) - gp_Vec(from) * from.Dot(about)); // upright things stay upright
    } else {
        about = gp_Dir(1, 0, 0);
    }
    turn.SetRotation(gp_Ax1(at, about), angle);
    return turn;
}

gp_Trsf turn_parallel(const Anchor& carried, const Anchor& target, bool flipped) {
    const gp_Dir& from = *carried.way;
    const bool nearer = from.Dot(*target.way) >= 0;
    return turn_onto(from, nearer == flipped ? target.way->Reversed() : *target.way, carried.point);
}

gp_Trsf bring_flush(const Anchor& carried, const Anchor& target, bool same_way, double gap) {
    const gp_Dir& normal = *target.way;
    const gp_Trsf turn = turn_onto(*carried.way, same_way ? normal : normal.Reversed(), carried.point);
    const gp_Vec up(normal);
    return moved(up * (gap - gp_Vec(target.point, carried.point).Dot(up))) * turn;
}

gp_Trsf make_concentric(const Anchor& carried, const Anchor& target, bool flipped, double shift) {
    const gp_Trsf turn = turn_parallel(carried, target, flipped);
    const gp_Vec along(*target.way);
    const gp_Vec aside(carried.point, target.point);
    return moved(aside - along * aside.Dot(along) + along * shift) * turn;
}

gp_Trsf bring_between(const Anchor& carried, const Anchor& one, const Anchor& other) {
    const gp_Pnt middle((one.point.XYZ() + other.point.XYZ()) / 2);
    gp_Vec way(carried.point, middle);
    if (one.flat && other.flat && one.way->IsParallel(*other.way, 1e-9)) {
        const gp_Vec across(*one.way);
        way = across * way.Dot(across);
    }
    return moved(way);
}

} // namespace kervo::geom
