// What is written on the drawing, over the picture: regions, pieces, dimensions of a step, the cutting plane, the
// scale. Sketches have a file of their own.
#include "app/ink.h"

#include "geom/measure.h"

#include <cmath>
#include <numbers>

namespace kervo::app {

void Viewport::paint_ink(QPainter& painter) {
    if (!attached_) {
        painter.setPen(theme_.finding);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("This display offers no usable OpenGL; the model cannot be drawn."));
        return;
    }
    dimension_texts_.clear();
    answer_texts_.clear();
    blade_tags_.clear();
    if (session_.card() != 0) {
        if (draws_) {
            paint_sketch(painter);
        } else {
            paint_regions(painter);
            paint_pieces(painter);
            paint_placed_dimensions(painter);
            paint_copies(painter);
        }
    }
    paint_cutaway(painter);
    paint_blades(painter);
    paint_places(painter);
    paint_scale(painter);
    if (framing_ && dragged_) {
        paint_frame(painter);
    }
}

// Chosen regions of a sketch that is not the one whose regions are clicked.
void Viewport::paint_elsewhere(QPainter& painter, const model::SketchResult& sketch, const std::vector<int>& regions) {
    QColor fill = theme_.cutter;
    fill.setAlphaF(0.12F);
    painter.setBrush(fill);
    painter.setPen(QPen(theme_.cutter, 1.4));
    for (const int region : regions) {
        QPainterPath path;
        path.setFillRule(Qt::OddEvenFill);
        for (const auto& loop : sketch.regions[static_cast<size_t>(region)].loops) {
            path.addPath(path_of(*this, sketch.frame, loop));
        }
        painter.drawPath(path);
    }
}

