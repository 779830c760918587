#include "app/view/viewport.h"

#include "app/look/counted.h"

#include <QKeyEvent>
#include <QMouseEvent>

#include <cmath>

namespace kervo::app {

namespace {

constexpr double click_slack = 4; // pixels a click may wander

} // namespace

// A clear sheet over the picture; the mouse goes through it.
class Viewport::Ink : public QWidget {
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

Viewport::Viewport(Session& session, const Theme& theme, QWidget* parent)
    : QOpenGLWidget(parent), session_(session), theme_(theme), shown_(session, hand_), input_(this) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Model"));
    setMinimumSize(320, 240);
    ink_ = new Ink(this);
    for (const MakeViewTool& make : view_tools()) {
        tools_.push_back(make(*this));
    }
    connect(&session_, &Session::pictured, this, &Viewport::take_picture);
    connect(&session_, &Session::changed, this, &Viewport::take_changes);
    connect(&session_, &Session::completed, this, [this] { update(); }); // smooth again
    connect(&hand_, &InHand::marker_changed, this, [this] {
        show_cursor();
        tell_hint();
        repaint_all();
    });
    connect(&hand_, &InHand::target_changed, this, &Viewport::take_target);
    connect(&hand_, &InHand::level_changed, this, &Viewport::tell_hint);
    connect(&hand_, &InHand::selection_changed, this, &Viewport::show_bodies);
    connect(&hand_, &InHand::shading_changed, this, &Viewport::show_bodies);
    connect(&hand_, &InHand::pointed_out_changed, this, &Viewport::light_up);
}

Viewport::~Viewport() {
    makeCurrent();
}

void Viewport::set_theme(const Theme& theme) {
    theme_ = theme;
    if (attached_) {
        makeCurrent();
        viewer_.set_paper({theme.paper.name().toStdString(), theme.ink.name().toStdString(),
                           theme.cap.name().toStdString(), theme.dark});
        doneCurrent();
    }
    show_bodies();
    show_cursor();
}

// --- The picture ----------------------------------------------------------------------------------------------------

void Viewport::initializeGL() {
    attached_ = viewer_.attach(window()->winId(), width(), height());
    set_theme(theme_);
}

void Viewport::paintGL() {
    if (attached_) {
        viewer_.paint(static_cast<int>(width() * devicePixelRatioF()), static_cast<int>(height() * devicePixelRatioF()),
                      pressed_ != Qt::NoButton || session_.busy());
    }
}

void Viewport::resizeEvent(QResizeEvent* event) {
    QOpenGLWidget::resizeEvent(event);
    ink_->setGeometry(rect());
}

void Viewport::paint_ink(QPainter& painter) {
    if (!attached_) {
        painter.setPen(theme_.finding);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("This display offers no usable OpenGL; the model cannot be drawn."));
        return;
    }
    labels_.clear();
    for (const auto& tool : tools_) {
        tool->paint(painter);
    }
}

void Viewport::repaint_all() {
    update();
    ink_->update();
}

void Viewport::show_bodies() {
    if (attached_ && session_.picture()) {
        makeCurrent();
        const auto looks = shown_.looks(theme_);
        viewer_.set_bodies(looks);
        viewer_.set_caps(shown_.caps(looks, 1 / viewer_.pixels_per_mm()), session_.picture()->after);
        show_highlights();
        doneCurrent();
    }
    repaint_all();
}

void Viewport::show_highlights() {
    auto highlights = shown_.highlights(theme_);
    if (hovered_ && hovered_color_.isValid()) {
        highlights.push_back(
            {shown_.body(hovered_->body), hovered_->element, hovered_color_.name().toStdString(), true});
    }
    if (const auto told = hand_.pointed_out() ? shown_.find(*hand_.pointed_out()) : std::nullopt) {
        highlights.push_back(
            {shown_.body(hand_.pointed_out()->body), *told, theme_.cutter.name().toStdString(), false});
    }
    viewer_.set_highlights(highlights);
}

void Viewport::light_up() {
    if (attached_) {
        makeCurrent();
        show_highlights();
        doneCurrent();
        update();
    }
}

void Viewport::take_picture() {
    hovered_.reset();
    hand_.point_out(std::nullopt); // by the lines of a card that may be gone
    for (const auto& tool : tools_) {
        tool->take_picture();
    }
    take_changes();
    show_bodies();
    if (attached_ && session_.picture() && !session_.picture()->bounds.empty()) {
        // The first picture is fitted; later ones are where they have grown out of sight and nobody chose the view, but
        // not with every number that is being typed on a card.
        const bool typing = session_.card() != 0 && session_.card() == fitted_card_;
        if (!fitted_ || (!view_chosen_ && !typing && !in_sight(session_.picture()->bounds))) {
            fit();
        }
        fitted_ = true;
        fitted_card_ = session_.card();
    }
}

