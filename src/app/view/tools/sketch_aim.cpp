// Aiming in a sketch: what lies beside it to snap to, the grid, the magnifier where places crowd.
#include "app/view/ink.h"
#include "app/view/tools/sketch_tool.h"
#include "model/sketching/sketch_plane.h"

#include <cmath>

namespace kervo::app {

namespace {

constexpr double least_grid_pixels = 14;
constexpr double lens_radius = 74;
constexpr double lens_power = 5;

// A sketch as it is seen from the plane of another: whole where the two are parallel, else its points alone.
Beside seen_from(const model::SketchResult& own, const model::SketchResult& other, const QString& name) {
    Beside beside{name, {}, {}};
    const sketch::Sketch& drawn = other.solution.sketch;
    if (const auto moved = model::between_planes(other.frame, own.frame)) {
        for (const auto& stretch : sketch::stretches_of(drawn, true)) {
            beside.stretches.push_back(stretch.placed(*moved));
        }
    }
    for (const auto& point : drawn.points) {
        beside.points.push_back(own.plane().seen(other.plane().at({point.x, point.y})));
    }
    return beside;
}

} // namespace

std::vector<Beside> SketchTool::other_sketches() const {
    std::vector<Beside> others;
    const auto own = shown().card_sketch();
    if (!own) {
        return others;
    }
    for (const auto& step : session().document().steps) {
        if (step->id == session().card()) {
            break; // what comes later is not there yet
        }
        const auto found = session().picture()->evaluation->sketches.find(step->id);
        if (found != session().picture()->evaluation->sketches.end()) {
            others.push_back(seen_from(*own, *found->second, QString::fromStdString(step->name)));
        }
    }
    return others;
}

std::vector<Beside> SketchTool::beside_at(const QPointF& at) {
    const auto sketch = shown().card_sketch();
    std::vector<Beside> beside = beside_sketches_;
    const auto found = sketch ? view().pick(at, {model::ElementKind::edge, model::ElementKind::vertex}) : std::nullopt;
    if (!found || found->element.kind != model::ElementKind::edge) {
        seen_edge_ = {};
    }
    if (!found) {
        return beside;
    }
    const auto* traits = shown().traits_of(found->body);
    Beside edge{traits == nullptr ? tr("edge") : QString::fromStdString(traits->name), {}, {}};
    if (found->element.kind == model::ElementKind::edge) {
        edge.stretches = seen_in_plane(*found);
    } else {
        edge.points.push_back(sketch->plane().seen(found->point));
    }
    beside.push_back(std::move(edge));
    return beside;
}

std::vector<sketch::Stretch> SketchTool::seen_in_plane(const scene::Picked& edge) {
    const TakeQuestion question{hand().drawn_step(), edge.body, edge.element, TakeQuestion::What::edges};
    const PicturePtr picture = session().picture();
    if (seen_edge_.question == question && seen_edge_.picture.lock() == picture) {
        return seen_edge_.stretches;
    }
    seen_edge_ = {question, picture, {}, false};
    session().ask(question, this, [this, question](const TakeAnswer& taken) {
        if (seen_edge_.question != question) {
            return;
        }
        seen_edge_.answered = true;
        for (const model::Taken& each : taken ? *taken : std::vector<model::Taken>{}) {
            seen_edge_.stretches.push_back(each.stretch);
        }
        const auto clicked = std::exchange(click_, std::nullopt);
        if (draws()) {
            hover(clicked ? *clicked : pointer_);
            if (clicked) {
                click(*clicked);
            }
        }
    });
    return {};
}

double SketchTool::grid_step() const {
    return grid_ ? round_step(least_grid_pixels / view().pixels_per_mm()) : 0;
}

void SketchTool::paint_grid(QPainter& painter) const {
    const double step = grid_step();
    std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
    const QRect sheet = view().rect();
    for (const QPoint& corner : {sheet.topLeft(), sheet.topRight(), sheet.bottomLeft(), sheet.bottomRight()}) {
        const auto place = view().on_sketch(corner);
        if (!place) {
            return; // seen from its edge
        }
        for (size_t i = 0; i < 2; ++i) {
            box[i] = std::min(box[i], (*place)[i]);
            box[i + 2] = std::max(box[i + 2], (*place)[i]);
        }
    }
    constexpr double most_lines = 400; // seen aslant they would run together
    if (step <= 0 || (box[2] - box[0] + box[3] - box[1]) / step > most_lines) {
        return;
    }
    for (size_t axis = 0; axis < 2; ++axis) {
        const size_t other = 1 - axis;
        for (double i = std::ceil(box[axis] / step); i * step <= box[axis + 2]; ++i) {
            QColor faint = theme().quiet;
            faint.setAlphaF(std::fmod(i, 10) == 0 ? 0.34F : 0.16F);
            painter.setPen(QPen(faint, 0.8));
            sketch::Point2 from{};
            sketch::Point2 to{};
            from[axis] = to[axis] = i * step;
            from[other] = box[other];
            to[other] = box[other + 2];
            painter.drawLine(view().place_on_sketch(from), view().place_on_sketch(to));
        }
    }
}

void SketchTool::paint_lens(QPainter& painter) const {
    const auto& crowd = drawing_.crowd();
    if (crowd.size() < 2) {
        return;
    }
    const QPointF at = view().place_on_sketch(drawing_.pointer().at);
    QPointF middle = at + QPointF(lens_radius + 34, -lens_radius - 34);
    middle.setX(middle.x() + lens_radius + 8 > view().width() ? at.x() - lens_radius - 34 : middle.x());
    middle.setY(middle.y() - lens_radius - 8 < 0 ? at.y() + lens_radius + 34 : middle.y());
    QPainterPath glass;
    glass.addEllipse(middle, lens_radius, lens_radius);
    painter.save();
    painter.fillPath(glass, theme().paper);
    painter.setClipPath(glass);
    const QTransform closer = QTransform::fromTranslate(-at.x(), -at.y()) *
                              QTransform::fromScale(lens_power, lens_power) *
                              QTransform::fromTranslate(middle.x(), middle.y());
    for (const auto& stretch : sketch::stretches_of(drawing_.drawn(), true)) {
        const bool helper = drawing_.drawn().curve(stretch.curve)->construction;
        painter.setPen(helper ? axis_line(theme().quiet, 1.1) : QPen(theme().cutter, 2));
        painter.drawPath(closer.map(path_of(view(), {stretch})));
    }
    for (const Snap& snap : crowd) {
        const QPointF mark = closer.map(view().place_on_sketch(snap.at));
        const bool chosen = sketch::distance(snap.at, drawing_.pointer().at) < sketch::joining_tolerance;
        painter.setPen(QPen(chosen ? theme().workpiece : theme().ink, chosen ? 2 : 1));
        painter.setBrush(chosen ? QBrush(theme().workpiece) : QBrush(theme().paper));
        painter.drawRect(QRectF(mark - QPointF(4, 4), QSizeF(8, 8)));
    }
    painter.restore();
    painter.setPen(QPen(theme().quiet, 1.2));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(glass);
    painter.setFont(interface_font(10));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(middle.x() - lens_radius, middle.y() + lens_radius + 2, 2 * lens_radius, 16),
                     Qt::AlignHCenter, tr("Tab: the next of %1").arg(crowd.size()));
}

} // namespace kervo::app
