#include "app/viewport.h"

#include "geom/measure.h"
#include "geom/profile.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>


#include <cmath>
#include <numbers>

namespace kervo::app {

namespace {

// A clear sheet over the picture; the mouse goes through it.
class Ink : public QWidget {
public:
    explicit Ink(Viewport* below) : QWidget(below), below_(below) {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAttribute(Qt::WA_NoSystemBackground);
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        below_->paint_ink(painter);
    }

private:
    Viewport* below_;
};

constexpr double click_slack = 4;  // pixels a click may wander
constexpr double snap_pixels = 10;

bool sees_bodies(const PickTarget& target) {
    return target.accepts.contains(model::ElementKind::body);
}

} // namespace

Viewport::Viewport(Session& session, const Theme& theme, QWidget* parent) : QOpenGLWidget(parent), session_(session), theme_(theme) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Model"));
    setMinimumSize(320, 240);
    ink_ = new Ink(this);
    connect(&session_, &Session::pictured, this, &Viewport::take_picture);
    connect(&session_, &Session::changed, this, &Viewport::take_changes);
}

Viewport::~Viewport() {
    makeCurrent();
}

void Viewport::set_theme(const Theme& theme) {
    theme_ = theme;
    if (attached_) {
        makeCurrent();
        viewer_.set_paper({theme.paper.name().toStdString(), theme.ink.name().toStdString(), theme.cap.name().toStdString(), theme.dark});
        show_bodies();
        doneCurrent();
    }
    repaint_all();
}

void Viewport::initializeGL() {
    attached_ = viewer_.attach(window()->winId(), width(), height());
    set_theme(theme_);
}

void Viewport::paintGL() {
    if (attached_) {
        viewer_.paint(static_cast<int>(width() * devicePixelRatioF()), static_cast<int>(height() * devicePixelRatioF()));
    }
}

void Viewport::resizeEvent(QResizeEvent* event) {
    QOpenGLWidget::resizeEvent(event);
    ink_->setGeometry(rect());
}

void Viewport::repaint_all() {
    update();
    ink_->update();
}

// --- What is shown --------------------------------------------------------------------------------------------------

const std::vector<std::pair<model::BodyId, model::BodyPtr>>& Viewport::shown() const {
    static const std::vector<std::pair<model::BodyId, model::BodyPtr>> nothing;
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return nothing;
    }
    // While an answer of a card is being picked, the bodies are shown as the step finds them.
    return target_ && session_.card() != 0 ? picture->before : picture->after;
}

model::BodyPtr Viewport::body(const model::BodyId& id) const {
    for (const auto& [known, candidate] : shown()) {
        if (known == id) {
            return candidate;
        }
    }
    return nullptr;
}

std::string Viewport::role_color(const model::BodyId& id) const {
    const auto step = session_.document().step(session_.card());
    if (step) {
        for (const auto& field : model::fields_of(step->definition, true)) {
            const auto* references = std::get_if<model::References>(&field.value);
            if (references != nullptr && field.info.writes &&
                std::any_of(references->begin(), references->end(), [&](const model::Reference& r) { return r.body == id; })) {
                return theme_.workpiece.name().toStdString();
            }
        }
    }
    const bool chosen = std::any_of(selection_.begin(), selection_.end(), [&](const model::Reference& r) { return r.body == id && r.kind == model::ElementKind::body; });
    return chosen ? theme_.workpiece.name().toStdString() : std::string();
}

