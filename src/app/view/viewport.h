// The model on paper: a picture, a camera, and a stack of tools that point, draw and write in it. What is written on
// the drawing is ink on a clear sheet over the picture.
#pragma once

#include "app/view/labels.h"
#include "app/view/number_input.h"
#include "app/view/view_tool.h"

#include <QOpenGLWidget>

namespace kervo::app {

class Viewport : public QOpenGLWidget {
    Q_OBJECT
public:
    Viewport(Session& session, const Theme& theme, QWidget* parent = nullptr);
    ~Viewport() override;

    [[nodiscard]] Session& session() { return session_; }
    [[nodiscard]] InHand& hand() { return hand_; }
    [[nodiscard]] ShownModel& shown() { return shown_; }
    [[nodiscard]] NumberInput& input() { return input_; }
    [[nodiscard]] const Theme& theme() const { return theme_; }
    void set_theme(const Theme& theme);
    /// From the bottom up.
    [[nodiscard]] const std::vector<std::unique_ptr<ViewTool>>& tools() const { return tools_; }
    /// The tool of that kind; there must be one.
    template <class Tool> [[nodiscard]] Tool& tool() const {
        for (const auto& each : tools_) {
            if (auto* found = qobject_cast<Tool*>(each.get())) {
                return *found;
            }
        }
        qFatal("the viewport has no such tool");
    }

    // The camera.
    void fit();
    void look_from(scene::LookFrom from);
    void look_along(const Vector3& direction, const Vector3& up);
    /// Into a view, and from it.
    void write_camera(model::View& view) const;
    void read_camera(const model::View& view);
    void turn(double sideways, double upwards); ///< rad
    void pan(const QPointF& by);                ///< pixels
    void zoom(double factor, const QPointF& at);
    /// False on a display without OpenGL: nothing is seen, and nothing can be pointed at.
    [[nodiscard]] bool sees() const { return attached_; }
    [[nodiscard]] double pixels_per_mm() const;
    /// Where a point of the model is in this widget.
    [[nodiscard]] QPointF place_of(const Point3& point) const;
    [[nodiscard]] Line3 ray(const QPointF& at) const; ///< from the eye into the picture
    [[nodiscard]] Vector3 looking_along() const;
    /// A plane that is seen from its edge, upright, in the middle of the picture: a place and its normal.
    [[nodiscard]] std::pair<Point3, Vector3> upright_plane() const;
    /// Where a place of the open card's sketch is in this widget, and the other way round: nothing where its plane is
    /// seen from its edge.
    [[nodiscard]] QPointF place_on_sketch(const sketch::Point2& point) const;
    [[nodiscard]] std::optional<sketch::Point2> on_sketch(const QPointF& at) const;

    // What is under the pointer.
    [[nodiscard]] std::optional<scene::Picked> pick(const QPointF& at, const std::set<model::ElementKind>& kinds) const;
    /// Whether a place lies behind something that is not see-through.
    [[nodiscard]] bool is_hidden(const Point3& place) const { return attached_ && viewer_.is_hidden(place); }
    /// As the topmost tool looks for it.
    [[nodiscard]] const std::optional<scene::Picked>& under_pointer() const { return hovered_; }
    /// As if the pointer were there.
    void point_at(const QPointF& at);
    /// To the tools from the top down.
    void click_body(const model::BodyId& body, const Pointer& pointer);

    /// Steps back by one; false when there is nothing to step back from.
    bool escape();
    /// Says what the next gesture does, as the topmost tool knows it.
    void tell_hint();
    void show_cursor();
    /// Draws bodies and what is lit up anew; then everything that is written.
    void show_bodies();
    void repaint_all();
    void repaint_ink() { ink_->update(); }
    /// Of what is being painted.
    [[nodiscard]] Labels& labels() { return labels_; }

signals:
    void hinted(const QString& line);
    void hovered(const QString& what, const QString& where);

protected:
    void initializeGL() override;
    void paintGL() override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    class Ink;
    void paint_ink(QPainter& painter);
    void take_picture();
    void take_changes();
    void take_target();
    void show_highlights(); ///< the context is current
    void light_up();
    void hover_at(const Pointer& pointer);
    void look_for(const Pointer& pointer);
    [[nodiscard]] bool in_sight(const Box3& box) const;
    /// Offers something to the tools in use, from the top down, until one takes it; null where none does.
    template <class Offer> ViewTool* offer(const Offer& take) const {
        for (auto tool = tools_.rbegin(); tool != tools_.rend(); ++tool) {
            if ((*tool)->in_use() && take(**tool)) {
                return tool->get();
            }
        }
        return nullptr;
    }

    Session& session_;
    Theme theme_;
    InHand hand_;
    ShownModel shown_;
    NumberInput input_;
    Labels labels_;
    scene::Viewer viewer_;
    bool attached_ = false;
    bool fitted_ = false;
    int fitted_card_ = 0;
    bool view_chosen_ = false; ///< the user has panned or zoomed
    QWidget* ink_ = nullptr;
    std::vector<std::unique_ptr<ViewTool>> tools_;
    std::optional<scene::Picked> hovered_;
    QColor hovered_color_;
    QPointF pressed_at_;
    Qt::MouseButton pressed_ = Qt::NoButton;
    ViewTool* holder_ = nullptr; ///< of the drag
    bool dragged_ = false;
};

} // namespace kervo::app
