#include "app/view/frame.h"

#include "app/view/labels.h"

#include <QObject>
#include <QPainter>

#include <algorithm>

namespace kervo::app {

namespace {

// Also what is a level or plumb line, whose own box has no area.
bool holds(const QRectF& box, const QRectF& inner) {
    return box.contains(inner.topLeft()) && box.contains(inner.bottomRight());
}

} // namespace

bool Frame::takes(const std::vector<QPolygonF>& chains) const {
    const auto inside = [&](const QPolygonF& chain) {
        return std::all_of(chain.begin(), chain.end(), [&](const QPointF& p) { return box().contains(p); });
    };
    const auto touched = [&](const QPolygonF& chain) {
        const bool closed = chain.size() > 3 && chain.isClosed();
        return meets(chain, box()) || (closed && chain.containsPoint(box().center(), Qt::OddEvenFill));
    };
    return !chains.empty() && (touches() ? std::any_of(chains.begin(), chains.end(), touched)
                                         : std::all_of(chains.begin(), chains.end(), inside));
}

bool Frame::takes(const QPainterPath& path, bool filled) const {
    if (!touches()) {
        return holds(box(), path.boundingRect());
    }
    if (filled) {
        return path.intersects(box());
    }
    const auto chains = path.toSubpathPolygons();
    return std::any_of(chains.begin(), chains.end(), [&](const QPolygonF& chain) { return meets(chain, box()); });
}

QString Frame::hint() const {
    return touches() ? QObject::tr("To the left: what the frame touches; to the right: what lies inside")
                     : QObject::tr("To the right: what lies inside the frame; to the left: what it touches");
}

void Frame::paint(QPainter& painter, const Theme& theme) const {
    if (!open_) {
        return;
    }
    QPen pen(theme.ink, 1.2);
    if (touches()) {
        pen.setDashPattern({5, 3});
    }
    QColor fill = theme.workpiece;
    fill.setAlphaF(0.08F);
    painter.setPen(pen);
    painter.setBrush(fill);
    painter.drawRect(box());
    painter.setBrush(Qt::NoBrush);
    painter.setFont(interface_font(11));
    painter.drawText(to_ + QPointF(12, 18), touches() ? QObject::tr("what it touches") : QObject::tr("what is inside"));
}

} // namespace kervo::app
