#include "model/sketching/sketch_plane.h"

#include <gp_Vec.hxx>

namespace kervo::model {

using sketch::Point2;

gp_Pnt in_space(const gp_Ax3& frame, const Point2& place) {
    return frame.Location().Translated(gp_Vec(frame.XDirection()) * place[0] + gp_Vec(frame.YDirection()) * place[1]);
}

Point2 on_plane(const gp_Ax3& frame, const gp_Pnt& place) {
    const gp_Vec from(frame.Location(), place);
    return {from.Dot(gp_Vec(frame.XDirection())), from.Dot(gp_Vec(frame.YDirection()))};
}

std::optional<sketch::Similarity> between_planes(const gp_Ax3& from, const gp_Ax3& to) {
    if (!from.Direction().IsParallel(to.Direction(), 1e-9)) {
        return std::nullopt;
    }
    const gp_Vec along(from.XDirection());
    sketch::Similarity seen;
    seen.a = along.Dot(gp_Vec(to.XDirection()));
    seen.b = along.Dot(gp_Vec(to.YDirection()));
    seen.shift = on_plane(to, from.Location());
    seen.mirrored = from.Direction().Dot(to.Direction()) < 0;
    return seen;
}

} // namespace kervo::model
