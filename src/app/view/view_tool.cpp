#include "app/view/viewport.h"

namespace kervo::app {

ViewTool::ViewTool(Viewport& view) : view_(view) {}

Session& ViewTool::session() const {
    return view_.session();
}

InHand& ViewTool::hand() const {
    return view_.hand();
}

ShownModel& ViewTool::shown() const {
    return view_.shown();
}

const Theme& ViewTool::theme() const {
    return view_.theme();
}

QPointF ViewTool::place_of(const Point3& point) const {
    return view_.place_of(point);
}

} // namespace kervo::app
