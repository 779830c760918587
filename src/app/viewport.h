// The model on paper: looks, picks and draws. Everything written on the drawing (sketches, dimensions, phantom lines,
// the cutting plane, the scale) is ink on a clear sheet over the picture.
#pragma once

#include "app/drawing.h"
#include "app/session.h"
#include "app/theme.h"
#include "geom/alike.h"
#include "scene/viewer.h"

#include <QFrame>
#include <QLineEdit>
#include <QOpenGLWidget>
#include <QTimer>

namespace kervo::app {

enum class Marker { work, cutter };

/// What a click or a frame in the model takes.
enum class PickLevel {
    any, ///< what is under the pointer; again: its body; again: the groups around that
    group,
    body,
    lump, ///< all faces of one
    face,
    edge,
    vertex
};

/// What the next click in the model is for.
struct PickTarget {
    std::string field;
    std::set<model::ElementKind> accepts;
    bool many = false;
    std::string label = {}; ///< of the field, for people

    static PickTarget of(const model::FieldInfo& info) { return {info.key, info.accepts, info.many, info.label}; }
    /// The first single element that a step still waits for, among its questions after the field `after` (empty: all).
    static std::optional<PickTarget> next_open(const model::StepDefinition& step, const std::string& after = {});

    [[nodiscard]] bool sees_bodies() const { return accepts.contains(model::ElementKind::body); }
};

class Viewport : public QOpenGLWidget {
    Q_OBJECT
public:
    Viewport(Session& session, const Theme& theme, QWidget* parent = nullptr);
    ~Viewport() override;

    void set_theme(const Theme& theme);
    [[nodiscard]] Drawing& drawing() { return drawing_; }
    [[nodiscard]] bool draws() const { return draws_; }
    [[nodiscard]] Marker marker() const { return marker_; }
    void set_marker(Marker marker);
    void set_pick_target(const std::optional<PickTarget>& target);
    [[nodiscard]] const std::optional<PickTarget>& pick_target() const { return target_; }
    void point_out_piece(int piece); ///< index into the card's pieces; -1: none
    void point_out_places(const std::vector<std::array<double, 3>>& places);
    /// Flaws of a sketch, beside what findings point out.
    void mark_places(const std::vector<std::array<double, 3>>& places);

    [[nodiscard]] const std::vector<model::Reference>& selection() const { return selection_; }
    void select(std::vector<model::Reference> selection);
    /// Bodies that are selected as such, or with their group.
    [[nodiscard]] std::vector<model::BodyId> selected_bodies() const;
    [[nodiscard]] PickLevel level() const { return level_; }
    void set_level(PickLevel level);
    /// The next level (1) or the one before (-1), round and round.
    void step_level(int by);
    /// Selects all that is like what is selected: elements, or bodies of the same kind.
    void select_alike(geom::Likeness how);
    /// Bodies of the same colour; of faces, all that show it.
    void select_same_color();
    [[nodiscard]] bool is_shown(const model::BodyId& id) const;
    /// The element or body as it is shown; null where it is not there.
    [[nodiscard]] TopoDS_Shape shape_of(const model::Reference& reference) const;

    void fit();
    void look_from(scene::LookFrom from);
    /// Looks square at the selected flat face, else at the plane of the open sketch.
    void look_square();
    void set_draw_tool(DrawTool tool);
    /// Steps back by one; false when there is nothing to step back from.
    bool escape();
    bool remove_selected();
    void toggle_guides();
    void freeze();
    void toggle_grid();
    [[nodiscard]] bool grid() const { return grid_; }

