// The line types and lettering of the drawing, after ISO 128 and ISO 3098.
#pragma once

#include "app/view/viewport.h"

#include <QCursor>
#include <QPainter>
#include <QPainterPath>

namespace kervo::app {

/// Long dash, double dot: what goes, and what is not part of the body.
QPen phantom(const QColor& color, double width);
/// Short dashes: what lies behind something.
QPen hidden_line(const QColor& color, double width);
/// Long dash, dot: axes, symmetry, guides.
QPen axis_line(const QColor& color, double width);
/// A cross with the marker's sign beside it: a square for the work marker, a wedge for the cutter marker.
QCursor marker_cursor(const Theme& theme, Marker marker);
/// An arrowhead of `length` pixels at `tip`, pointing away from `from`.
void arrow(QPainter& painter, const QPointF& tip, const QPointF& from, double length);
/// Text on paper: a patch of paper under it keeps lines from running through the letters. Returns the patch.
/// How large that patch is.
QSizeF patch_of(const QString& text, int pixels);
QRectF write(QPainter& painter, const QPointF& middle, const QString& text, const QColor& ink, const QColor& paper,
             int pixels);
/// The outline that a plane has in a box, as it is seen; none where they do not meet.
QPolygonF outline_in(const Viewport& viewport, const Box3& box, const Point3& origin, const Vector3& normal);
/// Arrows at the two far ends of a plane's outline, which look `looking` (pixels), and its letter behind each: where
/// the letters stand.
std::vector<QRectF> write_letters(QPainter& painter, const QPolygonF& outline, const QPointF& looking,
                                  const QString& letter, const QColor& color);
/// A chain of stretches of the open sketch as it is seen.
QPainterPath path_of(const Viewport& viewport, const std::vector<sketch::Stretch>& loop);
/// The same on another plane than the open sketch's.
QPainterPath path_of(const Viewport& viewport, const Frame3& frame, const std::vector<sketch::Stretch>& loop);
/// A region with its holes, on the plane of its sketch.
QPainterPath region_path(const Viewport& viewport, const Frame3& frame, const sketch::Region& region);

} // namespace kervo::app
