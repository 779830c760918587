#include "app/ink.h"

#include "model/sketch_plane.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

QPen phantom(const QColor& color, double width) {
    QPen pen(color, width);
    pen.setDashPattern({10, 2.5, 1.5, 2.5, 1.5, 2.5}); // long dash, double dot
    pen.setCapStyle(Qt::FlatCap);
    return pen;
}

QPen axis_line(const QColor& color, double width) {
    QPen pen(color, width);
    pen.setDashPattern({10, 3, 1.5, 3}); // long dash, dot
    pen.setCapStyle(Qt::FlatCap);
    return pen;
}

QCursor marker_cursor(const Theme& theme, Marker marker) {
    constexpr int middle = 11;
    QPixmap picture(32, 32);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    const auto cross = [&](const QColor& color, int width) {
        painter.setPen(QPen(color, width));
        painter.drawLine(middle, 1, middle, 2 * middle - 1);
        painter.drawLine(1, middle, 2 * middle - 1, middle);
    };
    cross(theme.paper, 3); // so that it is seen on dark bodies too
    cross(theme.ink, 1);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme.paper, 1));
    painter.setBrush(marker == Marker::work ? theme.workpiece : theme.cutter);
    const QPolygonF wedge({{15, 28}, {29, 28}, {29, 15}});
    marker == Marker::work ? painter.drawRect(QRectF(17, 17, 11, 11)) : painter.drawPolygon(wedge);
    painter.end();
    return QCursor(picture, middle, middle);
}

void arrow(QPainter& painter, const QPointF& tip, const QPointF& from, double length) {
    const double angle = std::atan2(tip.y() - from.y(), tip.x() - from.x());
    QPolygonF head{tip};
    for (const double spread : {0.17, -0.17}) {
        head << tip - QPointF(std::cos(angle + spread), std::sin(angle + spread)) * length;
    }
    painter.save();
    painter.setBrush(painter.pen().color());
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(head);
    painter.restore();
}

QRectF write(QPainter& painter, const QPointF& middle, const QString& text, const QColor& ink, const QColor& paper,
             int pixels) {
    painter.setFont(drawing_font(pixels));
    QRectF box = painter.fontMetrics().boundingRect(text);
    box.adjust(-4, -2, 4, 2);
    box.moveCenter(middle);
    QColor patch = paper;
    patch.setAlphaF(0.88F);
    painter.fillRect(box, patch);
    painter.setPen(ink);
    painter.drawText(box, Qt::AlignCenter, text);
    return box;
}

namespace {

template <class Place> QPainterPath path_by(const Place& place, const std::vector<sketch::Stretch>& loop) {
    QPainterPath path;
    // A fifth of a pixel, in the sketch's own measure, is smooth to the eye.
    const QLineF unit(place({0, 0}), place({1, 0}));
    const QLineF other(place({0, 0}), place({0, 1}));
    const double sag = 0.2 / std::max({unit.length(), other.length(), 1e-6});
    for (const sketch::Stretch& stretch : loop) {
        bool first = true;
        for (const sketch::Point2& p : sketch::flattened(stretch, sag)) {
            const QPointF at = place(p);
            const bool apart = path.elementCount() == 0 || (at - path.currentPosition()).manhattanLength() > 0.1;
            first&& apart ? path.moveTo(at) : path.lineTo(at);
            first = false;
        }
    }
    return path;
}

} // namespace

QPainterPath path_of(const Viewport& viewport, const std::vector<sketch::Stretch>& loop) {
    return path_by([&](const sketch::Point2& p) { return viewport.place_on_sketch(p); }, loop);
}

QPainterPath path_of(const Viewport& viewport, const gp_Ax3& frame, const std::vector<sketch::Stretch>& loop) {
    return path_by([&](const sketch::Point2& p) { return viewport.place_of(model::in_space(frame, p)); }, loop);
}

} // namespace kervo::app
