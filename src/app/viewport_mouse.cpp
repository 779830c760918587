// Mouse and keyboard over the model: looking around, pointing, clicking, pulling handles.
#include "app/viewport.h"

#include "geom/measure.h"
#include "geom/pick.h"

#include <QGuiApplication>
#include <QKeyEvent>
#include <QMouseEvent>

#include <cmath>

namespace kervo::app {

namespace {

constexpr double click_slack = 4;   // pixels a click may wander
constexpr double handle_reach = 12; // pixels around a handle in which it is taken

} // namespace

void Viewport::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    pressed_at_ = last_at_ = event->position();
    pressed_ = event->button();
    dragged_ = false;
    drags_cutaway_ = false;
    framing_ = false;
    pulled_dimension_.reset();
    if (event->button() != Qt::LeftButton) {
        return;
    }
    if (draws_) {
        const auto on_plane = on_sketch(event->position());
        if (on_plane && !target_) {
            drawing_.take_point(*on_plane, reach());
        }
        framing_ = starts_frame(event->modifiers());
        return;
    }
    if (starts_frame(event->modifiers())) {
        framing_ = true;
        return;
    }
    for (const model::PlacedDimension& dimension : placed_dimensions()) {
        if (QLineF(handle_of(dimension), event->position()).length() < handle_reach) {
            pulled_dimension_ = dimension;
            return;
        }
    }
    if (const auto handle = cutaway_handle();
        handle && QLineF(handle->second, event->position()).length() < handle_reach) {
        drags_cutaway_ = true;
        cutaway_start_ = *session_.cutaway();
    }
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    const QPointF move = event->position() - last_at_;
    if (pressed_ == Qt::NoButton) {
        hover_at(event->position());
        return;
    }
    if (!dragged_ && QLineF(event->position(), pressed_at_).length() < click_slack) {
        return;
    }
    dragged_ = true;
    last_at_ = event->position();
    if (drawing_.pulls() && draws_) {
        if (const auto on_plane = on_sketch(event->position())) {
            drawing_.pull_point(*on_plane, parameters());
            emit hinted(tr("x %1  y %2 mm").arg((*on_plane)[0], 0, 'f', 2).arg((*on_plane)[1], 0, 'f', 2));
        }
    } else if (framing_) {
        emit hinted(frame_touches() ? tr("To the left: what the frame touches")
                                    : tr("To the right: what lies inside the frame"));
    } else if (pulled_dimension_) {
        pulled_dimension_->dial ? pull_dial(event->position(), event->modifiers())
                                : pull_dimension(event->position() - pressed_at_);
    } else if (drags_cutaway_) {
        pull_cutaway(event->position() - pressed_at_);
    } else if (pressed_ == Qt::MiddleButton || (event->modifiers() & Qt::ShiftModifier) != 0) {
        view_chosen_ = true;
        viewer_.pan(move.x() * devicePixelRatioF(), move.y() * devicePixelRatioF());
    } else if (!(draws_ && pressed_ == Qt::LeftButton)) {
        viewer_.turn(-move.x() * 0.008, move.y() * 0.008);
    }
    repaint_all();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    const Qt::MouseButton button = pressed_;
    pressed_ = Qt::NoButton;
    update();
    if (pulled_dimension_ && dragged_) {
        if (pulled_dimension_->dial) {
            pull_dial(event->position(), event->modifiers());
        }
        pulled_dimension_.reset();
        return;
    }
    if (drawing_.pulls() && draws_ && dragged_) {
        drawing_.let_go();
        tell_hint();
        return;
    }
    drawing_.drop_point();
    if (framing_ && dragged_) {
        framing_ = false;
        end_frame(event->modifiers());
        repaint_all();
        return;
    }
    framing_ = false;
    if (drags_cutaway_) {
        drags_cutaway_ = false;
        if (dragged_ && session_.cutaway()) {
            session_.set_cutaway(*session_.cutaway());
        }
        return;
    }
    if (!dragged_ && button == Qt::LeftButton) {
        click_at(event->position(), event->modifiers());
    }
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    if (draws_ && drawing_.finish()) { // the first of the two clicks has placed the last point
        tell_hint();
        repaint_all();
        return;
    }
    for (const auto& [box, constraint] : dimension_texts_) {
        if (draws_ && box.contains(event->position())) {
            edit_dimension(constraint);
            return;
        }
    }
    for (const auto& [box, field] : answer_texts_) {
        if (box.contains(event->position())) {
            edit_answer(field);
            return;
        }
    }
    mousePressEvent(event);
}