    /// Where a point of the model is in this widget; for tests and overlays.
    [[nodiscard]] QPointF place_of(const gp_Pnt& point) const;
    [[nodiscard]] QPointF place_on_sketch(const sketch::Point2& point) const;
    void paint_ink(QPainter& painter);
    /// A plane that is seen from its edge, upright, in the middle of the picture: a place and its normal.
    [[nodiscard]] std::pair<gp_Pnt, gp_Dir> upright_plane() const;
    /// As if the pointer were over this place of the open sketch.
    void point_at(const sketch::Point2& place);
    /// A sketch's plane for the open card; null where there is none.
    [[nodiscard]] model::SketchResultPtr card_sketch() const;
    /// The step of that sketch; 0 where there is none.
    [[nodiscard]] int card_sketch_step() const;
    /// Lets regions of another sketch be clicked while this card is open.
    void take_card_sketch(int step);
    void edit_dimension(int constraint);
    /// As in the picture.
    [[nodiscard]] ParameterValues parameters() const;
    /// The dimensions of the open step that stand on the model, and where their handles are.
    [[nodiscard]] std::vector<model::PlacedDimension> placed_dimensions() const;
    [[nodiscard]] QPointF handle_of(const model::PlacedDimension& dimension) const;

signals:
    void hinted(const QString& line);
    void hovered(const QString& what, const QString& where);
    void selection_changed();
    void body_clicked(const kervo::model::BodyId& body);
    void region_clicked(int region);
    void regions_framed(const std::vector<int>& regions);
    /// `field`: what the pick was for.
    void picked(const kervo::model::Reference& reference, const std::string& field);
    void piece_hovered(int piece);
    void piece_clicked(int piece);
    void pieces_framed(const std::vector<int>& pieces);
    void marker_changed();
    void level_changed();
    void drawing_changed();
    void check_asked();

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
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void take_picture();
    void take_changes();
    void show_pointer();
    void show_bodies();
    void show_highlights();
    const std::vector<scene::Highlight>& chosen_highlights();
    void hover_at(const QPointF& place);
    void click_at(const QPointF& place, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    void repaint_all();
    [[nodiscard]] bool in_sight(const Bnd_Box& box) const;
    void tell_hint();
    [[nodiscard]] std::optional<sketch::Point2> on_sketch(const QPointF& place) const;
    [[nodiscard]] double reach() const;
    [[nodiscard]] const std::vector<std::pair<model::BodyId, model::BodyPtr>>& shown() const;
    [[nodiscard]] model::BodyPtr body(const model::BodyId& id) const;
    [[nodiscard]] std::string role_color(const model::BodyId& id) const;
    void paint_regions(QPainter& painter);
    void paint_sketch(QPainter& painter);
    void paint_dimensions(QPainter& painter, const sketch::Solution& solution);
    void paint_half_drawn(QPainter& painter);
    void paint_edit_preview(QPainter& painter);
    /// In pixels, from corner to corner.
    [[nodiscard]] double screen_size(const Bnd_Box& box) const;
    void paint_pieces(QPainter& painter);
    void paint_placed_dimensions(QPainter& painter);
    void paint_elsewhere(QPainter& painter, const model::SketchResult& sketch, const std::vector<int>& regions);
    /// The copies of the open step that stand on the model as marks; none while something else is picked.
    [[nodiscard]] std::vector<model::PlacedCopy> placed_copies() const;
    void paint_copies(QPainter& painter);
    /// Leaves out the copy whose mark is there, or takes it back; false where there is none.
    bool toggle_copy_at(const QPointF& place);
    void paint_cutaway(QPainter& painter);
    void paint_blades(QPainter& painter);
    void paint_blade(QPainter& painter, const geom::Blade& blade, const QString& letter, const model::BodyId& id);
    /// The blade whose letter is there; empty: none.
    [[nodiscard]] model::BodyId blade_at(const QPointF& place) const;
    void click_body(const model::BodyId& id, Qt::KeyboardModifiers modifiers);
    /// Used up by the open step, and shown as a ghost.
    [[nodiscard]] bool is_ghost(const model::BodyId& id) const;
    [[nodiscard]] scene::BodyLook look_of(const model::BodyId& id, const model::BodyPtr& shape) const;
    [[nodiscard]] bool can_be_clicked(const model::Piece& piece) const;
    void paint_scale(QPainter& painter);
    void paint_places(QPainter& painter);
    void open_input(const std::vector<QString>& labels, const QPoint& at, const QString& first,
                    std::function<void(const std::vector<std::string>&)> done, const std::vector<QString>& more = {});
    QLineEdit* input_field(const QString& name, int wide);
    void close_input();
    /// Asks for the numbers that what is half drawn may have; `first` is what was typed already.
    void ask_for_numbers(const QString& first);
    [[nodiscard]] std::optional<std::pair<QPointF, QPointF>> cutaway_handle() const;
    void pull_cutaway(const QPointF& to);
    void pull_dimension(const QPointF& to);
    void pull_dial(const QPointF& at, Qt::KeyboardModifiers modifiers);
    void paint_dial(QPainter& painter, const model::PlacedDimension& dimension);
    /// How far along the unit direction `along` the pointer has been pulled, when `along` is seen from `a` to `b`.
    [[nodiscard]] double pulled(const QPointF& total, const QPointF& a, const QPointF& b, const gp_Vec& along) const;
    void edit_answer(const std::string& field);
    [[nodiscard]] std::optional<Expression> answer(const std::string& field) const;
    /// The piece of the open cut under the pointer that lies inside a cutter; -1: none.
    [[nodiscard]] int piece_at(const QPointF& place) const;
    void name_hovered(const scene::Picked& found);
    /// The tool of the open sketch picks in the model.
    [[nodiscard]] bool takes() const { return draws_ && info_of(drawing_.tool()).takes; }
    void take_hovered();
    void tell_pointer();
    void hover_drawing(const std::optional<sketch::Point2>& on_plane);
    [[nodiscard]] std::vector<Beside> other_sketches() const;
    /// Hands what lies beside the sketch under the pointer to the drawing.
    void gather_beside(const QPointF& place);
    [[nodiscard]] double grid_step() const; ///< mm; 0: no grid
    void paint_grid(QPainter& painter);
    void paint_lens(QPainter& painter);
    /// From where the button was pressed to the pointer. To the left it takes what it touches, else what is inside.
    [[nodiscard]] QRectF frame() const;
    [[nodiscard]] bool frame_touches() const;
    [[nodiscard]] bool frames_model() const; ///< Ctrl and a drag select in the model
    void frame_model();
    [[nodiscard]] bool is_pickable(const model::BodyId& id) const;
    [[nodiscard]] const model::BodyTraits* traits_of(const model::BodyId& id) const;
    /// Whether it is a reference to the body, to an element of it, or to a group that it is in.
    [[nodiscard]] bool refers_to(const model::Reference& reference, const model::BodyId& id) const;
    /// What a click on the body means at this level: the body, or its outermost group.
    [[nodiscard]] model::BodyId clicked_id(const model::BodyId& id) const;
    [[nodiscard]] std::vector<model::Reference> taken_at_level(const model::BodyId& id,
                                                               const TopoDS_Shape& element) const;
    /// The next wider choice after this one; the one under the pointer again behind the widest.
    [[nodiscard]] std::vector<model::Reference> widened(const model::Reference& now,
                                                        const model::Reference& first) const;
    void choose_all(const std::vector<model::Reference>& references, Qt::KeyboardModifiers modifiers);
    [[nodiscard]] std::set<model::ElementKind> kinds_of_level() const;
    [[nodiscard]] QString face_color(const model::BodyId& id, const TopoDS_Shape& face) const;
    [[nodiscard]] bool starts_frame(Qt::KeyboardModifiers modifiers) const;
    void end_frame(Qt::KeyboardModifiers modifiers);
    /// Whether the frame takes what is seen as these lines, some of which may be closed.
    [[nodiscard]] bool frame_takes(const std::vector<QPolygonF>& chains) const;
    void frame_pieces();
    void paint_frame(QPainter& painter);
    [[nodiscard]] int region_at(const std::optional<sketch::Point2>& on_plane) const;

    Session& session_;
    Theme theme_;
    scene::Viewer viewer_;
    bool attached_ = false;
    bool fitted_ = false;
    int fitted_card_ = 0;
    bool view_chosen_ = false; ///< the user has panned or zoomed
    QWidget* ink_ = nullptr;
    Drawing drawing_;
    bool draws_ = false;
    int drawing_step_ = 0;
    Marker marker_ = Marker::work;
    std::optional<PickTarget> target_;
    std::vector<model::Reference> selection_;
    PickLevel level_ = PickLevel::any;
    std::optional<model::Reference> last_clicked_; ///< the element, whatever it has been widened to
    std::optional<scene::Picked> hovered_;
    int hovered_region_ = -1;
    int pointed_piece_ = -1;
    std::vector<std::array<double, 3>> places_, marked_;
    QPointF pressed_at_, last_at_;
    Qt::MouseButton pressed_ = Qt::NoButton;
    bool dragged_ = false;
    bool framing_ = false;
    bool grid_ = false;
    std::vector<Beside> beside_sketches_;
    bool drags_cutaway_ = false;
    model::Cutaway cutaway_start_;
    std::optional<model::PlacedDimension> pulled_dimension_; ///< as it was when it was taken
    int hovered_piece_ = -1;
    std::vector<std::pair<QRectF, int>> dimension_texts_;      ///< where dimensions are written, by constraint
    std::vector<std::pair<QRectF, std::string>> answer_texts_; ///< where answers of the card are written, by field
    std::vector<std::pair<QRectF, model::BodyId>> blade_tags_; ///< where the letters of blades stand
    QFrame* input_ = nullptr;
    std::vector<QLineEdit*> input_fields_;
    std::function<void(const std::vector<std::string>&)> input_done_;

    struct CardSketch {
        std::weak_ptr<const Picture> picture;
        std::weak_ptr<const model::Step> step;
        model::SketchResultPtr sketch;
    };
    mutable CardSketch card_sketch_;   ///< as last asked for
    std::pair<int, int> taken_sketch_; ///< a card, and the sketch whose regions are clicked for it instead of its own
    struct ChosenHighlights {
        std::weak_ptr<const Picture> picture;
        std::weak_ptr<const model::Step> step;
        std::vector<model::Reference> selection;
        bool picking = false, drawing = false;
        QColor color;
        std::vector<scene::Highlight> highlights;
    };
    ChosenHighlights chosen_highlights_; ///< of the selection, and of what the open card refers to
};

} // namespace kervo::app