void Viewport::show_bodies() {
    const PicturePtr picture = session_.picture();
    if (!attached_ || !picture) {
        return;
    }
    const auto cutaway = session_.cutaway();
    const bool cut = cutaway && cutaway->on;
    std::vector<scene::BodyLook> looks;
    for (const auto& [id, shape] : shown()) {
        const auto look = session_.document().appearance.find(id);
        if (look != session_.document().appearance.end() && look->second.hidden) {
            continue;
        }
        const auto traits = picture->evaluation->traits.find(id);
        const QString color = traits == picture->evaluation->traits.end() ? QString() : QString::fromStdString(traits->second.color);
        const std::string role = role_color(id);
        const bool whole = cut && std::find(cutaway->left_whole.begin(), cutaway->left_whole.end(), id) != cutaway->left_whole.end();
        looks.push_back({id, shape, body_color(theme_, color).name().toStdString(), role.empty() ? theme_.edge.name().toStdString() : role, !role.empty(), cut && !whole});
    }
    viewer_.set_cutaway(cut ? cutaway : std::nullopt, {});
    viewer_.set_bodies(looks);
    std::vector<scene::Cap> caps;
    for (const scene::Cap& cap : picture->caps) {
        if (std::any_of(looks.begin(), looks.end(), [&](const scene::BodyLook& look) { return look.id == cap.body; })) {
            caps.push_back(cap);
        }
    }
    viewer_.set_cutaway(cut ? cutaway : std::nullopt, caps);
    show_highlights();
}

void Viewport::show_highlights() {
    if (!attached_) {
        return;
    }
    std::vector<scene::Highlight> highlights;
    for (const model::Reference& reference : selection_) {
        if (reference.kind != model::ElementKind::body) {
            if (const auto found = model::resolve(reference, body(reference.body).get()); !found.element.IsNull()) {
                highlights.push_back({found.element, theme_.workpiece.name().toStdString(), false});
            }
        }
    }
    // What the open card refers to is drawn in the cutter's colour: the faces it goes from and to.
    if (const auto step = session_.document().step(session_.card())) {
        for (const auto& field : model::fields_of(step->definition, true)) {
            const auto* references = std::get_if<model::References>(&field.value);
            if (references == nullptr || field.info.writes || field.info.accepts.contains(model::ElementKind::body)) {
                continue;
            }
            for (const model::Reference& reference : *references) {
                if (const auto found = model::resolve(reference, body(reference.body).get()); !found.element.IsNull() && !draws_) {
                    highlights.push_back({found.element, theme_.cutter.name().toStdString(), true});
                }
            }
        }
    }
    if (hovered_ && !(target_ && sees_bodies(*target_))) {
        highlights.push_back({hovered_->element, target_ ? theme_.cutter.name().toStdString() : theme_.ink.name().toStdString(), true});
    }
    viewer_.set_highlights(highlights);
}

void Viewport::take_picture() {
    hovered_.reset();
    hovered_region_ = -1;
    const auto sketch = card_sketch();
    if (draws_ && sketch) {
        drawing_.refresh(sketch->solution.sketch);
    }
    take_changes();
    makeCurrent();
    show_bodies();
    if (!fitted_ && attached_ && session_.picture() && !session_.picture()->after.empty()) {
        viewer_.fit();
        fitted_ = true;
    }
    doneCurrent();
    repaint_all();
}

void Viewport::take_changes() {
    const auto step = session_.document().step(session_.card());
    const bool draws = step && std::holds_alternative<model::SketchStep>(step->definition);
    if (draws && (!draws_ || drawing_step_ != step->id)) {
        drawing_step_ = step->id;
        const int id = step->id;
        drawing_.begin(std::get<model::SketchStep>(step->definition).drawing,
                       [this, id](const sketch::Sketch& drawn) { session_.set_field(id, "drawing", drawn); });
        selection_.clear();
    } else if (draws) {
        // Undo and edits on the card change the drawing too; the solved one follows with the picture.
        const auto& defined = std::get<model::SketchStep>(step->definition).drawing;
        if (defined.last_id != drawing_.drawn().last_id || defined.curves.size() != drawing_.drawn().curves.size()) {
            drawing_.refresh(defined);
        }
    }
    if (draws != draws_) {
        draws_ = draws;
        close_input();
        emit drawing_changed();
    }
    if (session_.card() == 0 && target_) {
        set_pick_target(std::nullopt);
    }
    if (session_.document().steps.empty()) {
        fitted_ = false;
    }
    tell_hint();
    repaint_all();
}

