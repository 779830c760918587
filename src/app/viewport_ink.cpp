// What is written on the drawing, over the picture: sketches, dimensions, phantom lines, the cutting plane, the scale.
// Line types after ISO 128, lettering after ISO 3098.
#include "app/viewport.h"

#include "geom/measure.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>
#include <numbers>

namespace kervo::app {

namespace {

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

// Text on paper: a patch of paper under it keeps lines from running through the letters.
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

QPainterPath path_of(const Viewport& viewport, const std::vector<sketch::Stretch>& loop) {
    QPainterPath path;
    // A fifth of a pixel, in the sketch's own measure, is smooth to the eye.
    const QLineF unit(viewport.place_on_sketch({0, 0}), viewport.place_on_sketch({1, 0}));
    const QLineF other(viewport.place_on_sketch({0, 0}), viewport.place_on_sketch({0, 1}));
    const double sag = 0.2 / std::max({unit.length(), other.length(), 1e-6});
    for (const sketch::Stretch& stretch : loop) {
        for (const sketch::Point2& p : sketch::flattened(stretch, sag)) {
            path.elementCount() == 0 ? path.moveTo(viewport.place_on_sketch(p))
                                     : path.lineTo(viewport.place_on_sketch(p));
        }
    }
    return path;
}

} // namespace

void Viewport::paint_ink(QPainter& painter) {
    if (!attached_) {
        painter.setPen(theme_.finding);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("This display offers no usable OpenGL; the model cannot be drawn."));
        return;
    }
    dimension_texts_.clear();
    answer_texts_.clear();
    if (session_.card() != 0) {
        if (draws_) {
            paint_sketch(painter);
        } else {
            paint_regions(painter);
            paint_pieces(painter);
            paint_placed_dimensions(painter);
        }
    }
    paint_cutaway(painter);
    paint_places(painter);
    paint_scale(painter);
}

void Viewport::paint_regions(QPainter& painter) {
    const auto sketch = card_sketch();
    const auto step = session_.document().step(session_.card());
    if (!sketch || !step) {
        return;
    }
    std::set<int> chosen;
    for (const auto& field : model::fields_of(step->definition)) {
        if (const auto* references = std::get_if<model::RegionReferences>(&field.value)) {
            for (const auto& reference : *references) {
                chosen.insert(sketch::find_again(reference, sketch->regions).index);
            }
        }
    }
    for (size_t i = 0; i < sketch->regions.size(); ++i) {
        QPainterPath path;
        path.setFillRule(Qt::OddEvenFill);
        for (const auto& loop : sketch->regions[i].loops) {
            path.addPath(path_of(*this, loop));
        }
        const bool taken = chosen.contains(static_cast<int>(i));
        const bool under = hovered_region_ == static_cast<int>(i);
        QColor fill = theme_.cutter;
        fill.setAlphaF(taken ? (under ? 0.34F : 0.2F) : under ? 0.16F : 0.05F);
        painter.setBrush(fill);
        painter.setPen(QPen(theme_.cutter, taken ? 2 : 1.2));
        painter.drawPath(path);
    }
    painter.setBrush(Qt::NoBrush);
}

