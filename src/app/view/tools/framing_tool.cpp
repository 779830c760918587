#include "app/view/tools/framing_tool.h"

namespace kervo::app {

bool FramingTool::press(const Pointer& pointer) {
    frame_.begin(pointer.at);
    return pointer.button == Qt::LeftButton && pointer.holds(Qt::ControlModifier) && frames();
}

void FramingTool::drag(const Pointer& pointer) {
    frame_.draw_to(pointer.at);
    emit view().hinted(frame_.hint());
}

void FramingTool::release(const Pointer& /*pointer*/, bool dragged) {
    frame_.end();
    if (dragged) {
        take_framed(frame_);
    }
}

void FramingTool::paint_frame(QPainter& painter) const {
    frame_.paint(painter, theme());
}

} // namespace kervo::app
