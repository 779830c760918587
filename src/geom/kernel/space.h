// Places and ways of the kernel as plain values, and back.
#pragma once

#include "base/space.h"

#include <Bnd_Box.hxx>
#include <gp_Ax3.hxx>
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>
#include <gp_Vec.hxx>

namespace kervo::geom {

inline Point3 plain(const gp_Pnt& p) {
    return {p.X(), p.Y(), p.Z()};
}
inline Vector3 plain(const gp_Vec& v) {
    return {v.X(), v.Y(), v.Z()};
}
inline Vector3 plain(const gp_Dir& d) {
    return {d.X(), d.Y(), d.Z()};
}
inline Frame3 plain(const gp_Ax3& frame) {
    return {plain(frame.Location()), plain(frame.XDirection()), plain(frame.YDirection()), plain(frame.Direction())};
}
inline Box3 plain(const Bnd_Box& box) {
    return box.IsVoid() ? Box3() : Box3{plain(box.CornerMin()), plain(box.CornerMax())};
}
inline gp_Pnt exact(const Point3& p) {
    return {p.x, p.y, p.z};
}
inline gp_Dir exact_way(const Vector3& v) {
    return {v.x, v.y, v.z};
}

} // namespace kervo::geom
