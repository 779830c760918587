// Aiming in a sketch: what lies beside it to snap to, the grid, the magnifier where places crowd, frames that select.
#include "app/ink.h"
#include "model/sketch_plane.h"

#include <TopoDS_Shape.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

constexpr double least_grid_pixels = 14;
constexpr double lens_radius = 74;
constexpr double lens_power = 5;

// A sketch as it is seen from the plane of another: whole where the two are parallel, else its points alone.
Beside seen_from(const gp_Ax3& plane, const model::SketchResult& other, const QString& name) {
    Beside beside{name, {}, {}};
    const sketch::Sketch& drawn = other.solution.sketch;
    if (const auto moved = model::between_planes(other.frame, plane)) {
        for (const auto& stretch : sketch::stretches_of(drawn, true)) {
            beside.stretches.push_back(stretch.placed(*moved));
        }
    }
    for (const auto& point : drawn.points) {
        beside.points.push_back(model::on_plane(plane, model::in_space(other.frame, {point.x, point.y})));
    }
    return beside;
}

// Also what is a level or plumb line, whose own box has no area.
bool holds(const QRectF& box, const QPainterPath& path) {
    const QRectF inner = path.boundingRect();
    return box.contains(inner.topLeft()) && box.contains(inner.bottomRight());
}

// Whether a chain of straight pieces meets a rectangle.
bool meets(const QPolygonF& chain, const QRectF& box) {
    const QPolygonF border(box);
    for (int i = 0; i < chain.size(); ++i) {
        if (box.contains(chain[i])) {
            return true;
        }
        for (int side = 0; i > 0 && side + 1 < border.size(); ++side) {
            const QLineF piece(chain[i - 1], chain[i]);
            if (piece.intersects(QLineF(border[side], border[side + 1]), nullptr) == QLineF::BoundedIntersection) {
                return true;
            }
        }
    }
    return false;
}

} // namespace

std::vector<Beside> Viewport::other_sketches() const {
    std::vector<Beside> others;
    const auto own = card_sketch();
    if (!own) {
        return others;
    }
    for (const auto& step : session_.document().steps) {
        if (step->id == session_.card()) {
            break; // what comes later is not there yet
        }
        const auto found = session_.picture()->evaluation->sketches.find(step->id);
        if (found != session_.picture()->evaluation->sketches.end()) {
            others.push_back(seen_from(own->frame, *found->second, QString::fromStdString(step->name)));
        }
    }
    return others;
}

void Viewport::gather_beside(const QPointF& place) {
    const auto sketch = card_sketch();
    std::vector<Beside> beside = beside_sketches_;
    if (attached_ && sketch) {
        makeCurrent();
        const auto found = viewer_.pick(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF(),
                                        {model::ElementKind::edge, model::ElementKind::vertex});
        doneCurrent();
        const auto owner = found ? body(found->body) : nullptr;
        if (owner) {
            const auto traits = session_.picture()->evaluation->traits.find(found->body);
            Beside edge{traits == session_.picture()->evaluation->traits.end()
                            ? tr("edge")
                            : QString::fromStdString(traits->second.name),
                        {},
                        {}};
            if (found->element.ShapeType() == TopAbs_EDGE) {
                const auto taken = model::take_edges(found->body, *owner, found->element, sketch->frame);
                for (const model::Taken& each : taken ? *taken : std::vector<model::Taken>{}) {
                    edge.stretches.push_back(each.stretch);
                }
            } else {
                edge.points.push_back(model::on_plane(sketch->frame, found->point));
            }
            beside.push_back(std::move(edge));
        }
    }
    drawing_.set_beside(std::move(beside));
}

double Viewport::grid_step() const {
    return grid_ ? round_step(least_grid_pixels * devicePixelRatioF() / viewer_.pixels_per_mm()) : 0;
}

void Viewport::toggle_grid() {
    grid_ = !grid_;
    drawing_.set_grid(grid_step());
    emit drawing_changed();
    repaint_all();
}

