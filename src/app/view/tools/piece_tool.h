// The open cut: its pieces, which are pointed at, clicked and framed; and the bodies that it cuts and cuts with.
#pragma once

#include "app/view/frame.h"
#include "app/view/viewport.h"

namespace kervo::app {

class PieceTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override;
    [[nodiscard]] QString hint() const override;
    bool hover(const Pointer& pointer) override;
    void leave() override;
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer, bool dragged) override;
    bool click(const Pointer& pointer) override;
    bool click_body(const model::BodyId& body, const Pointer& pointer) override;
    void paint(QPainter& painter) override;
    void take_picture() override { under_ = -1; }

    /// Index into the card's pieces; -1: none.
    void point_out(int piece);

signals:
    void piece_hovered(int piece);
    void piece_clicked(int piece);
    void pieces_framed(const std::vector<int>& pieces);
    void body_clicked(const kervo::model::BodyId& body);

private:
    /// The one under the pointer that lies inside a cutter; -1: none.
    [[nodiscard]] int piece_at(const QPointF& at) const;
    void point_at(int piece);
    void paint_piece(QPainter& painter, const model::Piece& piece, const scene::PieceLines& lines, bool pointed_out);
    [[nodiscard]] double seen_size(const Bnd_Box& box) const;

    Frame frame_;
    int under_ = -1;       ///< the pointer
    int pointed_out_ = -1; ///< here or on the card
};

} // namespace kervo::app