void Viewport::take_changes() {
    for (const auto& tool : tools_) {
        tool->take_changes();
    }
    if (session_.document().steps.empty()) {
        fitted_ = false;
        view_chosen_ = false;
    }
    show_cursor();
    tell_hint();
}

void Viewport::take_target() {
    hovered_.reset();
    show_bodies();
    show_cursor();
    tell_hint();
}

void Viewport::tell_hint() {
    QString line;
    offer([&](const ViewTool& tool) {
        line = tool.hint();
        return !line.isEmpty();
    });
    emit hinted(line);
}

void Viewport::show_cursor() {
    std::optional<QCursor> cursor;
    offer([&](const ViewTool& tool) {
        cursor = tool.cursor();
        return cursor.has_value();
    });
    setCursor(cursor.value_or(QCursor(Qt::ArrowCursor)));
}

// --- The camera -----------------------------------------------------------------------------------------------------

void Viewport::fit() {
    if (attached_) {
        makeCurrent();
        viewer_.fit();
        doneCurrent();
        repaint_all();
    }
}

void Viewport::look_from(scene::LookFrom from) {
    if (attached_) {
        viewer_.look_from(from);
        fit();
    }
}

void Viewport::look_along(const Vector3& direction, const Vector3& up) {
    if (attached_) {
        viewer_.look_along(direction, up);
        fit();
    }
}

void Viewport::write_camera(model::View& view) const {
    const scene::Camera camera = viewer_.camera();
    view.middle = camera.middle.array();
    view.along = {camera.along.x, camera.along.y, camera.along.z};
    view.up = {camera.up.x, camera.up.y, camera.up.z};
    view.height = camera.height;
}

void Viewport::read_camera(const model::View& view) {
    const Vector3 along = Vector3(view.along).unit();
    const Vector3 up = (Vector3(view.up) - along * along.dot(Vector3(view.up))).unit();
    if (attached_ && along.length() > 0 && up.length() > 0 && view.height > 0) {
        view_chosen_ = true;
        viewer_.set_camera({view.middle, along, up, view.height});
        repaint_all();
    }
}

void Viewport::turn(double sideways, double upwards) {
    if (attached_) {
        viewer_.turn(sideways, upwards);
        repaint_all();
    }
}

void Viewport::pan(const QPointF& by) {
    if (attached_) {
        view_chosen_ = true;
        viewer_.pan(by.x() * devicePixelRatioF(), by.y() * devicePixelRatioF());
        repaint_all();
    }
}

void Viewport::zoom(double factor, const QPointF& at) {
    if (attached_) {
        view_chosen_ = true;
        viewer_.zoom(factor, at.x() * devicePixelRatioF(), at.y() * devicePixelRatioF());
        repaint_all();
    }
}

double Viewport::pixels_per_mm() const {
    return viewer_.pixels_per_mm() / devicePixelRatioF();
}

Line3 Viewport::ray(const QPointF& at) const {
    return viewer_.ray(at.x() * devicePixelRatioF(), at.y() * devicePixelRatioF());
}

Vector3 Viewport::looking_along() const {
    return viewer_.looking_along();
}

bool Viewport::in_sight(const Box3& box) const {
    for (int i = 0; i < 8; ++i) {
        if (!QRectF(rect()).contains(place_of(box.corner(i)))) {
            return false;
        }
    }
    return true;
}

QPointF Viewport::place_of(const Point3& point) const {
    const auto p = viewer_.project(point);
    return {p[0] / devicePixelRatioF(), p[1] / devicePixelRatioF()};
}

QPointF Viewport::place_on_sketch(const sketch::Point2& point) const {
    const auto sketch = shown_.card_sketch();
    return sketch ? place_of(sketch->plane().at(point)) : QPointF();
}

std::optional<sketch::Point2> Viewport::on_sketch(const QPointF& at) const {
    const auto sketch = shown_.card_sketch();
    if (!sketch || !attached_) {
        return std::nullopt;
    }
    const Line3 line = ray(at);
    const Frame3 plane = sketch->plane();
    const double slope = line.along.dot(plane.z);
    if (std::fabs(slope) < 1e-3) {
        return std::nullopt; // the plane is seen from its edge
    }
    return plane.seen(line.at((plane.origin - line.from).dot(plane.z) / slope));
}

std::pair<Point3, Vector3> Viewport::upright_plane() const {
    const Box3 box = shown_.bounds();
    const Vector3 across = viewer_.ray(100, 0).from - viewer_.ray(0, 0).from;
    return {box.empty() ? Point3() : box.middle(), across.length() > 0 ? across.unit() : Vector3(1, 0, 0)};
}

// --- Under the pointer ----------------------------------------------------------------------------------------------

