#include "app/view/ink.h"

#include <QFontMetricsF>

#include <algorithm>
#include <cmath>

namespace kervo::app {

QPen phantom(const QColor& color, double width) {
    QPen pen(color, width);
    pen.setDashPattern({10, 2.5, 1.5, 2.5, 1.5, 2.5}); // long dash, double dot
    pen.setCapStyle(Qt::FlatCap);
    return pen;
}

QPen hidden_line(const QColor& color, double width) {
    QPen pen(color, width);
    pen.setDashPattern({4, 3});
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

QSizeF patch_of(const QString& text, int pixels) {
    return QFontMetricsF(drawing_font(pixels)).boundingRect(text).adjusted(-4, -2, 4, 2).size();
}

QRectF write(QPainter& painter, const QPointF& middle, const QString& text, const QColor& ink, const QColor& paper,
             int pixels) {
    painter.setFont(drawing_font(pixels));
    QRectF box(QPointF(0, 0), patch_of(text, pixels));
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

QPainterPath path_of(const Viewport& viewport, const Frame3& frame, const std::vector<sketch::Stretch>& loop) {
    return path_by([&](const sketch::Point2& p) { return viewport.place_of(frame.at(p)); }, loop);
}

QPainterPath region_path(const Viewport& viewport, const Frame3& frame, const sketch::Region& region) {
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    for (const auto& loop : region.loops) {
        path.addPath(path_of(viewport, frame, loop));
    }
    return path;
}

QPolygonF outline_in(const Viewport& viewport, const Box3& box, const Point3& origin, const Vector3& normal) {
    std::vector<Point3> outline;
    for (int i = 0; i < 8; ++i) {
        for (const int bit : {1, 2, 4}) {
            if ((i & bit) == 0) {
                const Point3 a = box.corner(i);
                const Point3 b = box.corner(i | bit);
                const double ha = (a - origin).dot(normal);
                const double hb = (b - origin).dot(normal);
                if ((ha < 0) != (hb < 0)) {
                    outline.push_back(a + (b - a) * (ha / (ha - hb)));
                }
            }
        }
    }
    QPolygonF polygon;
    if (outline.size() < 3) {
        return polygon;
    }
    Vector3 sum;
    for (const Point3& p : outline) {
        sum = sum + (p - outline[0]);
    }
    const Point3 middle = outline[0] + sum * (1 / static_cast<double>(outline.size()));
    const Vector3 u = (outline[0] - middle).unit();
    const Vector3 v = normal.cross(u);
    std::sort(outline.begin(), outline.end(), [&](const Point3& a, const Point3& b) {
        const Vector3 da = a - middle;
        const Vector3 db = b - middle;
        return std::atan2(da.dot(v), da.dot(u)) < std::atan2(db.dot(v), db.dot(u));
    });
    for (const Point3& p : outline) {
        polygon << viewport.place_of(p);
    }
    return polygon;
}

std::vector<QRectF> write_letters(QPainter& painter, const QPolygonF& outline, const QPointF& looking,
                                  const QString& letter, const QColor& color) {
    std::vector<QRectF> places;
    const double size = std::max(std::hypot(looking.x(), looking.y()), 1.0);
    const auto [left, right] = std::minmax_element(outline.begin(), outline.end(),
                                                   [](const QPointF& a, const QPointF& b) { return a.x() < b.x(); });
    const QRectF sheet = QRectF(painter.viewport()).adjusted(16, 16, -16, -16);
    const auto on_sheet = [&](const QPointF& p) {
        return QPointF(std::clamp(p.x(), sheet.left(), sheet.right()), std::clamp(p.y(), sheet.top(), sheet.bottom()));
    };
    for (const QPointF& far : {*left, *right}) {
        const QPointF end = on_sheet(far);
        const QPointF tail = end - looking / size * 26;
        painter.setPen(QPen(color, 2.4));
        painter.drawLine(tail, end);
        arrow(painter, end, tail, 12);
        painter.setPen(color);
        painter.setFont(drawing_font(22));
        const QPointF at = on_sheet(tail - looking / size * 12);
        places.emplace_back(at - QPointF(12, 14), QSizeF(24, 28));
        painter.drawText(places.back(), Qt::AlignCenter, letter);
    }
    return places;
}

} // namespace kervo::app