void Viewport::paint_sketch(QPainter& painter) {
    const auto sketch = card_sketch();
    const sketch::Sketch& drawn = drawing_.drawn();
    // The axes of the sketch, as axes are drawn.
    const double far = std::hypot(width(), height()) / 2 / (viewer_.pixels_per_mm() / devicePixelRatioF());
    QColor faint = theme_.quiet;
    faint.setAlphaF(0.7F);
    painter.setPen(axis_line(faint, 0.9));
    painter.drawLine(place_on_sketch({-far, 0}), place_on_sketch({far, 0}));
    painter.drawLine(place_on_sketch({0, -far}), place_on_sketch({0, far}));
    if (sketch) {
        for (const auto& region : sketch->regions) {
            QPainterPath path;
            path.setFillRule(Qt::OddEvenFill);
            for (const auto& loop : region.loops) {
                path.addPath(path_of(*this, loop));
            }
            QColor fill = theme_.cutter;
            fill.setAlphaF(0.10F);
            painter.fillPath(path, fill);
        }
    }
    for (const auto& stretch : sketch::stretches_of(drawn, true)) {
        const bool helper = drawn.curve(stretch.curve)->construction;
        const bool selected = drawing_.selected().contains(stretch.curve);
        const QColor color = selected ? theme_.workpiece : helper ? theme_.quiet : theme_.cutter;
        painter.setPen(helper ? axis_line(color, selected ? 2.2 : 1.1) : QPen(color, selected ? 3 : 2));
        painter.drawPath(path_of(*this, {stretch}));
    }
    painter.setPen(QPen(theme_.ink, 1.2));
    // The control points of a spline hang together by a thin line.
    for (const auto& curve : drawn.curves) {
        if (curve.kind == sketch::CurveKind::spline && !curve.through) {
            QPolygonF polygon;
            for (const int id : curve.points) {
                if (const auto* p = drawn.point(id)) {
                    polygon << place_on_sketch({p->x, p->y});
                }
            }
            if (curve.closed && !polygon.isEmpty()) {
                polygon << polygon.front();
            }
            painter.setPen(QPen(theme_.quiet, 0.8));
            painter.drawPolyline(polygon);
        }
    }
    painter.setPen(QPen(theme_.ink, 1.2));
    // A point that can still move is open, one that is settled is filled.
    for (const auto& point : drawn.points) {
        const bool settled = sketch && !sketch->solution.free.contains(point.id) && !drawing_.pulls();
        painter.setBrush(drawing_.selected().contains(point.id) ? theme_.workpiece
                         : settled                              ? theme_.ink
                                                                : theme_.paper);
        painter.drawEllipse(place_on_sketch({point.x, point.y}), 3, 3);
    }
    painter.setBrush(Qt::NoBrush);
    if (sketch) {
        paint_dimensions(painter, sketch->solution);
    }
    paint_half_drawn(painter);
    paint_edit_preview(painter);
}

void Viewport::paint_half_drawn(QPainter& painter) {
    for (const auto& stretch : drawing_.rubber()) {
        painter.setPen(QPen(theme_.ink, 1.4));
        painter.drawPath(path_of(*this, {stretch}));
        if (!stretch.free()) {
            const double value = stretch.round() ? 2 * stretch.radius : stretch.length();
            const QString text =
                (stretch.round() ? QString::fromUtf8("\u00d8") : QString()) + QString::number(value, 'f', 2);
            write(painter, place_on_sketch(stretch.at(stretch.round() ? 0.125 : 0.5)), text, theme_.ink, theme_.paper,
                  16);
        }
    }
    for (const Snap& snap : drawing_.placed()) {
        painter.setPen(QPen(theme_.ink, 1.4));
        painter.setBrush(theme_.paper);
        painter.drawEllipse(place_on_sketch(snap.at), 3.5, 3.5);
        painter.setBrush(Qt::NoBrush);
    }
    const bool points = drawing_.tool() != DrawTool::select && drawing_.tool() != DrawTool::dimension;
    if (points && !info_of(drawing_.tool()).changes && !drawing_.pointer().what.isEmpty()) {
        const QPointF at = place_on_sketch(drawing_.pointer().at);
        painter.setPen(QPen(theme_.workpiece, 1.6));
        painter.drawRect(QRectF(at - QPointF(5, 5), QSizeF(10, 10)));
        painter.setFont(interface_font(11));
        painter.drawText(at + QPointF(10, -8), drawing_.pointer().what);
    }
}

// What an editing tool would do: what goes in phantom line, what comes as a plain one, and what decides it marked.
void Viewport::paint_edit_preview(QPainter& painter) {
    if (!info_of(drawing_.tool()).changes) {
        return;
    }
    const sketch::Preview preview = drawing_.preview();
    for (const int cutter : preview.cut_by) {
        if (const auto* curve = drawing_.drawn().curve(cutter)) {
            const auto stretch = sketch::stretch_of(drawing_.drawn(), *curve);
            painter.setPen(QPen(theme_.cutter, 4));
            painter.drawPath(path_of(*this, {stretch}));
        }
    }
    if (preview.part) {
        const QPainterPath path = path_of(*this, {*preview.part});
        painter.setPen(QPen(theme_.paper, 4)); // the curve itself steps back
        painter.drawPath(path);
        painter.setPen(phantom(theme_.finding, 2));
        painter.drawPath(path);
    }
    painter.setPen(QPen(theme_.ink, 1.8));
    for (const auto& stretch : preview.more) {
        painter.drawPath(path_of(*this, {stretch}));
    }
}

