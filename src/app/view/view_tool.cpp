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

QPointF ViewTool::place_of(const gp_Pnt& point) const {
    return view_.place_of(point);
}

QPointF ViewTool::place_of(const std::array<double, 3>& point) const {
    return view_.place_of(gp_Pnt(point[0], point[1], point[2]));
}

} // namespace kervo::app
