#include "app/view/tools/dimension_tool.h"

#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/pulling.h"
#include "app/view/tools/tools.h"

#include <numbers>

namespace kervo::app {

namespace {

Vector3 reach_of(const model::PlacedDimension& dimension) {
    return Point3(dimension.end) - Point3(dimension.start);
}

// Along which a dimension is read.
Vector3 way_of(const model::PlacedDimension& dimension) {
    return dimension.way ? Vector3(*dimension.way) : reach_of(dimension).unit();
}

} // namespace

std::vector<model::PlacedDimension> DimensionTool::dimensions() const {
    const auto output = in_use() && view().sees() ? shown().card_output() : nullptr;
    return output ? output->dimensions : std::vector<model::PlacedDimension>();
}

bool DimensionTool::press(const Pointer& pointer) {
    pulled_.reset();
    pulled_from_ = pointer.at;
    for (const model::PlacedDimension& dimension : dimensions()) {
        if (pointer.button == Qt::LeftButton && QLineF(handle_of(dimension), pointer.at).length() < handle_reach) {
            pulled_ = dimension;
            return true;
        }
    }
    return false;
}

void DimensionTool::drag(const Pointer& pointer) {
    if (is_free(pulled_->field)) {
        pulled_->dial ? pull_dial(pointer) : pull_length(pointer);
    }
}

void DimensionTool::release(const Pointer& pointer, bool dragged) {
    if (dragged && pulled_->dial && is_free(pulled_->field)) {
        pull_dial(pointer);
    }
    pulled_.reset();
}

bool DimensionTool::is_free(const std::string& field) {
    const auto formula = shown().answer(field);
    if (formula && !names_read(formula->text).empty()) {
        emit view().hinted(tr("The formula \u201c%1\u201d drives this; double-click its number to type another.")
                               .arg(QString::fromStdString(formula->text)));
        return false;
    }
    return formula.has_value();
}

void DimensionTool::pull_length(const Pointer& pointer) {
    const std::string& unit = session().document().unit;
    const Point3 start(pulled_->start);
    const Vector3 way = way_of(*pulled_);
    const double length = reach_of(*pulled_).dot(way);
    const double mm = pulled(view(), pointer.at - pulled_from_, place_of(start),
                             place_of(start + way * std::max(std::fabs(length), 1.0)), way);
    const double step = round_step(view());
    const double rounded = std::round((length + mm) * pulled_->factor / step);
    const double value = (pulled_->way ? rounded : std::max(rounded, 1.0)) * step;
    session().set_field(session().card(), pulled_->field, Expression{format_quantity(value, unit) + " " + unit});
    emit view().hinted(length_text(value, unit));
}

// Round a dial in whole degrees; with Shift in steps of fifteen.
void DimensionTool::pull_dial(const Pointer& pointer) {
    const Point3 middle(pulled_->dial->middle);
    const Vector3 axis(pulled_->dial->axis);
    const Vector3 zero = Point3(pulled_->start) - middle;
    const Line3 ray = view().ray(pointer.at);
    const double slope = ray.along.dot(axis);
    if (std::fabs(slope) < 0.02) {
        emit view().hinted(tr("The dial is seen from its edge; turn the view, or type the angle."));
        return;
    }
    const Vector3 to = ray.at((middle - ray.from).dot(axis) / slope) - middle;
    const double degrees = std::atan2(axis.dot(zero.cross(to)), zero.dot(to)) * 180 / std::numbers::pi;
    const double step = pointer.holds(Qt::ShiftModifier) ? 15 : 1;
    const double value = std::round(degrees / step) * step + 0.0;
    session().set_field(session().card(), pulled_->field, Expression{format_quantity(value, "") + " deg"});
    emit view().hinted(tr("%1 deg; with Shift in steps of 15").arg(value));
}

bool DimensionTool::double_click(const Pointer& pointer) {
    for (const auto& [box, field] : texts_) {
        if (box.contains(pointer.at)) {
            type_answer(field);
            return true;
        }
    }
    return false;
}

void DimensionTool::type_answer(const std::string& field) {
    if (const auto formula = shown().answer(field)) {
        view().input().open({QString::fromStdString(field).replace('_', ' ')}, QString::fromStdString(formula->text),
                            true, [this, step = session().card(), field](const std::vector<std::string>& formulas) {
                                session().set_field(step, field, Expression{formulas.front()});
                            });
    }
}

// --- Ink ------------------------------------------------------------------------------------------------------------

void DimensionTool::paint(QPainter& painter) {
    texts_.clear();
    const auto all = dimensions();
    for (const model::PlacedDimension& dimension : all) {
        constexpr double handle = 7;
        view().labels().avoid(QRectF(handle_of(dimension) - QPointF(handle, handle), QSizeF(2 * handle, 2 * handle)));
    }
    for (const model::PlacedDimension& dimension : all) {
        dimension.dial ? paint_dial(painter, dimension) : paint_length(painter, dimension);
    }
}

// In pieces: those behind something are drawn as hidden lines are, thin and in short dashes.
void DimensionTool::paint_line(QPainter& painter, const Point3& from, const Point3& to, double width) {
    constexpr int pieces = 24;
    QColor faint = theme().ink;
    faint.setAlphaF(0.6F);
    const auto at = [&](double share) { return from + (to - from) * share; };
    const auto hidden = [&](int piece) { return view().is_hidden(at((piece + 0.5) / pieces)); };
    for (int first = 0; first < pieces;) {
        const bool behind = hidden(first);
        int last = first + 1;
        while (last < pieces && hidden(last) == behind) {
            ++last;
        }
        painter.setPen(behind ? hidden_line(faint, width * 0.8) : QPen(theme().ink, width));
        painter.drawLine(place_of(at(static_cast<double>(first) / pieces)),
                         place_of(at(static_cast<double>(last) / pieces)));
        first = last;
    }
}

void DimensionTool::paint_handle(QPainter& painter, const QPointF& at, bool hidden) {
    painter.setPen(QPen(hidden ? theme().quiet : theme().cutter, hidden ? 1.0 : 1.6));
    painter.setBrush(theme().paper);
    painter.drawEllipse(at, 4.5, 4.5);
    painter.setBrush(Qt::NoBrush);
}

// At the first of the places that is free, with a thin line from where it belongs to one that is far.
void DimensionTool::write_answer(QPainter& painter, const std::vector<QPointF>& places, const QPointF& from,
                                 const QString& text, const model::PlacedDimension& dimension, bool hidden) {
    constexpr int pixels = 17;
    const QPointF at = places[view().labels().free_place(patch_of(text, pixels), places)];
    if (QLineF(from, at).length() > 36) {
        painter.setPen(QPen(theme().quiet, 0.8));
        painter.drawLine(from, at);
    }
    texts_.emplace_back(write(painter, at, text, hidden ? theme().quiet : theme().ink, theme().paper, pixels),
                        dimension.field);
    view().labels().avoid(texts_.back().first);
}

void DimensionTool::paint_length(QPainter& painter, const model::PlacedDimension& dimension) {
    const Vector3 reach = reach_of(dimension);
    const QPointF from = place_of(dimension.start);
    const QPointF to = handle_of(dimension);
    const double length = QLineF(from, to).length();
    const bool hidden = view().is_hidden(dimension.end);
    if (length > 1) {
        paint_line(painter, dimension.start, dimension.end, 0.9);
        painter.setPen(QPen(hidden ? theme().quiet : theme().ink, 0.9));
        arrow(painter, to, from, 9);
    }
    paint_handle(painter, to, hidden);
    const double value = dimension.way ? reach.dot(Vector3(*dimension.way)) : reach.length();
    const QString text = (dimension.field == "diameter" ? QString::fromUtf8("\u00d8") : QString()) +
                         length_number(value * dimension.factor, session().document().unit);
    // On the line where there is room for it, else beyond its end, farther and farther, and to either side of that.
    const QPointF way = length > 1 ? (to - from) / length : QPointF(0.7, -0.7);
    const QPointF side(-way.y(), way.x());
    std::vector<QPointF> places;
    if (length > 90) {
        for (const double share : {0.5, 0.35, 0.65, 0.2}) {
            places.push_back(from + (to - from) * share);
        }
    }
    for (const double away : {20.0, 40.0, 62.0}) {
        for (const double aside : {0.0, 24.0, -24.0, 48.0, -48.0}) {
            places.push_back(to + way * away + side * aside);
        }
    }
    const Point3 middle = Point3(dimension.start) + reach * 0.5;
    const bool on_line = length > 90;
    write_answer(painter, places, on_line ? (from + to) / 2 : to, text, dimension,
                 on_line ? view().is_hidden(middle) : hidden);
}

// The ring that a turn goes round, thick as far as it has gone.
void DimensionTool::paint_dial(QPainter& painter, const model::PlacedDimension& dimension) {
    const Point3 middle(dimension.dial->middle);
    const Vector3 axis(dimension.dial->axis);
    const Vector3 zero = Point3(dimension.start) - middle;
    const Vector3 reached = Point3(dimension.end) - middle;
    const Vector3 side = axis.cross(zero);
    const double turn = std::atan2(reached.dot(side), reached.dot(zero));
    const auto at = [&](double angle) { return place_of(middle + zero * std::cos(angle) + side * std::sin(angle)); };
    const auto arc = [&](double until) {
        QPolygonF line;
        constexpr int pieces = 60;
        for (int i = 0; i <= pieces; ++i) {
            line << at(until * i / pieces);
        }
        return line;
    };
    QColor faint = theme().ink;
    faint.setAlphaF(0.35F);
    painter.setPen(axis_line(faint, 1.0));
    painter.drawPolyline(arc(2 * std::numbers::pi));
    painter.setPen(QPen(theme().ink, 1.4));
    painter.drawPolyline(arc(turn));
    paint_line(painter, middle, dimension.start, 1.4);
    paint_line(painter, middle, dimension.end, 1.4);
    const bool hidden = view().is_hidden(dimension.end);
    paint_handle(painter, at(turn), hidden);
    const QPointF out = at(turn) - place_of(middle);
    const double length = std::max(std::hypot(out.x(), out.y()), 1.0);
    const QString text = QString::fromStdString(format_quantity(turn * 180 / std::numbers::pi, "", 2)) + QChar(0xb0);
    std::vector<QPointF> places;
    for (const double away : {24.0, 46.0, 70.0, -24.0}) {
        places.push_back(at(turn) + out / length * away);
    }
    write_answer(painter, places, at(turn), text, dimension, hidden);
}

std::unique_ptr<ViewTool> make_dimension_tool(Viewport& view) {
    return std::make_unique<DimensionTool>(view);
}

} // namespace kervo::app
