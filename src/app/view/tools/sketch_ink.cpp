// The open sketch as ink: its curves and points, its dimensions, what is half drawn, what an editing tool would do.
#include "app/look/counted.h"
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
            painter.fillPath(region_path(view(), sketch->plane(), region), fill);
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
            const QString text = (stretch.round() ? QString::fromUtf8("\u00d8") : QString()) +
                                 length_number(value, session().document().unit);
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

// --- Dimensions -----------------------------------------------------------------------------------------------------

namespace {

using sketch::ConstraintKind;

// A way in which a dimension may be drawn: its lines, and where its number stands.
struct Drawn {
    std::vector<QLineF> lines;
    std::vector<QLineF> arrows; ///< from their tips
    QPointF text_at;
};

sketch::Point2 place_in(const sketch::Sketch& s, int point) {
    const auto* p = s.point(point);
    return p == nullptr ? sketch::Point2{} : sketch::Point2{p->x, p->y};
}

// A leader from the curve outwards, or inwards where outside is no paper; longer, and elsewhere on the curve, where
// others are in the way.
std::vector<Drawn> drawn_radially(const Viewport& view, const sketch::Sketch& s, const sketch::Curve& curve) {
    const QPointF center = view.place_on_sketch(place_in(s, curve.points[0]));
    const sketch::Stretch stretch = sketch::stretch_of(s, curve);
    const std::vector<double> shares = curve.kind == sketch::CurveKind::arc
                                           ? std::vector{0.12, 0.3, 0.5, 0.7, 0.88}
                                           : std::vector{0.125, 0.2, 0.28, 0.36, 0.05, 0.95, 0.6, 0.85};
    std::vector<Drawn> ways;
    for (const double length : {30.0, 54.0, 78.0}) {
        for (const double share : shares) {
            const QPointF on = view.place_on_sketch(stretch.at(share));
            QPointF way = on - center;
            way /= std::max(std::hypot(way.x(), way.y()), 1e-9);
            if (!QRectF(view.rect()).adjusted(30, 30, -30, -30).contains(on + way * (length + 14))) {
                way = -way;
            }
            const QPointF out = on + way * length;
            ways.push_back({{QLineF(on, out)}, {QLineF(on, out)}, out + way * 14});
        }
    }
    return ways;
}

std::vector<Drawn> drawn_at_corner(const Viewport& view, const sketch::Sketch& s, const sketch::Curve& line) {
    const QPointF corner = view.place_on_sketch(place_in(s, line.points[1]));
    std::vector<Drawn> ways;
    for (const double away : {22.0, 40.0, 60.0}) {
        for (const QPointF& to : {QPointF(1, 1), QPointF(-1, 1), QPointF(1, -1), QPointF(-1, -1)}) {
            ways.push_back({{}, {}, corner + to * away / std::numbers::sqrt2});
        }
    }
    return ways;
}

// The two places between which it is measured.
std::pair<sketch::Point2, sketch::Point2> ends_of(const sketch::Sketch& s, const sketch::Constraint& constraint) {
    const auto* first = s.curve(constraint.on[0]);
    sketch::Point2 a = place_in(s, constraint.on[0]);
    sketch::Point2 b = constraint.on.size() > 1 ? place_in(s, constraint.on[1]) : a;
    if (first != nullptr) {
        a = place_in(s, first->points[0]);
        b = place_in(s, first->points[1]);
    } else if (const auto* line = constraint.on.size() > 1 ? s.curve(constraint.on[1]) : nullptr) {
        sketch::Stretch stretch;
        stretch.start = place_in(s, line->points[0]);
        stretch.end = place_in(s, line->points[1]);
        b = stretch.at(sketch::nearest_parameter(stretch, a));
    }
    if (constraint.kind == ConstraintKind::horizontal_distance) {
        b[1] = a[1];
    } else if (constraint.kind == ConstraintKind::vertical_distance) {
        a[0] = b[0];
    }
    return {a, b};
}

// A dimension line beside what it measures, away from the middle of the drawing, where there is paper; farther away,
// and its number off its middle, where others are in the way.
std::vector<Drawn> drawn_straight(const Viewport& view, const sketch::Sketch& s, const sketch::Constraint& constraint,
                                  const QPointF& middle) {
    const auto [a, b] = ends_of(s, constraint);
    const QPointF p = view.place_on_sketch(a);
    const QPointF q = view.place_on_sketch(b);
    QPointF side = QPointF(q.y() - p.y(), p.x() - q.x()) / std::max(QLineF(p, q).length(), 1.0);
    if (QPointF::dotProduct(side, (p + q) / 2 - middle) < 0) {
        side = -side;
    }
    std::vector<Drawn> ways;
    for (const double away : {24.0, 41.0, 58.0, 75.0, 92.0}) {
        const QPointF off = side * away;
        for (const double share : {0.5, 0.35, 0.65, 0.2, 0.8}) {
            ways.push_back({{QLineF(p, p + off * 1.12), QLineF(q, q + off * 1.12), QLineF(p + off, q + off)},
                            {QLineF(p + off, q + off), QLineF(q + off, p + off)},
                            p + (q - p) * share + off});
        }
    }
    return ways;
}

// Whether one dimension line would be drawn along another.
bool runs_along(const QLineF& one, const QLineF& other) {
    constexpr double near = 5; // px
    const double length = std::max(one.length(), 1.0);
    const QPointF way = (one.p2() - one.p1()) / length;
    const auto aside = [&](const QPointF& p) {
        const QPointF off = p - one.p1();
        return std::fabs(off.x() * way.y() - off.y() * way.x());
    };
    const auto along = [&](const QPointF& p) { return QPointF::dotProduct(p - one.p1(), way); };
    const auto [first, last] = std::minmax(along(other.p1()), along(other.p2()));
    return aside(other.p1()) < near && aside(other.p2()) < near && first < length - near && last > near;
}

QString text_of(const sketch::Constraint& constraint, double value, const std::string& unit) {
    const bool angle = constraint.kind == ConstraintKind::angle;
    const QString number =
        angle ? QString::fromStdString(format_quantity(value, "deg", 3)) : length_number(value, unit);
    const QString text = constraint.kind == ConstraintKind::radius       ? "R" + number
                         : constraint.kind == ConstraintKind::diameter   ? QChar(0xd8) + number
                         : constraint.kind == ConstraintKind::arc_length ? QChar(0x2312) + number
                         : angle                                         ? number + QChar(0xb0)
                                                                         : number;
    return constraint.measured ? "(" + text + ")" : text; // in brackets, as drawings write what only informs
}

} // namespace