void Viewport::wheelEvent(QWheelEvent* event) {
    if (!attached_) {
        return;
    }
    view_chosen_ = true;
    // A touch pad sends pixels: two fingers pan, with Ctrl (a pinch) they zoom. A wheel zooms.
    if (!event->pixelDelta().isNull() && (event->modifiers() & Qt::ControlModifier) == 0 &&
        event->source() == Qt::MouseEventSynthesizedBySystem) {
        viewer_.pan(event->pixelDelta().x(), event->pixelDelta().y());
    } else {
        viewer_.zoom(std::pow(1.0015, event->angleDelta().y()), event->position().x() * devicePixelRatioF(),
                     event->position().y() * devicePixelRatioF());
    }
    repaint_all();
}

void Viewport::keyPressEvent(QKeyEvent* event) {
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    const auto arrow = [&](double x, double y) {
        shift ? viewer_.pan(-x * 40, -y * 40) : viewer_.turn(x * 0.1, -y * 0.1);
        repaint_all();
    };
    const QString text = event->text();
    const bool typed =
        !text.isEmpty() && (text[0].isLetterOrNumber() || text[0] == '.' || text[0] == '(' || text[0] == '-');
    if (attached_ && event->key() == Qt::Key_Left) {
        arrow(-1, 0);
    } else if (attached_ && event->key() == Qt::Key_Right) {
        arrow(1, 0);
    } else if (attached_ && event->key() == Qt::Key_Up) {
        arrow(0, -1);
    } else if (attached_ && event->key() == Qt::Key_Down) {
        arrow(0, 1);
    } else if (attached_ && (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) &&
               drawing_.asks_for().empty() && drawing_.asks_for_place().empty()) { // else it is a sign
        viewer_.zoom(event->key() == Qt::Key_Plus ? 1.25 : 0.8, width() / 2.0, height() / 2.0);
        repaint_all();
    } else if (draws_ && typed &&
               (!drawing_.asks_for().empty() || (!text[0].isLetter() && !drawing_.asks_for_place().empty()))) {
        ask_for_numbers(text);
    } else if (draws_ && typed && drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection()) {
        const auto kind = drawing_.dimension_of_selection()->first;
        open_input({tr("dimension")}, mapFromGlobal(QCursor::pos()), text,
                   [this, kind](const std::vector<std::string>& formulas) {
                       drawing_.constrain(kind, formulas.front());
                       tell_hint();
                       repaint_all();
                   });
    } else if (draws_ && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && drawing_.finish()) {
        tell_hint();
        repaint_all();
    } else if (draws_ && (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && remove_selected()) {
        repaint_all();
    } else if (draws_ && event->key() == Qt::Key_Backspace && drawing_.refuse_tie()) {
        tell_pointer();
        repaint_all();
    } else {
        QOpenGLWidget::keyPressEvent(event);
    }
}

bool Viewport::event(QEvent* event) {
    // Tab goes on among places that crowd; else from field to field, as everywhere.
    if (event->type() == QEvent::KeyPress && draws_ && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Tab &&
        drawing_.next_of_crowd()) {
        tell_pointer();
        repaint_all();
        return true;
    }
    // Letters that are typed into a drawing are values, not shortcuts.
    if (event->type() == QEvent::ShortcutOverride && draws_) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Delete) { // of what is drawn
            event->accept();
            return true;
        }
        const bool plain = (key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0 &&
                           !key->text().isEmpty() && key->text()[0].isPrint() && key->key() != Qt::Key_Space;
        const bool asks = !drawing_.asks_for().empty() ||
                          (drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection());
        if (plain && asks) {
            event->accept();
            return true;
        }
    }
    return QOpenGLWidget::event(event);
}

void Viewport::hover_drawing(const std::optional<sketch::Point2>& on_plane) {
    drawing_.keep_straight(QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier));
    if (on_plane) {
        drawing_.set_grid(grid_step());
        drawing_.hover(*on_plane, reach());
        tell_pointer();
    }
    ink_->update();
}

void Viewport::tell_pointer() {
    const auto& pointer = drawing_.pointer();
    emit hovered(drawing_.tool() == DrawTool::select ? QString() : pointer.what,
                 tr("x %1  y %2 mm").arg(pointer.at[0], 0, 'f', 3).arg(pointer.at[1], 0, 'f', 3));
}

int Viewport::region_at(const std::optional<sketch::Point2>& on_plane) const {
    const auto sketch = card_sketch();
    int region = -1;
    if (sketch && on_plane && !target_ && marker_ == Marker::cutter) {
        for (size_t i = 0; i < sketch->regions.size(); ++i) {
            region = sketch->regions[i].contains(*on_plane) ? static_cast<int>(i) : region;
        }
    }
    return region;
}