model::SketchResultPtr Viewport::card_sketch() const {
    const PicturePtr picture = session_.picture();
    const auto step = session_.document().step(session_.card());
    if (!picture || !step) {
        return nullptr;
    }
    int id = std::holds_alternative<model::SketchStep>(step->definition) ? step->id : 0;
    for (const auto& field : model::fields_of(step->definition)) {
        if (const auto* link = std::get_if<model::SketchLink>(&field.value)) {
            id = link->step;
        }
    }
    const auto found = picture->evaluation->sketches.find(id);
    return found == picture->evaluation->sketches.end() ? nullptr : found->second;
}

// --- Looking around -------------------------------------------------------------------------------------------------

void Viewport::fit() {
    if (attached_) {
        viewer_.fit();
        repaint_all();
    }
}

void Viewport::look_from(scene::LookFrom from) {
    if (attached_) {
        viewer_.look_from(from);
        viewer_.fit();
        repaint_all();
    }
}

void Viewport::look_square() {
    if (!attached_) {
        return;
    }
    for (const model::Reference& reference : selection_) {
        const auto found = model::resolve(reference, body(reference.body).get());
        if (reference.kind == model::ElementKind::face && !found.element.IsNull()) {
            if (const auto plane = geom::plane_of(found.element)) {
                const gp_Ax3 frame = geom::frame_on_plane(*plane);
                viewer_.look_along(frame.Direction().Reversed(), frame.YDirection());
                viewer_.fit();
                repaint_all();
                return;
            }
        }
    }
    if (const auto sketch = card_sketch()) {
        viewer_.look_along(sketch->frame.Direction().Reversed(), sketch->frame.YDirection());
        viewer_.fit();
        repaint_all();
    } else {
        emit hinted(tr("Select a flat face first, then look square at it."));
    }
}

QPointF Viewport::place_of(const gp_Pnt& point) const {
    const auto p = viewer_.project(point);
    return {p[0] / devicePixelRatioF(), p[1] / devicePixelRatioF()};
}

QPointF Viewport::place_on_sketch(const sketch::Point2& point) const {
    const auto sketch = card_sketch();
    if (!sketch) {
        return {};
    }
    const gp_Ax3& frame = sketch->frame;
    return place_of(frame.Location().Translated(gp_Vec(frame.XDirection()) * point[0] + gp_Vec(frame.YDirection()) * point[1]));
}

std::optional<sketch::Point2> Viewport::on_sketch(const QPointF& place) const {
    const auto sketch = card_sketch();
    if (!sketch || !attached_) {
        return std::nullopt;
    }
    const gp_Lin ray = viewer_.ray(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF());
    const gp_Vec normal(sketch->frame.Direction());
    const double slope = gp_Vec(ray.Direction()).Dot(normal);
    if (std::fabs(slope) < 1e-3) {
        return std::nullopt; // the plane is seen from its edge
    }
    const double t = gp_Vec(ray.Location(), sketch->frame.Location()).Dot(normal) / slope;
    const gp_Vec from(sketch->frame.Location(), ray.Location().Translated(gp_Vec(ray.Direction()) * t));
    return sketch::Point2{from.Dot(gp_Vec(sketch->frame.XDirection())), from.Dot(gp_Vec(sketch->frame.YDirection()))};
}

double Viewport::reach() const {
    return snap_pixels * devicePixelRatioF() / viewer_.pixels_per_mm();
}

// --- Markers, targets, tools ----------------------------------------------------------------------------------------

void Viewport::set_marker(Marker marker) {
    marker_ = marker;
    setCursor(Qt::CrossCursor);
    emit marker_changed();
    tell_hint();
    repaint_all();
}

void Viewport::set_pick_target(const std::optional<PickTarget>& target) {
    target_ = target;
    hovered_.reset();
    if (attached_) {
        makeCurrent();
        show_bodies();
        doneCurrent();
    }
    emit marker_changed();
    tell_hint();
    repaint_all();
}

