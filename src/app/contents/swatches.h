// The small pictures before rows of Contents.
#pragma once

#include <QIcon>
#include <QPainter>

namespace kervo::app {

inline QIcon swatch(const QColor& fill, const QColor& rim) {
    QPixmap picture(14, 14);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setPen(rim);
    painter.setBrush(fill);
    painter.drawRoundedRect(1, 1, 11, 11, 2, 2);
    return picture;
}

/// A group: two sheets, one behind the other. A layer: a sheet seen aslant.
inline QIcon sheets(const QColor& ink, bool aslant) {
    QPixmap picture(14, 14);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing, aslant);
    painter.setPen(ink);
    if (aslant) {
        painter.drawPolygon(QPolygonF({{1, 9}, {5, 4}, {13, 4}, {9, 9}}));
    } else {
        painter.drawRect(1, 4, 8, 8);
        painter.drawPolyline(QPolygonF({{4, 1}, {12, 1}, {12, 9}}));
    }
    return picture;
}

} // namespace kervo::app