int Viewport::piece_at(const QPointF& place) const {
    const PicturePtr picture = session_.picture();
    const model::StepReport* report = session_.pictured_report(session_.card());
    if (report == nullptr || !report->output || target_ || marker_ != Marker::work || !attached_) {
        return -1;
    }
    const gp_Lin ray = viewer_.ray(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF());
    int nearest = -1;
    double depth = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i < picture->pieces.size(); ++i) {
        const model::Piece& piece = report->output->pieces[i];
        if (!can_be_clicked(piece) || picture->pieces[i].box.IsOut(ray)) {
            continue;
        }
        const auto hits = geom::hits_along(piece.shape, ray);
        if (!hits.empty() && hits.front().at < depth) {
            depth = hits.front().at;
            nearest = static_cast<int>(i);
        }
    }
    // A body that has no part in the cut hides what lies behind it.
    if (nearest >= 0 && hovered_ && !is_ghost(hovered_->body) && model::maker_of(hovered_->body) != session_.card()) {
        const auto& pieces = report->output->pieces;
        const bool other = std::none_of(pieces.begin(), pieces.end(), [&](const model::Piece& piece) {
            return piece.identity.workpiece == hovered_->body;
        });
        if (other && gp_Vec(ray.Location(), hovered_->point).Dot(gp_Vec(ray.Direction())) < depth) {
            return -1;
        }
    }
    return nearest;
}

// A body less its plugs is clicked as a body.
bool Viewport::can_be_clicked(const model::Piece& piece) const {
    return piece.by_sides || !piece.identity.inside.empty();
}

void Viewport::hover_at(const QPointF& place) {
    last_at_ = place;
    const auto on_plane = on_sketch(place);
    if (draws_ && !target_ && !takes()) {
        gather_beside(place);
        hover_drawing(on_plane);
        return;
    }
    if (const int region = region_at(on_plane); region != hovered_region_) {
        hovered_region_ = region;
        ink_->update();
    }
    if (!attached_) {
        return;
    }
    using Kind = model::ElementKind;
    std::set<Kind> accepted = target_ ? target_->accepts : kinds_of_level();
    if (takes()) {
        accepted = drawing_.tool() == DrawTool::take_edges ? std::set<Kind>{Kind::face, Kind::edge}
                                                           : std::set<Kind>{Kind::face};
    }
    makeCurrent();
    const auto found = viewer_.pick(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF(), accepted);
    const bool same = found.has_value() == hovered_.has_value() && (!found || found->element.IsSame(hovered_->element));
    hovered_ = found;
    if (!same) {
        show_highlights();
        update();
    }
    doneCurrent();
    if (const int piece = piece_at(place); piece != hovered_piece_) {
        hovered_piece_ = piece;
        point_out_piece(piece);
        emit piece_hovered(piece);
    }
    if (found) {
        name_hovered(*found);
    } else {
        emit hovered({}, {});
    }
}

void Viewport::point_at(const sketch::Point2& place) {
    hover_at(place_on_sketch(place));
}

void Viewport::name_hovered(const scene::Picked& found) {
    const auto traits = session_.picture()->evaluation->traits.find(found.body);
    QString text = traits == session_.picture()->evaluation->traits.end() ? QString()
                                                                          : QString::fromStdString(traits->second.name);
    const model::BodyPtr owner = body(found.body);
    if (owner && found.element.ShapeType() == TopAbs_FACE) {
        if (const auto* name = owner->names.Seek(found.element)) {
            text += QString(" \u00b7 %1 \u00b7 %2")
                        .arg(QString::fromStdString(model::describe_face(*name)),
                             QString::fromStdString(geom::surface_kind(found.element)));
        }
    } else if (found.element.ShapeType() == TopAbs_EDGE) {
        text += tr(" \u00b7 edge \u00b7 %1, %2 mm")
                    .arg(QString::fromStdString(geom::curve_kind(found.element)))
                    .arg(geom::length_of(found.element), 0, 'f', 3);
    } else {
        text += tr(" \u00b7 vertex");
    }
    const gp_Pnt& p = found.point;
    emit hovered(text, tr("x %1  y %2  z %3 mm").arg(p.X(), 0, 'f', 3).arg(p.Y(), 0, 'f', 3).arg(p.Z(), 0, 'f', 3));
}