void Viewport::paint_grid(QPainter& painter) {
    const double step = grid_step();
    std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
    for (const QPoint& corner : {rect().topLeft(), rect().topRight(), rect().bottomLeft(), rect().bottomRight()}) {
        const auto place = on_sketch(corner);
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
            QColor faint = theme_.quiet;
            faint.setAlphaF(std::fmod(i, 10) == 0 ? 0.34F : 0.16F);
            painter.setPen(QPen(faint, 0.8));
            sketch::Point2 from{};
            sketch::Point2 to{};
            from[axis] = to[axis] = i * step;
            from[other] = box[other];
            to[other] = box[other + 2];
            painter.drawLine(place_on_sketch(from), place_on_sketch(to));
        }
    }
}

void Viewport::paint_lens(QPainter& painter) {
    const auto& crowd = drawing_.crowd();
    if (crowd.size() < 2) {
        return;
    }
    const QPointF at = place_on_sketch(drawing_.pointer().at);
    QPointF middle = at + QPointF(lens_radius + 34, -lens_radius - 34);
    middle.setX(middle.x() + lens_radius + 8 > width() ? at.x() - lens_radius - 34 : middle.x());
    middle.setY(middle.y() - lens_radius - 8 < 0 ? at.y() + lens_radius + 34 : middle.y());
    QPainterPath glass;
    glass.addEllipse(middle, lens_radius, lens_radius);
    painter.save();
    painter.fillPath(glass, theme_.paper);
    painter.setClipPath(glass);
    const QTransform closer = QTransform::fromTranslate(-at.x(), -at.y()) *
                              QTransform::fromScale(lens_power, lens_power) *
                              QTransform::fromTranslate(middle.x(), middle.y());
    for (const auto& stretch : sketch::stretches_of(drawing_.drawn(), true)) {
        const bool helper = drawing_.drawn().curve(stretch.curve)->construction;
        painter.setPen(helper ? axis_line(theme_.quiet, 1.1) : QPen(theme_.cutter, 2));
        painter.drawPath(closer.map(path_of(*this, {stretch})));
    }
    for (const Snap& snap : crowd) {
        const QPointF mark = closer.map(place_on_sketch(snap.at));
        const bool chosen = sketch::distance(snap.at, drawing_.pointer().at) < sketch::joining_tolerance;
        painter.setPen(QPen(chosen ? theme_.workpiece : theme_.ink, chosen ? 2 : 1));
        painter.setBrush(chosen ? QBrush(theme_.workpiece) : QBrush(theme_.paper));
        painter.drawRect(QRectF(mark - QPointF(4, 4), QSizeF(8, 8)));
    }
    painter.restore();
    painter.setPen(QPen(theme_.quiet, 1.2));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(glass);
    painter.setFont(interface_font(10));
    painter.setPen(theme_.quiet);
    painter.drawText(QRectF(middle.x() - lens_radius, middle.y() + lens_radius + 2, 2 * lens_radius, 16),
                     Qt::AlignHCenter, tr("Tab: the next of %1").arg(crowd.size()));
}

// --- Frames ---------------------------------------------------------------------------------------------------------

QRectF Viewport::frame() const {
    return QRectF(pressed_at_, last_at_).normalized();
}

bool Viewport::frame_touches() const {
    return last_at_.x() < pressed_at_.x();
}

bool Viewport::starts_frame(Qt::KeyboardModifiers modifiers) const {
    if (target_) {
        return false;
    }
    if (draws_) {
        return drawing_.tool() == DrawTool::select && !drawing_.pulls() && (modifiers & Qt::ShiftModifier) == 0;
    }
    if ((modifiers & Qt::ControlModifier) == 0) {
        return false;
    }
    const auto step = session_.document().step(session_.card());
    return marker_ == Marker::cutter && card_sketch()       ? true
           : step && model::sets_verdicts(step->definition) ? marker_ == Marker::work
                                                            : frames_model();
}

bool Viewport::frame_takes(const std::vector<QPolygonF>& chains) const {
    const QRectF box = frame();
    const auto inside = [&](const QPolygonF& chain) {
        return std::all_of(chain.begin(), chain.end(), [&](const QPointF& p) { return box.contains(p); });
    };
    const auto touched = [&](const QPolygonF& chain) {
        const bool closed = chain.size() > 3 && chain.isClosed();
        return meets(chain, box) || (closed && chain.containsPoint(box.center(), Qt::OddEvenFill));
    };
    return !chains.empty() && (frame_touches() ? std::any_of(chains.begin(), chains.end(), touched)
                                               : std::all_of(chains.begin(), chains.end(), inside));
}

