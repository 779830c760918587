#include "app/view/tools/mark_tool.h"

#include "app/view/tools/tools.h"

namespace kervo::app {

void MarkTool::paint(QPainter& painter) {
    painter.setPen(QPen(theme().finding, 2));
    for (const Places* places : {&pointed_out_, &marked_}) {
        for (const auto& place : *places) {
            const QPointF at = place_of(place);
            painter.drawEllipse(at, 9, 9);
            painter.drawLine(at - QPointF(14, 0), at - QPointF(4, 0));
            painter.drawLine(at + QPointF(4, 0), at + QPointF(14, 0));
            painter.drawLine(at - QPointF(0, 14), at - QPointF(0, 4));
            painter.drawLine(at + QPointF(0, 4), at + QPointF(0, 14));
        }
    }
}

void MarkTool::point_out(const Places& places) {
    pointed_out_ = places;
    view().repaint_ink();
}

void MarkTool::mark(const Places& places) {
    marked_ = places;
    view().repaint_ink();
}

std::unique_ptr<ViewTool> make_mark_tool(Viewport& view) {
    return std::make_unique<MarkTool>(view);
}

} // namespace kervo::app