void Viewport::take_hovered() {
    const auto sketch = card_sketch();
    const auto owner = hovered_ ? body(hovered_->body) : nullptr;
    if (!sketch || !owner) {
        return;
    }
    const model::BodyId& id = hovered_->body;
    const auto taken = drawing_.tool() == DrawTool::take_edges
                           ? model::take_edges(id, *owner, hovered_->element, sketch->frame)
                       : drawing_.tool() == DrawTool::take_section ? model::take_section(id, *owner, sketch->frame)
                                                                   : model::take_silhouette(id, *owner, sketch->frame);
    if (!taken) {
        emit hinted(QString::fromStdString(taken.finding().cause + " " + taken.finding().mend));
        return;
    }
    drawing_.take_over(*taken);
    emit drawing_changed();
    tell_hint();
    repaint_all();
}

std::vector<model::PlacedCopy> Viewport::placed_copies() const {
    constexpr size_t most = 400; // more would be one dark field
    const model::StepReport* report = attached_ && !target_ ? session_.pictured_report(session_.card()) : nullptr;
    if (report == nullptr || !report->output || report->output->copies.size() > most) {
        return {};
    }
    return report->output->copies;
}

bool Viewport::toggle_copy_at(const QPointF& place) {
    for (const model::PlacedCopy& copy : placed_copies()) {
        if (QLineF(place_of(gp_Pnt(copy.at[0], copy.at[1], copy.at[2])), place).length() >= handle_reach) {
            continue;
        }
        const auto step = session_.document().step(session_.card());
        for (const model::Field& field : model::fields_of(step->definition)) {
            if (const auto* known = std::get_if<model::CopyNames>(&field.value)) {
                model::CopyNames next = *known;
                if (std::erase(next.all, copy.name) == 0) {
                    next.all.push_back(copy.name);
                }
                session_.set_field(step->id, field.info.key, next);
                return true;
            }
        }
    }
    return false;
}

void Viewport::click_body(const model::BodyId& id, Qt::KeyboardModifiers modifiers) {
    const model::Reference reference = model::whole(id);
    const auto step = session_.document().step(session_.card());
    if (target_) {
        if (target_->sees_bodies()) {
            emit picked(reference, std::string(target_->field));
        }
    } else if (step && model::sets_verdicts(step->definition)) {
        emit body_clicked(id);
    } else {
        choose_all({reference}, modifiers);
    }
}

void Viewport::click_at(const QPointF& place, Qt::KeyboardModifiers modifiers) {
    hover_at(place);
    if (const model::BodyId blade = draws_ ? model::BodyId() : blade_at(place); !blade.empty()) {
        click_body(blade, modifiers);
        return;
    }
    if (toggle_copy_at(place)) {
        return;
    }
    if (takes() && !target_) {
        take_hovered();
        return;
    }
    if (draws_ && !target_) {
        if (const auto on_plane = on_sketch(place)) {
            drawing_.click(*on_plane, reach());
            emit drawing_changed();
            tell_hint();
            repaint_all();
            if (drawing_.waits_for_numbers()) {
                ask_for_numbers({});
            }
        }
        return;
    }
    if (target_) {
        if (hovered_) {
            emit picked(target_->sees_bodies()
                            ? model::whole(target_->many ? clicked_id(hovered_->body) : hovered_->body)
                            : model::refer_to(hovered_->body, *body(hovered_->body), hovered_->element),
                        std::string(target_->field)); // by then the next field may be waiting
        }
        return;
    }
    const auto step = session_.document().step(session_.card());
    const bool cuts = step && model::sets_verdicts(step->definition);
    if (hovered_region_ >= 0 && session_.card() != 0) {
        emit region_clicked(hovered_region_);
        return;
    }
    if (cuts && hovered_piece_ >= 0) {
        emit piece_clicked(hovered_piece_);
        return;
    }
    if (cuts && hovered_) {
        if (marker_ == Marker::cutter || !is_ghost(hovered_->body)) {
            emit body_clicked(clicked_id(hovered_->body));
        }
        return;
    }
    if (!hovered_) {
        if ((modifiers & Qt::ControlModifier) == 0) {
            select({});
        }
        return;
    }
    auto taken = taken_at_level(hovered_->body, hovered_->element);
    // The same click again widens the choice.
    const bool again = level_ == PickLevel::any && (modifiers & Qt::ControlModifier) == 0 && selection_.size() == 1 &&
                       last_clicked_ == taken.front();
    if (again) {
        taken = widened(selection_.front(), taken.front());
    }
    const model::Reference clicked = again ? *last_clicked_ : taken.front();
    choose_all(taken, modifiers);
    last_clicked_ = clicked;
}

} // namespace kervo::app