void SketchTool::paint_dimensions(QPainter& painter, const sketch::Solution& solution) {
    const sketch::Sketch& s = solution.sketch;
    QPointF middle;
    for (const auto& point : s.points) {
        const QPointF at = view().place_on_sketch({point.x, point.y});
        middle += at / static_cast<double>(s.points.size());
        view().labels().avoid(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
    }
    for (const auto& stretch : sketch::stretches_of(s, true)) {
        for (const QPolygonF& line : path_of(view(), {stretch}).toSubpathPolygons()) {
            view().labels().avoid(line);
        }
    }
    std::vector<QLineF> drawn; // dimension lines
    for (const auto& constraint : s.constraints) {
        const auto value = solution.dimension.find(constraint.id);
        if (value == solution.dimension.end() || !sketch::is_dimension(constraint.kind)) {
            continue;
        }
        const bool round = constraint.kind == ConstraintKind::radius || constraint.kind == ConstraintKind::diameter ||
                           constraint.kind == ConstraintKind::arc_length;
        const auto* first = s.curve(constraint.on[0]);
        auto ways = round                                      ? drawn_radially(view(), s, *first)
                    : constraint.kind == ConstraintKind::angle ? drawn_at_corner(view(), s, *first)
                                                               : drawn_straight(view(), s, constraint, middle);
        const auto in_the_way = [&](const Drawn& way) {
            return !way.lines.empty() && std::any_of(drawn.begin(), drawn.end(), [&](const QLineF& other) {
                return runs_along(way.lines.back(), other);
            });
        };
        if (!std::all_of(ways.begin(), ways.end(), in_the_way)) {
            std::erase_if(ways, in_the_way);
        }
        constexpr int pixels = 17;
        const QString text = text_of(constraint, value->second, session().document().unit);
        std::vector<QPointF> places;
        for (const Drawn& way : ways) {
            places.push_back(way.text_at);
        }
        const Drawn& chosen = ways[view().labels().free_place(patch_of(text, pixels), places)];
        const auto& conflict = solution.in_conflict;
        const bool bad = std::find(conflict.begin(), conflict.end(), constraint.id) != conflict.end();
        const QColor ink = bad ? theme().finding : theme().ink;
        painter.setPen(QPen(ink, 0.9));
        painter.drawLines(QList<QLineF>(chosen.lines.begin(), chosen.lines.end()));
        for (const QLineF& each : chosen.arrows) {
            arrow(painter, each.p1(), each.p2(), 9);
        }
        if (!chosen.lines.empty()) {
            drawn.push_back(chosen.lines.back());
        }
        dimension_texts_.emplace_back(write(painter, chosen.text_at, text, ink, theme().paper, pixels), constraint.id);
        view().labels().avoid(dimension_texts_.back().first);
    }
}

} // namespace kervo::app