void Viewport::paint_regions(QPainter& painter) {
    const auto sketch = card_sketch();
    const auto step = session_.document().step(session_.card());
    if (!sketch || !step) {
        return;
    }
    std::set<int> chosen;
    for (const auto& field : model::fields_of(step->definition)) {
        const auto* references = std::get_if<model::RegionReferences>(&field.value);
        for (const auto& reference : references != nullptr ? *references : model::RegionReferences{}) {
            const int of = reference.sketch != 0 ? reference.sketch : model::sketch_of(step->definition);
            if (of == card_sketch_step()) {
                const auto meant = sketch->meant_by(reference);
                chosen.insert(meant.begin(), meant.end());
            } else if (const auto other = session_.picture()->evaluation->sketches.find(of);
                       other != session_.picture()->evaluation->sketches.end()) {
                paint_elsewhere(painter, *other->second, other->second->meant_by(reference));
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
        const double room = path.boundingRect().width() / 12; // thousands of small ones must not become one dark field
        painter.setPen(QPen(theme_.cutter, std::clamp(room, 0.4, taken ? 2 : 1.2)));
        painter.drawPath(path);
    }
    painter.setBrush(Qt::NoBrush);
}

double Viewport::screen_size(const Bnd_Box& box) const {
    return box.IsVoid() ? 0 : QLineF(place_of(box.CornerMin()), place_of(box.CornerMax())).length();
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
        const bool small = screen_size(picture->pieces[i].box) < 24;
        if (pieces[i].verdict == model::Verdict::goes && !small) {
            for (const auto& line : picture->pieces[i].hatch) {
                painter.drawLine(place_of(line[0]), place_of(line[1]));
            }
        }
        painter.setPen(small && !pointed                           ? QPen(light, 0.6)
                       : pieces[i].verdict == model::Verdict::goes ? phantom(color, pointed ? 2.4 : 1.3)
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
        if (dimension.dial) {
            paint_dial(painter, dimension);
            continue;
        }
        const gp_Pnt start(dimension.start[0], dimension.start[1], dimension.start[2]);
        const QPointF from = place_of(start);
        const QPointF to = handle_of(dimension);
        painter.setPen(QPen(theme_.ink, 0.9));
        if (QLineF(from, to).length() > 1) {
            painter.drawLine(from, to);
            arrow(painter, to, from, 9);
        }
        painter.setPen(QPen(theme_.cutter, 1.6));
        painter.setBrush(theme_.paper);
        painter.drawEllipse(to, 4.5, 4.5);
        painter.setBrush(Qt::NoBrush);
        const gp_Vec reach(start, gp_Pnt(dimension.end[0], dimension.end[1], dimension.end[2]));
        const double value = dimension.way
                                 ? reach.Dot(gp_Vec((*dimension.way)[0], (*dimension.way)[1], (*dimension.way)[2]))
                                 : reach.Magnitude();
        const QString text = (dimension.field == "diameter" ? QString::fromUtf8("\u00d8") : QString()) +
                             QString::fromStdString(format_quantity(value * dimension.factor, "mm", 3));
        const double length = QLineF(from, to).length();
        // On the line where there is room for it, so that several which end near each other can be read.
        const QPointF way = length > 1 ? (to - from) / length : QPointF(0.7, -0.7);
        const QPointF where = length > 90 ? (from + to) / 2 : to + way * 20;
        answer_texts_.emplace_back(write(painter, where, text, theme_.ink, theme_.paper, 17), dimension.field);
    }
}

// The ring that a turn goes round, thick as far as it has gone.
void Viewport::paint_dial(QPainter& painter, const model::PlacedDimension& dimension) {
    const gp_Pnt middle(dimension.dial->middle[0], dimension.dial->middle[1], dimension.dial->middle[2]);
    const gp_Vec axis(dimension.dial->axis[0], dimension.dial->axis[1], dimension.dial->axis[2]);
    const gp_Vec zero(middle, gp_Pnt(dimension.start[0], dimension.start[1], dimension.start[2]));
    const gp_Vec reached(middle, gp_Pnt(dimension.end[0], dimension.end[1], dimension.end[2]));
    const gp_Vec side = axis.Crossed(zero);
    const double turn = std::atan2(reached.Dot(side), reached.Dot(zero));
    const auto at = [&](double angle) {
        return place_of(middle.Translated(zero * std::cos(angle) + side * std::sin(angle)));
    };
    const auto arc = [&](double until) {
        QPolygonF line;
        constexpr int pieces = 60;
        for (int i = 0; i <= pieces; ++i) {
            line << at(until * i / pieces);
        }
        return line;
    };
    QColor faint = theme_.ink;
    faint.setAlphaF(0.35F);
    painter.setPen(axis_line(faint, 1.0));
    painter.drawPolyline(arc(2 * std::numbers::pi));
    painter.setPen(QPen(theme_.ink, 1.4));
    painter.drawPolyline(arc(turn));
    painter.drawLine(place_of(middle), at(0));
    painter.drawLine(place_of(middle), at(turn));
    painter.setPen(QPen(theme_.cutter, 1.6));
    painter.setBrush(theme_.paper);
    painter.drawEllipse(at(turn), 4.5, 4.5);
    painter.setBrush(Qt::NoBrush);
    const QPointF out = at(turn) - place_of(middle);
    const double length = std::max(std::hypot(out.x(), out.y()), 1.0);
    const QString text = QString::fromStdString(format_quantity(turn * 180 / std::numbers::pi, "", 2)) + QChar(0xb0);
    answer_texts_.emplace_back(write(painter, at(turn) + out / length * 24, text, theme_.ink, theme_.paper, 17),
                               dimension.field);
}

void Viewport::paint_copies(QPainter& painter) {
    for (const model::PlacedCopy& copy : placed_copies()) {
        const QPointF at = place_of(gp_Pnt(copy.at[0], copy.at[1], copy.at[2]));
        painter.setPen(QPen(theme_.cutter, 1.4));
        painter.setBrush(copy.left_out ? QBrush(theme_.paper) : QBrush(theme_.cutter));
        painter.drawEllipse(at, 4, 4);
        painter.setBrush(Qt::NoBrush);
        if (copy.left_out) { // struck out
            painter.drawLine(at + QPointF(-6, 6), at + QPointF(6, -6));
        }
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
    const gp_Vec normal(cutaway.normal[0], cutaway.normal[1], cutaway.normal[2]);
    const gp_Pnt origin(cutaway.origin[0], cutaway.origin[1], cutaway.origin[2]);
    const QPolygonF polygon = outline_in(*this, box, origin, normal);
    if (polygon.size() < 3) {
        return;
    }
    QColor line = theme_.ink;
    line.setAlphaF(0.55F);
    painter.setPen(axis_line(line, 1.0));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolygon(polygon);
    write_letters(painter, polygon, handle->first - handle->second, QString::fromStdString(cutaway.letter), theme_.ink);
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