// Pieces by their edges as they are seen.
void Viewport::frame_pieces() {
    const PicturePtr picture = session_.picture();
    const model::StepReport* report = session_.pictured_report(session_.card());
    std::vector<int> found;
    for (size_t i = 0; report != nullptr && report->output && i < picture->pieces.size(); ++i) {
        if (!can_be_clicked(report->output->pieces[i])) {
            continue;
        }
        std::vector<QPolygonF> chains;
        for (const auto& edge : picture->pieces[i].edges) {
            QPolygonF chain;
            for (const gp_Pnt& p : edge) {
                chain << place_of(p);
            }
            chains.push_back(std::move(chain));
        }
        if (frame_takes(chains)) {
            found.push_back(static_cast<int>(i));
        }
    }
    if (!found.empty()) {
        emit pieces_framed(found);
    }
}

void Viewport::end_frame(Qt::KeyboardModifiers modifiers) {
    const QRectF box = frame();
    if (frames_model() && !(marker_ == Marker::cutter && card_sketch())) {
        frame_model();
        return;
    }
    if (!draws_ && marker_ == Marker::work) {
        frame_pieces();
        return;
    }
    if (!draws_) {
        std::vector<int> regions;
        const auto sketch = card_sketch();
        for (size_t i = 0; sketch && i < sketch->regions.size(); ++i) {
            QPainterPath path;
            path.setFillRule(Qt::OddEvenFill);
            for (const auto& loop : sketch->regions[i].loops) {
                path.addPath(path_of(*this, loop));
            }
            if (frame_touches() ? path.intersects(box) : holds(box, path)) {
                regions.push_back(static_cast<int>(i));
            }
        }
        if (!regions.empty()) {
            emit regions_framed(regions);
        }
        return;
    }
    std::set<int> found;
    std::set<int> outside;
    const auto look_at = [&](const sketch::Stretch& stretch) {
        const QPainterPath path = path_of(*this, {stretch});
        const auto chains = path.toSubpathPolygons();
        const bool in = frame_touches() ? std::any_of(chains.begin(), chains.end(),
                                                      [&](const QPolygonF& chain) { return meets(chain, box); })
                                        : holds(box, path);
        in ? (void)found.insert(stretch.curve) : (void)outside.insert(stretch.curve);
    };
    for (const auto& stretch : sketch::stretches_of(drawing_.drawn(), true)) {
        look_at(stretch);
    }
    for (const auto& outline : drawing_.figures()) {
        std::for_each(outline.stretches.begin(), outline.stretches.end(), look_at);
    }
    if (!frame_touches()) { // a figure is inside when all of it is
        std::erase_if(found, [&](int id) { return outside.contains(id); });
    }
    for (const auto& point : drawing_.drawn().points) { // points that belong to nothing
        const auto& curves = drawing_.drawn().curves;
        if (box.contains(place_on_sketch({point.x, point.y})) &&
            std::none_of(curves.begin(), curves.end(), [&](const auto& curve) {
                return std::find(curve.points.begin(), curve.points.end(), point.id) != curve.points.end();
            })) {
            found.insert(point.id);
        }
    }
    drawing_.select(found, (modifiers & Qt::ControlModifier) != 0);
    emit drawing_changed();
    tell_hint();
}

void Viewport::paint_frame(QPainter& painter) {
    QPen pen(theme_.ink, 1.2);
    if (frame_touches()) {
        pen.setDashPattern({5, 3});
    }
    QColor fill = theme_.workpiece;
    fill.setAlphaF(0.08F);
    painter.setPen(pen);
    painter.setBrush(fill);
    painter.drawRect(frame());
    painter.setBrush(Qt::NoBrush);
    painter.setFont(interface_font(11));
    painter.drawText(last_at_ + QPointF(12, 18), frame_touches() ? tr("what it touches") : tr("what is inside"));
}

} // namespace kervo::app
