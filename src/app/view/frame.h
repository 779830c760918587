// A frame that is dragged over the drawing. To the right it takes what lies inside of it, to the left what it touches.
#pragma once

#include "app/look/theme.h"

#include <QPainterPath>
#include <QPolygonF>

#include <vector>

class QPainter;

namespace kervo::app {

class Frame {
public:
    void begin(const QPointF& at) { from_ = to_ = at; }
    /// As long as it is not drawn out, it is not there.
    void draw_to(const QPointF& at) {
        to_ = at;
        open_ = true;
    }
    void end() { open_ = false; }

    [[nodiscard]] QRectF box() const { return QRectF(from_, to_).normalized(); }
    [[nodiscard]] bool touches() const { return to_.x() < from_.x(); }
    /// Whether it takes what is seen as these lines, some of which may be closed.
    [[nodiscard]] bool takes(const std::vector<QPolygonF>& chains) const;
    /// Whether it takes what is drawn by an outline; `filled`: with what it encloses.
    [[nodiscard]] bool takes(const QPainterPath& path, bool filled) const;
    /// What it would take, in words.
    [[nodiscard]] QString hint() const;
    void paint(QPainter& painter, const Theme& theme) const;

private:
    QPointF from_, to_;
    bool open_ = false;
};

} // namespace kervo::app