void Viewport::set_draw_tool(DrawTool tool) {
    drawing_.set_tool(tool);
    setCursor(tool == DrawTool::select ? Qt::ArrowCursor : Qt::CrossCursor);
    close_input();
    emit drawing_changed();
    tell_hint();
    repaint_all();
}

void Viewport::point_out_piece(int piece) {
    if (pointed_piece_ != piece) {
        pointed_piece_ = piece;
        ink_->update();
    }
}

void Viewport::point_out_places(const std::vector<std::array<double, 3>>& places) {
    places_ = places;
    ink_->update();
}

void Viewport::select(std::vector<model::Reference> selection) {
    selection_ = std::move(selection);
    if (attached_) {
        makeCurrent();
        show_bodies();
        doneCurrent();
    }
    emit selection_changed();
    repaint_all();
}

bool Viewport::escape() {
    if (input_ != nullptr) {
        close_input();
        return true;
    }
    if (target_) {
        set_pick_target(std::nullopt);
        return true;
    }
    if (draws_ && drawing_.escape()) {
        emit drawing_changed();
        tell_hint();
        repaint_all();
        return true;
    }
    if (!selection_.empty()) {
        select({});
        return true;
    }
    return false;
}

bool Viewport::remove_selected() {
    return draws_ && drawing_.remove_selected();
}

void Viewport::tell_hint() {
    if (target_) {
        const bool vertex = target_->accepts.contains(model::ElementKind::vertex);
        emit hinted(sees_bodies(*target_) ? tr("Next pick: a body") : vertex ? tr("Next pick: a vertex") : tr("Next pick: a flat face"));
    } else if (draws_) {
        emit hinted(drawing_.hint());
    } else if (const auto step = session_.document().step(session_.card()); step && std::holds_alternative<model::ExtrudeCut>(step->definition)) {
        emit hinted(marker_ == Marker::work ? tr("Next pick: a body to cut, or to spare") : tr("Next pick: a region to cut with, or to leave"));
    } else if (step && std::holds_alternative<model::Extrude>(step->definition)) {
        emit hinted(tr("Next pick: a region to extrude, or to leave"));
    } else {
        emit hinted(tr("Next pick: a face, an edge or a vertex; again for its body"));
    }
}

// --- Mouse and keyboard ---------------------------------------------------------------------------------------------

void Viewport::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    pressed_at_ = last_at_ = event->position();
    pressed_ = event->button();
    dragged_ = false;
    drags_cutaway_ = false;
    if (event->button() == Qt::LeftButton) {
        if (const auto handle = cutaway_handle(); handle && QLineF(handle->second, event->position()).length() < 14) {
            drags_cutaway_ = true;
            cutaway_start_ = *session_.cutaway();
        }
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
    if (drags_cutaway_) {
        const auto handle = cutaway_handle();
        const QPointF along = handle ? handle->second - handle->first : QPointF(0, -1);
        const double length = std::max(std::hypot(along.x(), along.y()), 1.0);
        const QPointF total = event->position() - pressed_at_;
        const gp_Vec normal(cutaway_start_.normal[0], cutaway_start_.normal[1], cutaway_start_.normal[2]);
        const gp_Vec seen = normal - gp_Vec(viewer_.looking_along()) * normal.Dot(gp_Vec(viewer_.looking_along()));
        const double mm = (total.x() * along.x() + total.y() * along.y()) / length / (viewer_.pixels_per_mm() / devicePixelRatioF()) / std::max(seen.Magnitude(), 0.1);
        model::Cutaway moved = cutaway_start_;
        for (size_t i = 0; i < 3; ++i) {
            moved.origin[i] += moved.normal[i] * mm;
        }
        session_.preview_cutaway(moved);
        makeCurrent();
        viewer_.set_cutaway(moved, {});
        doneCurrent();
        emit hinted(tr("Cutaway at %1 mm").arg(moved.origin[0] * moved.normal[0] + moved.origin[1] * moved.normal[1] + moved.origin[2] * moved.normal[2], 0, 'f', 1));
    } else if (pressed_ == Qt::MiddleButton || (event->modifiers() & Qt::ShiftModifier) != 0) {
        viewer_.pan(move.x() * devicePixelRatioF(), move.y() * devicePixelRatioF());
    } else if (!(draws_ && pressed_ == Qt::LeftButton)) {
        viewer_.turn(-move.x() * 0.008, move.y() * 0.008);
    }
    repaint_all();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    const Qt::MouseButton button = pressed_;
    pressed_ = Qt::NoButton;
    if (drags_cutaway_) {
        drags_cutaway_ = false;
        if (dragged_ && session_.cutaway()) {
            session_.set_cutaway(*session_.cutaway());
        }
        return;
    }
    if (!dragged_ && button == Qt::LeftButton) {
        click_at(event->position());
    }
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    for (const auto& [box, constraint] : dimension_texts_) {
        if (draws_ && box.contains(event->position())) {
            edit_dimension(constraint);
            return;
        }
    }
    mousePressEvent(event);
}