void Viewport::paint_dimensions(QPainter& painter, const sketch::Solution& solution) {
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
            sum += place_on_sketch({point.x, point.y});
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
        const QColor ink = bad ? theme_.finding : theme_.ink;
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
                place_on_sketch({center[0] + radius * std::cos(angle), center[1] + radius * std::sin(angle)});
            QPointF way(std::cos(angle), -std::sin(angle));
            const double length = first->kind == sketch::CurveKind::arc ? 22 + 30 * at_center[first->points[0]]++ : 34;
            if (!QRectF(rect()).adjusted(30, 30, -30, -30).contains(on + way * (length + 14))) {
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
            text_at = place_on_sketch(place(s.curve(constraint.on[0])->points[1])) + QPointF(16, 16);
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
            const QPointF p = place_on_sketch(a);
            const QPointF q = place_on_sketch(b);
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
            text_at = (p + q) / 2 + side;
        }
        if (constraint.measured) { // in brackets, as drawings write what only informs
            text = "(" + text + ")";
        }
        dimension_texts_.emplace_back(write(painter, text_at, text, ink, theme_.paper, 17), constraint.id);
    }
}

void Viewport::paint_pieces(QPainter& painter) {
    const PicturePtr picture = session_.picture();
    const model::StepReport* report = session_.pictured_report(session_.card());
    if (report == nullptr || !report->output || target_) {
        return;
    }
    const auto& pieces = report->output->pieces;
    for (size_t i = 0; i < std::min(pieces.size(), picture->pieces.size()); ++i) {
        const bool pointed = pointed_piece_ == static_cast<int>(i);
        if (pieces[i].verdict == model::Verdict::stays && !pointed) {
            continue;
        }
        const QColor color = pieces[i].verdict == model::Verdict::apart ? theme_.apart : theme_.ink;
        QColor light = color;
        light.setAlphaF(pointed ? 0.7F : 0.38F);
        painter.setPen(QPen(light, 0.9));
        if (pieces[i].verdict != model::Verdict::stays) {
            for (const auto& line : picture->pieces[i].hatch) {
                painter.drawLine(place_of(line[0]), place_of(line[1]));
            }
        }
        painter.setPen(pieces[i].verdict == model::Verdict::goes ? phantom(color, pointed ? 2.4 : 1.3)
                                                                 : QPen(color, pointed ? 2.4 : 1.6));
        for (const auto& line : picture->pieces[i].edges) {
            QPolygonF polygon;
            for (const gp_Pnt& p : line) {
                polygon << place_of(p);
            }
            painter.drawPolyline(polygon);
        }
    }
}

void Viewport::paint_placed_dimensions(QPainter& painter) {
    for (const model::PlacedDimension& dimension : placed_dimensions()) {
        const gp_Pnt start(dimension.start[0], dimension.start[1], dimension.start[2]);
        const QPointF from = place_of(start);
        const QPointF to = handle_of(dimension);
        painter.setPen(QPen(theme_.ink, 0.9));
        painter.drawLine(from, to);
        arrow(painter, to, from, 9);
        painter.setPen(QPen(theme_.cutter, 1.6));
        painter.setBrush(theme_.paper);
        painter.drawEllipse(to, 4.5, 4.5);
        painter.setBrush(Qt::NoBrush);
        const double value = start.Distance(gp_Pnt(dimension.end[0], dimension.end[1], dimension.end[2]));
        const QString text = (dimension.field == "diameter" ? QString::fromUtf8("\u00d8") : QString()) +
                             QString::fromStdString(format_quantity(value * dimension.factor, "mm", 3));
        const double length = std::max(QLineF(from, to).length(), 1.0);
        const QPointF beside = to + (to - from) / length * 20;
        answer_texts_.emplace_back(write(painter, beside, text, theme_.ink, theme_.paper, 17), dimension.field);
    }
}

