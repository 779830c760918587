// The open sketch as ink: its curves and points, its dimensions, what is half drawn, what an editing tool would do.
#include "app/view/ink.h"
#include "app/view/tools/sketch_tool.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::app {

void SketchTool::paint(QPainter& painter) {
    dimension_texts_.clear();
    if (!draws()) {
        return;
    }
    const auto sketch = shown().card_sketch();
    if (grid_) {
        paint_grid(painter);
    }
    paint_axes(painter);
    if (sketch) {
        QColor fill = theme().cutter;
        fill.setAlphaF(0.10F);
        for (const auto& region : sketch->regions) {
            painter.fillPath(region_path(view(), sketch->frame, region), fill);
        }
    }
    paint_curves(painter);
    paint_points(painter, sketch.get());
    if (sketch) {
        paint_dimensions(painter, sketch->solution);
    }
    paint_half_drawn(painter);
    paint_edit_preview(painter);
    paint_lens(painter);
    frame_.paint(painter, theme());
}

// Of the sketch, as axes are drawn.
void SketchTool::paint_axes(QPainter& painter) const {
    const double far = std::hypot(view().width(), view().height()) / 2 / view().pixels_per_mm();
    QColor faint = theme().quiet;
    faint.setAlphaF(0.7F);
    painter.setPen(axis_line(faint, 0.9));
    painter.drawLine(view().place_on_sketch({-far, 0}), view().place_on_sketch({far, 0}));
    painter.drawLine(view().place_on_sketch({0, -far}), view().place_on_sketch({0, far}));
}

void SketchTool::paint_curves(QPainter& painter) const {
    const sketch::Sketch& drawn = drawing_.drawn();
    for (const auto& stretch : sketch::stretches_of(drawn, true)) {
        const bool helper = drawn.curve(stretch.curve)->construction;
        const bool selected = drawing_.selected().contains(stretch.curve);
        const bool taken = static_cast<bool>(drawn.curve(stretch.curve)->source);
        const QColor color = selected ? theme().workpiece
                             : helper ? theme().quiet
                             : taken  ? theme().ink
                                      : theme().cutter;
        painter.setPen(helper ? axis_line(color, selected ? 2.2 : 1.1) : QPen(color, selected ? 3 : 2));
        painter.drawPath(path_of(view(), {stretch}));
    }
    for (const auto& outline : drawing_.figures()) {
        if (!outline.stretches.empty()) {
            const bool selected = drawing_.selected().contains(outline.stretches.front().curve);
            painter.setPen(QPen(selected ? theme().workpiece : theme().cutter, selected ? 2.4 : 1.6));
            painter.drawPath(path_of(view(), outline.stretches));
        }
    }
}

void SketchTool::paint_points(QPainter& painter, const model::SketchResult* solved) const {
    const sketch::Sketch& drawn = drawing_.drawn();
    // The control points of a spline hang together by a thin line.
    painter.setPen(QPen(theme().quiet, 0.8));
    for (const auto& curve : drawn.curves) {
        if (curve.kind == sketch::CurveKind::spline && !curve.through) {
            QPolygonF polygon;
            for (const int id : curve.points) {
                if (const auto* p = drawn.point(id)) {
                    polygon << view().place_on_sketch({p->x, p->y});
                }
            }
            if (curve.closed && !polygon.isEmpty()) {
                polygon << polygon.front();
            }
            painter.drawPolyline(polygon);
        }
    }
    // A point that can still move is open, one that is settled is filled.
    painter.setPen(QPen(theme().ink, 1.2));
    for (const auto& point : drawn.points) {
        const bool settled = solved != nullptr && !solved->solution.free.contains(point.id) && !drawing_.pulls();
        painter.setBrush(drawing_.selected().contains(point.id) ? theme().workpiece
                         : settled                              ? theme().ink
                                                                : theme().paper);
        painter.drawEllipse(view().place_on_sketch({point.x, point.y}), 3, 3);
    }
    painter.setBrush(Qt::NoBrush);
}

