// The open cut: its pieces, which are pointed at, clicked and framed; and the bodies that it cuts and cuts with.
#pragma once

#include "app/view/tools/framing_tool.h"

namespace kervo::app {

class PieceTool : public FramingTool {
    Q_OBJECT
public:
    using FramingTool::FramingTool;

    [[nodiscard]] bool in_use() const override;
    [[nodiscard]] QString hint() const override;
    bool hover(const Pointer& pointer) override;
    void leave() override;
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

protected:
    [[nodiscard]] bool frames() const override { return hand().marker() == Marker::work; }
    void take_framed(const Frame& frame) override;

private:
    /// The one under the pointer that lies inside a cutter; -1: none.
    [[nodiscard]] int piece_at(const QPointF& at) const;
    [[nodiscard]] int curve_at(const Line3& ray, double depth) const;
    void point_at(int piece);
    void paint_piece(QPainter& painter, const model::Piece& piece, const scene::PieceLines& lines, bool pointed_out);
    [[nodiscard]] double seen_size(const Box3& box) const;

    int under_ = -1;       ///< the pointer
    int pointed_out_ = -1; ///< here or on the card
};

} // namespace kervo::app