void Viewport::paint_cutaway(QPainter& painter) {
    const auto handle = cutaway_handle();
    if (!handle) {
        return;
    }
    const auto cutaway = *session_.cutaway();
    Bnd_Box box = session_.picture()->bounds;
    box.Enlarge(std::sqrt(box.SquareExtent()) * 0.035);
    double c[6];
    box.Get(c[0], c[1], c[2], c[3], c[4], c[5]);
    const gp_Vec normal(cutaway.normal[0], cutaway.normal[1], cutaway.normal[2]);
    const gp_Pnt origin(cutaway.origin[0], cutaway.origin[1], cutaway.origin[2]);
    // The plane's outline on the box around everything.
    std::vector<gp_Pnt> outline;
    const auto corner = [&](int i) {
        return gp_Pnt(c[(i & 1) != 0 ? 3 : 0], c[(i & 2) != 0 ? 4 : 1], c[(i & 4) != 0 ? 5 : 2]);
    };
    for (int i = 0; i < 8; ++i) {
        for (const int bit : {1, 2, 4}) {
            if ((i & bit) == 0) {
                const gp_Pnt a = corner(i);
                const gp_Pnt b = corner(i | bit);
                const double ha = gp_Vec(origin, a).Dot(normal);
                const double hb = gp_Vec(origin, b).Dot(normal);
                if ((ha < 0) != (hb < 0)) {
                    outline.push_back(a.Translated(gp_Vec(a, b) * (ha / (ha - hb))));
                }
            }
        }
    }
    if (outline.size() < 3) {
        return;
    }
    gp_XYZ sum(0, 0, 0);
    for (const gp_Pnt& p : outline) {
        sum += p.XYZ();
    }
    const gp_Pnt middle(sum / static_cast<double>(outline.size()));
    const gp_Dir u(gp_Vec(middle, outline[0]));
    const gp_Vec v = normal.Crossed(gp_Vec(u));
    std::sort(outline.begin(), outline.end(), [&](const gp_Pnt& a, const gp_Pnt& b) {
        const gp_Vec da(middle, a);
        const gp_Vec db(middle, b);
        return std::atan2(da.Dot(v), da.Dot(gp_Vec(u))) < std::atan2(db.Dot(v), db.Dot(gp_Vec(u)));
    });
    QPolygonF polygon;
    for (const gp_Pnt& p : outline) {
        polygon << place_of(p);
    }
    QColor line = theme_.ink;
    line.setAlphaF(0.55F);
    painter.setPen(axis_line(line, 1.0));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolygon(polygon);
    // Arrows and letters at its two far ends: they look the way one looks at the section.
    const QPointF looking = handle->first - handle->second;
    const double size = std::max(std::hypot(looking.x(), looking.y()), 1.0);
    const auto [left, right] = std::minmax_element(polygon.begin(), polygon.end(),
                                                   [](const QPointF& a, const QPointF& b) { return a.x() < b.x(); });
    for (const QPointF& end : {*left, *right}) {
        const QPointF tail = end - looking / size * 26;
        painter.setPen(QPen(theme_.ink, 2.4));
        painter.drawLine(tail, end);
        arrow(painter, end, tail, 12);
        painter.setPen(theme_.ink);
        painter.setFont(drawing_font(22));
        const QPointF at = tail - looking / size * 12;
        painter.drawText(QRectF(at - QPointF(12, 14), QSizeF(24, 28)), Qt::AlignCenter,
                         QString::fromStdString(cutaway.letter));
    }
    // The handle: pull it to move the plane.
    painter.setPen(QPen(theme_.ink, 1.4));
    painter.drawLine(handle->first, handle->second);
    painter.setBrush(drags_cutaway_ ? theme_.ink : theme_.paper);
    painter.drawEllipse(handle->second, 6, 6);
    painter.setBrush(Qt::NoBrush);
}

void Viewport::paint_places(QPainter& painter) {
    painter.setPen(QPen(theme_.finding, 2));
    auto all = places_;
    all.insert(all.end(), marked_.begin(), marked_.end());
    for (const auto& place : all) {
        const QPointF at = place_of({place[0], place[1], place[2]});
        painter.drawEllipse(at, 9, 9);
        painter.drawLine(at - QPointF(14, 0), at - QPointF(4, 0));
        painter.drawLine(at + QPointF(4, 0), at + QPointF(14, 0));
        painter.drawLine(at - QPointF(0, 14), at - QPointF(0, 4));
        painter.drawLine(at + QPointF(0, 4), at + QPointF(0, 14));
    }
}

void Viewport::paint_scale(QPainter& painter) {
    const double pixels = viewer_.pixels_per_mm() / devicePixelRatioF();
    const double wanted = 90 / pixels;
    const double power = std::pow(10, std::floor(std::log10(wanted)));
    const double mm = wanted / power < 2 ? power : wanted / power < 5 ? 2 * power : 5 * power;
    const QPointF start(20, height() - 28);
    const QPointF end = start + QPointF(mm * pixels, 0);
    painter.setPen(QPen(theme_.ink, 1.2));
    painter.drawLine(start, end);
    for (const QPointF& tick : {start, (start + end) / 2, end}) {
        const double half = tick == start || tick == end ? 5 : 3;
        painter.drawLine(tick - QPointF(0, half), tick + QPointF(0, half));
    }
    painter.setFont(drawing_font(18));
    painter.drawText(end + QPointF(12, 6), QString::fromStdString(format_quantity(mm, "mm")) + " mm");
}

} // namespace kervo::app