void SketchTool::paint_half_drawn(QPainter& painter) const {
    for (const auto& stretch : drawing_.rubber()) {
        painter.setPen(QPen(theme().ink, 1.4));
        painter.drawPath(path_of(view(), {stretch}));
        if (!stretch.free()) {
            const double value = stretch.round() ? 2 * stretch.radius : stretch.length();
            const QString text =
                (stretch.round() ? QString::fromUtf8("\u00d8") : QString()) + QString::number(value, 'f', 2);
            write(painter, view().place_on_sketch(stretch.at(stretch.round() ? 0.125 : 0.5)), text, theme().ink,
                  theme().paper, 16);
        }
    }
    for (const Snap& snap : drawing_.placed()) {
        painter.setPen(QPen(theme().ink, 1.4));
        painter.setBrush(theme().paper);
        painter.drawEllipse(view().place_on_sketch(snap.at), 3.5, 3.5);
        painter.setBrush(Qt::NoBrush);
    }
    const bool points = drawing_.tool() != DrawTool::select && drawing_.tool() != DrawTool::dimension;
    if (points && !takes() && !info_of(drawing_.tool()).changes && !drawing_.pointer().what.isEmpty()) {
        const QPointF at = view().place_on_sketch(drawing_.pointer().at);
        painter.setPen(QPen(theme().workpiece, 1.6));
        painter.drawRect(QRectF(at - QPointF(5, 5), QSizeF(10, 10)));
        painter.setFont(interface_font(11));
        const double wide = painter.fontMetrics().horizontalAdvance(drawing_.pointer().what);
        const bool room = at.x() + 10 + wide < view().width(); // else it stands to the left
        painter.drawText(at + QPointF(room ? 10 : -10 - wide, -8), drawing_.pointer().what);
    }
}

// What an editing tool would do: what goes in phantom line, what comes as a plain one, and what decides it marked.
void SketchTool::paint_edit_preview(QPainter& painter) const {
    if (!info_of(drawing_.tool()).changes) {
        return;
    }
    const sketch::Preview preview = drawing_.preview();
    for (const int cutter : preview.cut_by) {
        if (const auto* curve = drawing_.drawn().curve(cutter)) {
            const auto stretch = sketch::stretch_of(drawing_.drawn(), *curve);
            painter.setPen(QPen(theme().cutter, 4));
            painter.drawPath(path_of(view(), {stretch}));
        }
    }
    if (preview.part) {
        const QPainterPath path = path_of(view(), {*preview.part});
        painter.setPen(QPen(theme().paper, 4)); // the curve itself steps back
        painter.drawPath(path);
        painter.setPen(phantom(theme().finding, 2));
        painter.drawPath(path);
    }
    painter.setPen(QPen(theme().ink, 1.8));
    for (const auto& stretch : preview.more) {
        painter.drawPath(path_of(view(), {stretch}));
    }
}