void Viewport::wheelEvent(QWheelEvent* event) {
    if (!attached_) {
        return;
    }
    // A touch pad sends pixels: two fingers pan, with Ctrl (a pinch) they zoom. A wheel zooms.
    if (!event->pixelDelta().isNull() && (event->modifiers() & Qt::ControlModifier) == 0 && event->source() == Qt::MouseEventSynthesizedBySystem) {
        viewer_.pan(event->pixelDelta().x(), event->pixelDelta().y());
    } else {
        viewer_.zoom(std::pow(1.0015, event->angleDelta().y()), event->position().x() * devicePixelRatioF(), event->position().y() * devicePixelRatioF());
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
    const bool typed = !text.isEmpty() && (text[0].isLetterOrNumber() || text[0] == '.' || text[0] == '(' || text[0] == '-');
    if (attached_ && event->key() == Qt::Key_Left) {
        arrow(-1, 0);
    } else if (attached_ && event->key() == Qt::Key_Right) {
        arrow(1, 0);
    } else if (attached_ && event->key() == Qt::Key_Up) {
        arrow(0, -1);
    } else if (attached_ && event->key() == Qt::Key_Down) {
        arrow(0, 1);
    } else if (attached_ && (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) && drawing_.asks_for().empty()) {
        viewer_.zoom(event->key() == Qt::Key_Plus ? 1.25 : 0.8, width() / 2.0, height() / 2.0);
        repaint_all();
    } else if (draws_ && typed && !drawing_.asks_for().empty()) {
        open_input(drawing_.asks_for(), mapFromGlobal(QCursor::pos()), text, [this](const std::vector<std::string>& formulas) {
            drawing_.finish_typed(formulas, session_.picture() ? session_.picture()->evaluation->parameters.values : ParameterValues{});
            tell_hint();
            repaint_all();
        });
    } else if (draws_ && typed && drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection()) {
        const auto kind = drawing_.dimension_of_selection()->first;
        open_input({tr("dimension")}, mapFromGlobal(QCursor::pos()), text, [this, kind](const std::vector<std::string>& formulas) {
            drawing_.constrain(kind, formulas.front());
            tell_hint();
            repaint_all();
        });
    } else if (draws_ && (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && remove_selected()) {
        repaint_all();
    } else {
        QOpenGLWidget::keyPressEvent(event);
    }
}

bool Viewport::event(QEvent* event) {
    // Letters that are typed into a drawing are values, not shortcuts.
    if (event->type() == QEvent::ShortcutOverride && draws_) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool plain = (key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0 && !key->text().isEmpty() && key->text()[0].isPrint() && key->key() != Qt::Key_Space;
        const bool asks = !drawing_.asks_for().empty() || (drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection());
        if (plain && asks) {
            event->accept();
            return true;
        }
    }
    return QOpenGLWidget::event(event);
}

void Viewport::hover_at(const QPointF& place) {
    last_at_ = place;
    const auto on_plane = on_sketch(place);
    if (draws_ && !target_) {
        if (on_plane) {
            drawing_.hover(*on_plane, reach());
            const QString what = drawing_.tool() == DrawTool::select ? QString() : drawing_.pointer().what;
            emit hovered(what, tr("x %1  y %2 mm").arg(drawing_.pointer().at[0], 0, 'f', 3).arg(drawing_.pointer().at[1], 0, 'f', 3));
        }
        ink_->update();
        return;
    }
    const auto sketch = card_sketch();
    int region = -1;
    if (sketch && on_plane && !target_ && marker_ == Marker::cutter) {
        for (size_t i = 0; i < sketch->regions.size(); ++i) {
            region = sketch->regions[i].contains(*on_plane) ? static_cast<int>(i) : region;
        }
    }
    if (region != hovered_region_) {
        hovered_region_ = region;
        ink_->update();
    }
    if (!attached_) {
        return;
    }
    using Kind = model::ElementKind;
    const std::set<Kind> accepted = target_ ? target_->accepts : std::set<Kind>{Kind::face, Kind::edge, Kind::vertex};
    makeCurrent();
    const auto found = viewer_.pick(place.x() * devicePixelRatioF(), place.y() * devicePixelRatioF(), accepted);
    const bool same = found.has_value() == hovered_.has_value() && (!found || found->element.IsSame(hovered_->element));
    hovered_ = found;
    if (!same) {
        show_highlights();
        update();
    }
    doneCurrent();
    if (!found) {
        emit hovered({}, {});
        return;
    }
    const auto traits = session_.picture()->evaluation->traits.find(found->body);
    QString text = traits == session_.picture()->evaluation->traits.end() ? QString() : QString::fromStdString(traits->second.name);
    const model::BodyPtr owner = body(found->body);
    if (owner && found->element.ShapeType() == TopAbs_FACE) {
        if (const auto* name = owner->names.Seek(found->element)) {
            text += " \u00b7 " + QString::fromStdString(model::describe_face(*name)) + " \u00b7 " + QString::fromStdString(geom::surface_kind(found->element));
        }
    } else if (found->element.ShapeType() == TopAbs_EDGE) {
        text += tr(" \u00b7 edge \u00b7 %1, %2 mm").arg(QString::fromStdString(geom::curve_kind(found->element))).arg(geom::length_of(found->element), 0, 'f', 3);
    } else {
        text += tr(" \u00b7 vertex");
    }
    emit hovered(text, tr("x %1  y %2  z %3 mm").arg(found->point.X(), 0, 'f', 3).arg(found->point.Y(), 0, 'f', 3).arg(found->point.Z(), 0, 'f', 3));
}

void Viewport::click_at(const QPointF& place) {
    hover_at(place);
    if (draws_ && !target_) {
        if (const auto on_plane = on_sketch(place)) {
            drawing_.click(*on_plane, reach());
            emit drawing_changed();
            tell_hint();
            repaint_all();
        }
        return;
    }
    if (target_) {
        if (hovered_) {
            model::Reference reference = model::refer_to(hovered_->body, *body(hovered_->body), hovered_->element);
            if (sees_bodies(*target_)) {
                reference = {};
                reference.body = hovered_->body;
            }
            emit picked(reference);
        }
        return;
    }
    const auto step = session_.document().step(session_.card());
    const bool cuts = step && std::holds_alternative<model::ExtrudeCut>(step->definition);
    if (hovered_region_ >= 0 && session_.card() != 0) {
        emit region_clicked(hovered_region_);
        return;
    }
    if (cuts && marker_ == Marker::work && hovered_) {
        emit body_clicked(hovered_->body);
        return;
    }
    if (!hovered_) {
        select({});
        return;
    }
    model::Reference reference = model::refer_to(hovered_->body, *body(hovered_->body), hovered_->element);
    // The same click again widens the choice to the body.
    if (selection_.size() == 1 && selection_.front() == reference) {
        reference = {};
        reference.body = hovered_->body;
    }
    select({reference});
}

// --- Typed numbers --------------------------------------------------------------------------------------------------

void Viewport::open_input(const std::vector<QString>& labels, const QPoint& at, const QString& first, std::function<void(const std::vector<std::string>&)> done) {
    close_input();
    input_ = new QFrame(this);
    input_->setObjectName("card");
    auto* row = new QHBoxLayout(input_);
    row->setContentsMargins(8, 4, 8, 4);
    input_done_ = std::move(done);
    for (const QString& label : labels) {
        row->addWidget(new QLabel(label, input_));
        auto* field = new QLineEdit(input_);
        field->setFixedWidth(110);
        field->setAccessibleName(label);
        field->setToolTip(tr("A number, a unit or a formula. Enter takes it, Tab goes to the next, Escape leaves it."));
        field->installEventFilter(this);
        connect(field, &QLineEdit::returnPressed, this, [this] {
            std::vector<std::string> texts;
            for (const QLineEdit* each : input_fields_) {
                texts.push_back(each->text().trimmed().toStdString());
            }
            const auto finish = input_done_;
            close_input();
            finish(texts);
        });
        row->addWidget(field);
        input_fields_.push_back(field);
    }
    input_->adjustSize();
    const QPoint inside(std::clamp(at.x() + 16, 0, std::max(0, width() - input_->width())), std::clamp(at.y() + 16, 0, std::max(0, height() - input_->height())));
    input_->move(inside);
    input_->show();
    input_fields_.front()->setFocus();
    input_fields_.front()->setText(first);
}

void Viewport::close_input() {
    if (input_ != nullptr) {
        input_->deleteLater();
        input_ = nullptr;
        input_fields_.clear();
        setFocus();
    }
}

bool Viewport::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        close_input();
        return true;
    }
    return QOpenGLWidget::eventFilter(watched, event);
}

