// Drawing the sketch of the open card: hands the mouse and the keyboard to a `Drawing`, in the sketch's own
// coordinates, and shows what it draws.
#pragma once

#include "app/drawing/drawing.h"
#include "app/view/frame.h"
#include "app/view/viewport.h"

namespace kervo::app {

class SketchTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override { return draws() && !hand().target(); }
    [[nodiscard]] QString hint() const override;
    [[nodiscard]] std::optional<QCursor> cursor() const override;
    [[nodiscard]] std::optional<LooksFor> looks_for() const override;
    bool hover(const Pointer& pointer) override;
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer, bool dragged) override;
    bool click(const Pointer& pointer) override;
    bool double_click(const Pointer& pointer) override;
    [[nodiscard]] bool wants_key(const QKeyEvent& key) const override;
    bool press_key(const QKeyEvent& key) override;
    bool escape() override;
    void paint(QPainter& painter) override;
    void take_picture() override;
    void take_changes() override;
    std::vector<Verb> verbs() override;

    [[nodiscard]] Drawing& drawing() { return drawing_; }
    [[nodiscard]] bool draws() const { return hand().drawn_step() != 0; }
    void set_draw_tool(DrawTool tool);
    void toggle_guides();
    void freeze();
    void toggle_grid();
    [[nodiscard]] bool grid() const { return grid_; }
    [[nodiscard]] double grid_step() const; ///< mm; 0: no grid

signals:
    /// Tool, selection or what is drawn.
    void drawing_changed();
    void check_asked();

private:
    /// The tool of the sketch picks in the model.
    [[nodiscard]] bool takes() const { return info_of(drawing_.tool()).takes; }
    /// Nothing is drawn, and no tool is in hand: a click on a flat face lays the sketch onto it.
    [[nodiscard]] bool is_blank() const;
    void lie_down();
    [[nodiscard]] double reach() const; ///< mm in which the pointer snaps
    void changed();
    void tell_pointer();
    void take_hovered();
    void select_framed(bool more);
    void ask_for_numbers(const QString& first);
    void type_dimension(int constraint);
    [[nodiscard]] std::vector<Beside> other_sketches() const;
    /// What lies beside the sketch under the pointer.
    [[nodiscard]] std::vector<Beside> beside_at(const QPointF& at);
    /// The edge as curves of the sketch's plane; none until the evaluator has answered, which asks for it again.
    [[nodiscard]] std::vector<sketch::Stretch> seen_in_plane(const scene::Picked& edge);

    void paint_grid(QPainter& painter) const;
    void paint_axes(QPainter& painter) const;
    void paint_curves(QPainter& painter) const;
    void paint_points(QPainter& painter, const model::SketchResult* solved) const;
    void paint_dimensions(QPainter& painter, const sketch::Solution& solution);
    void paint_half_drawn(QPainter& painter) const;
    void paint_edit_preview(QPainter& painter) const;
    void paint_lens(QPainter& painter) const;

    Drawing drawing_;
    Frame frame_;
    bool frames_ = false;
    bool grid_ = false;
    std::vector<Beside> beside_sketches_;
    struct SeenEdge { ///< as last asked for
        std::optional<TakeQuestion> question;
        std::weak_ptr<const Picture> picture;
        std::vector<sketch::Stretch> stretches;
        bool answered = false;
    };
    SeenEdge seen_edge_;
    Pointer pointer_;                                     ///< where it was last
    std::optional<Pointer> click_;                        ///< that waits for the answer
    std::vector<std::pair<QRectF, int>> dimension_texts_; ///< where dimensions are written, by constraint
};

} // namespace kervo::app