void SketchTool::paint_dimensions(QPainter& painter, const sketch::Solution& solution) {
    const sketch::Sketch& s = solution.sketch;
    const auto place = [&](int point) -> sketch::Point2 {
        const auto* p = s.point(point);
        return p == nullptr ? sketch::Point2{} : sketch::Point2{p->x, p->y};
    };
    std::map<int, int> at_center; // several leaders from one centre fan out
    int straight = 0;             // dimension lines stand at three distances, so that they do not run into each other
    const QPointF middle = [&] {
        QPointF sum;
        for (const auto& point : s.points) {
            sum += view().place_on_sketch({point.x, point.y});
        }
        return s.points.empty() ? sum : sum / static_cast<double>(s.points.size());
    }();
    for (const auto& constraint : s.constraints) {
        const auto value = solution.dimension.find(constraint.id);
        if (value == solution.dimension.end() || !sketch::is_dimension(constraint.kind)) {
            continue;
        }
        const bool bad = std::find(solution.in_conflict.begin(), solution.in_conflict.end(), constraint.id) !=
                         solution.in_conflict.end();
        const QColor ink = bad ? theme().finding : theme().ink;
        painter.setPen(QPen(ink, 0.9));
        const auto* first = s.curve(constraint.on[0]);
        QPointF text_at;
        QString text = QString::fromStdString(
            format_quantity(value->second, constraint.kind == sketch::ConstraintKind::angle ? "deg" : "mm", 3));
        const auto& kind = constraint.kind;
        if (kind == sketch::ConstraintKind::radius || kind == sketch::ConstraintKind::diameter ||
            kind == sketch::ConstraintKind::arc_length) {
            const auto center = place(first->points[0]);
            const double radius = sketch::stretch_of(s, *first).radius;
            double angle = std::numbers::pi / 4 + 0.5 * at_center[first->points[0]]++;
            if (first->kind == sketch::CurveKind::arc) {
                const auto a = place(first->points[1]);
                angle = std::atan2(a[1] - center[1], a[0] - center[0]) + 0.12;
            }
            const QPointF on =
                view().place_on_sketch({center[0] + radius * std::cos(angle), center[1] + radius * std::sin(angle)});
            QPointF way(std::cos(angle), -std::sin(angle));
            const double length = first->kind == sketch::CurveKind::arc ? 22 + 30 * at_center[first->points[0]]++ : 34;
            if (!QRectF(view().rect()).adjusted(30, 30, -30, -30).contains(on + way * (length + 14))) {
                way = -way; // outside there is no room
            }
            const QPointF out = on + way * length;
            painter.drawLine(on, out);
            arrow(painter, on, out, 9);
            text = (kind == sketch::ConstraintKind::radius     ? "R"
                    : kind == sketch::ConstraintKind::diameter ? QString::fromUtf8("\u00d8")
                                                               : QString::fromUtf8("\u2312")) +
                   text;
            text_at = out + way * 14;
        } else if (constraint.kind == sketch::ConstraintKind::angle) {
            text_at = view().place_on_sketch(place(s.curve(constraint.on[0])->points[1])) + QPointF(16, 16);
            text += QString::fromUtf8("\u00b0");
        } else {
            sketch::Point2 a = place(constraint.on[0]);
            sketch::Point2 b = constraint.on.size() > 1 ? place(constraint.on[1]) : a;
            if (first != nullptr) {
                a = place(first->points[0]);
                b = place(first->points[1]);
            } else if (const auto* line = constraint.on.size() > 1 ? s.curve(constraint.on[1]) : nullptr) {
                sketch::Stretch stretch;
                stretch.start = place(line->points[0]);
                stretch.end = place(line->points[1]);
                b = stretch.at(sketch::nearest_parameter(stretch, a));
            }
            if (constraint.kind == sketch::ConstraintKind::horizontal_distance) {
                b[1] = a[1];
            } else if (constraint.kind == sketch::ConstraintKind::vertical_distance) {
                a[0] = b[0];
            }
            const QPointF p = view().place_on_sketch(a);
            const QPointF q = view().place_on_sketch(b);
            const double length = std::max(QLineF(p, q).length(), 1.0);
            QPointF side = QPointF(q.y() - p.y(), p.x() - q.x()) / length * (24 + 17 * (straight++ % 3));
            if (QPointF::dotProduct(side, (p + q) / 2 - middle) < 0) {
                side = -side; // outwards, where there is paper
            }
            painter.drawLine(p, p + side * 1.12);
            painter.drawLine(q, q + side * 1.12);
            painter.drawLine(p + side, q + side);
            arrow(painter, p + side, q + side, 9);
            arrow(painter, q + side, p + side, 9);
            // In the middle of its line, or as near to it as other dimensions leave room.
            for (const double share : {0.5, 0.35, 0.65, 0.2, 0.8}) {
                text_at = p + (q - p) * share + side;
                const QRectF room(text_at - QPointF(22, 11), QSizeF(44, 22));
                if (std::none_of(dimension_texts_.begin(), dimension_texts_.end(),
                                 [&](const auto& written) { return written.first.intersects(room); })) {
                    break;
                }
            }
        }
        if (constraint.measured) { // in brackets, as drawings write what only informs
            text = "(" + text + ")";
        }
        dimension_texts_.emplace_back(write(painter, text_at, text, ink, theme().paper, 17), constraint.id);
    }
}

} // namespace kervo::app
