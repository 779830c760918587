// A row of the open step whose numbers follow the pointer.
#pragma once

#include "app/view/viewport.h"

namespace kervo::app {

struct PulledRow {
    model::Row before; ///< as it was
    Point3 place;      ///< what is pulled, as it was
    QPointF from;      ///< where the pointer took it
};

/// How far the pointer has gone from there (mm): in that principal plane which is seen best; or square to it.
Vector3 pulled_in_plane(const Viewport& view, const PulledRow& row, const QPointF& to);
Vector3 pulled_square(const Viewport& view, const PulledRow& row, const QPointF& to);
/// Along a unit direction.
Vector3 pulled_along(const Viewport& view, const PulledRow& row, const QPointF& to, const Vector3& way);

/// Adds that to the numbers that it had, rounded, among the rows of the open step. Nothing moves where a formula holds
/// them, which is told.
void pull_row(Viewport& view, const PulledRow& pulled, const Vector3& by, const model::Field& rows);

} // namespace kervo::app