void Viewport::edit_dimension(int constraint) {
    const auto step = session_.document().step(session_.card());
    if (!draws_ || !step) {
        return;
    }
    auto drawing = std::get<model::SketchStep>(step->definition).drawing;
    for (auto& item : drawing.constraints) {
        if (item.id == constraint) {
            open_input({tr("dimension")}, mapFromGlobal(QCursor::pos()), QString::fromStdString(item.value.text), [this, id = step->id, constraint, drawing](const std::vector<std::string>& formulas) mutable {
                for (auto& each : drawing.constraints) {
                    if (each.id == constraint) {
                        each.value.text = formulas.front();
                    }
                }
                session_.set_field(id, "drawing", drawing);
            });
            input_fields_.front()->selectAll();
            return;
        }
    }
}

std::optional<std::pair<QPointF, QPointF>> Viewport::cutaway_handle() const {
    const auto cutaway = session_.cutaway();
    if (!cutaway || !cutaway->on || !attached_ || shown().empty()) {
        return std::nullopt;
    }
    Bnd_Box box;
    for (const auto& [id, shape] : shown()) {
        box.Add(geom::bounds_of(shape->shape));
    }
    double x0 = 0, y0 = 0, z0 = 0, x1 = 0, y1 = 0, z1 = 0;
    box.Get(x0, y0, z0, x1, y1, z1);
    const gp_Pnt middle((x0 + x1) / 2, (y0 + y1) / 2, z1);
    const gp_Vec normal(cutaway->normal[0], cutaway->normal[1], cutaway->normal[2]);
    const gp_Pnt origin(cutaway->origin[0], cutaway->origin[1], cutaway->origin[2]);
    const gp_Pnt foot = middle.Translated(normal * -gp_Vec(origin, middle).Dot(normal));
    const double length = 46 / (viewer_.pixels_per_mm() / devicePixelRatioF());
    return std::pair(place_of(foot), place_of(foot.Translated(normal * length)));
}

} // namespace kervo::app
