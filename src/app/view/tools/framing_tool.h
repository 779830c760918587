// What tools share that let a frame be dragged: with Ctrl and the left button.
#pragma once

#include "app/view/frame.h"
#include "app/view/viewport.h"

namespace kervo::app {

class FramingTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    bool press(const Pointer& pointer) final;
    void drag(const Pointer& pointer) final;
    void release(const Pointer& pointer, bool dragged) final;

protected:
    /// Whether a drag frames something now.
    [[nodiscard]] virtual bool frames() const { return true; }
    virtual void take_framed(const Frame& frame) = 0;
    void paint_frame(QPainter& painter) const;

private:
    Frame frame_;
};

} // namespace kervo::app
