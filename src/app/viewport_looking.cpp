// Where one looks from, and what is where in the picture.
#include "app/viewport.h"

#include "geom/profile.h"
#include "model/sketch_plane.h"

#include <cmath>

namespace kervo::app {

namespace {

constexpr double snap_pixels = 10;

} // namespace

void Viewport::fit() {
    if (attached_) {
        viewer_.fit();
        repaint_all();
    }
}

void Viewport::look_from(scene::LookFrom from) {
    if (attached_) {
        viewer_.look_from(from);
        viewer_.fit();
        repaint_all();
    }
}

void Viewport::look_square() {
    if (!attached_) {
        return;
    }
    for (const model::Reference& reference : selection_) {
        const auto found = model::resolve(reference, body(reference.body).get());
        if (reference.kind == model::ElementKind::face && !found.element.IsNull()) {
            if (const auto plane = geom::plane_of(found.element)) {
                const gp_Ax3 frame = geom::frame_on_plane(*plane);
                viewer_.look_along(frame.Direction().Reversed(), frame.YDirection());
                viewer_.fit();
                repaint_all();
                return;
            }
        }
    }
    if (const auto sketch = card_sketch()) {
        viewer_.look_along(sketch->frame.Direction().Reversed(), sketch->frame.YDirection());
        viewer_.fit();
        repaint_all();
    } else {
        emit hinted(tr("Select a flat face first, then look square at it."));
    }
}

bool Viewport::in_sight(const Bnd_Box& box) const {
    const gp_Pnt low = box.CornerMin();
    const gp_Pnt high = box.CornerMax();
    for (int i = 0; i < 8; ++i) {
        const gp_Pnt corner((i & 1) != 0 ? low.X() : high.X(), (i & 2) != 0 ? low.Y() : high.Y(),
                            (i & 4) != 0 ? low.Z() : high.Z());
        if (!QRectF(rect()).contains(place_of(corner))) {
            return false;
        }
    }
    return true;
}

QPointF Viewport::place_of(const gp_Pnt& point) const {
    const auto p = viewer_.project(point);
    return {p[0] / devicePixelRatioF(), p[1] / devicePixelRatioF()};
}

QPointF Viewport::place_on_sketch(const sketch::Point2& point) const {
    const auto sketch = card_sketch();
    if (!sketch) {
        return {};
    }
    return place_of(model::in_space(sketch->frame, point));
}

std::optional<sketch::Point2> Viewport::on_sketch(const QPointF& place) const {
    const auto sketch = card_sketch();
    if (!sketch || !attached_) {
        return std::nullopt;
    }
    const gp_Lin ray = viewer_.ray(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF());
    const gp_Vec normal(sketch->frame.Direction());
    const double slope = gp_Vec(ray.Direction()).Dot(normal);
    if (std::fabs(slope) < 1e-3) {
        return std::nullopt; // the plane is seen from its edge
    }
    const double t = gp_Vec(ray.Location(), sketch->frame.Location()).Dot(normal) / slope;
    return model::on_plane(sketch->frame, ray.Location().Translated(gp_Vec(ray.Direction()) * t));
}

double Viewport::reach() const {
    return snap_pixels * devicePixelRatioF() / viewer_.pixels_per_mm();
}

std::pair<gp_Pnt, gp_Dir> Viewport::upright_plane() const {
    const auto picture = session_.picture();
    gp_Pnt middle;
    if (picture && !picture->bounds.IsVoid()) {
        middle = gp_Pnt((picture->bounds.CornerMin().XYZ() + picture->bounds.CornerMax().XYZ()) / 2);
    }
    const gp_Vec across(viewer_.ray(0, 0).Location(), viewer_.ray(100, 0).Location());
    return {middle, across.Magnitude() > 0 ? gp_Dir(across) : gp_Dir(1, 0, 0)};
}

} // namespace kervo::app