std::optional<scene::Picked> Viewport::pick(const QPointF& at, const std::set<model::ElementKind>& kinds) const {
    return attached_ ? viewer_.pick(at.x() * devicePixelRatioF(), at.y() * devicePixelRatioF(), kinds) : std::nullopt;
}

void Viewport::look_for(const Pointer& pointer) {
    std::optional<LooksFor> wanted;
    offer([&](const ViewTool& tool) {
        wanted = tool.looks_for();
        return wanted.has_value();
    });
    const auto found =
        wanted && !wanted->kinds.empty() ? pick(pointer.at, wanted->kinds) : std::optional<scene::Picked>();
    const QColor color = wanted ? wanted->color : QColor();
    const bool same = found.has_value() == hovered_.has_value() &&
                      (!found || (found->body == hovered_->body && found->element == hovered_->element)) &&
                      color == hovered_color_;
    hovered_ = found;
    hovered_color_ = color;
    if (!same) {
        light_up();
    }
    if (found) {
        const Point3& p = found->point;
        emit hovered(shown_.words_for(*found), place_text({p.x, p.y, p.z}, session_.document().unit));
    } else {
        emit hovered({}, {});
    }
}

void Viewport::hover_at(const Pointer& pointer) {
    look_for(pointer);
    bool taken = false;
    for (auto tool = tools_.rbegin(); tool != tools_.rend(); ++tool) {
        if (taken || !(*tool)->in_use()) {
            (*tool)->leave();
        } else {
            taken = (*tool)->hover(pointer);
        }
    }
}

void Viewport::point_at(const QPointF& at) {
    hover_at({at});
}

void Viewport::click_body(const model::BodyId& body, const Pointer& pointer) {
    offer([&](ViewTool& tool) { return tool.click_body(body, pointer); });
}

// --- Mouse and keyboard ---------------------------------------------------------------------------------------------

namespace {

Pointer pointer_of(const QMouseEvent& event) {
    return {event.position(), event.modifiers(), event.button()};
}

} // namespace

void Viewport::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    pressed_at_ = event->position();
    pressed_ = event->button();
    dragged_ = false;
    holder_ = offer([&](ViewTool& tool) { return tool.press(pointer_of(*event)); });
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    Pointer pointer = pointer_of(*event);
    if (pressed_ == Qt::NoButton) {
        hover_at(pointer);
        return;
    }
    if (!dragged_ && QLineF(event->position(), pressed_at_).length() < click_slack) {
        return;
    }
    dragged_ = true;
    pointer.button = pressed_;
    if (holder_ != nullptr) {
        holder_->drag(pointer);
    }
    repaint_all();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    Pointer pointer = pointer_of(*event);
    pointer.button = pressed_;
    pressed_ = Qt::NoButton;
    if (ViewTool* holder = std::exchange(holder_, nullptr)) {
        holder->release(pointer, dragged_);
    }
    if (!dragged_ && pointer.button == Qt::LeftButton) {
        hover_at(pointer);
        offer([&](ViewTool& tool) { return tool.click(pointer); });
    }
    repaint_all();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    if (offer([&](ViewTool& tool) { return tool.double_click(pointer_of(*event)); }) == nullptr) {
        mousePressEvent(event);
    }
}

void Viewport::wheelEvent(QWheelEvent* event) {
    // A touch pad sends pixels: two fingers pan, with Ctrl (a pinch) they zoom. A wheel zooms.
    if (!event->pixelDelta().isNull() && (event->modifiers() & Qt::ControlModifier) == 0 &&
        event->source() == Qt::MouseEventSynthesizedBySystem) {
        pan(event->pixelDelta());
    } else {
        zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
    }
}

void Viewport::keyPressEvent(QKeyEvent* event) {
    if (offer([&](ViewTool& tool) { return tool.press_key(*event); }) == nullptr) {
        QOpenGLWidget::keyPressEvent(event);
    }
}

bool Viewport::event(QEvent* event) {
    const bool is_key = event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride;
    const auto* key = is_key ? static_cast<QKeyEvent*>(event) : nullptr;
    // Tab would go to the next widget.
    if (event->type() == QEvent::KeyPress && key->key() == Qt::Key_Tab &&
        offer([&](ViewTool& tool) { return tool.press_key(*key); }) != nullptr) {
        return true;
    }
    if (event->type() == QEvent::ShortcutOverride &&
        offer([&](const ViewTool& tool) { return tool.wants_key(*key); }) != nullptr) {
        event->accept();
        return true;
    }
    return QOpenGLWidget::event(event);
}

bool Viewport::escape() {
    if (input_.is_open()) {
        input_.close();
        return true;
    }
    return offer([](ViewTool& tool) { return tool.escape(); }) != nullptr;
}

} // namespace kervo::app
