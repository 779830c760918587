// The tools of a sketch as small drawings: thin lines as on the drawing, what is picked as dots.
#pragma once

#include "app/drawing/draw_tools.h"
#include "app/look/theme.h"

#include <QIcon>

namespace kervo::app {

constexpr int tool_icon_size = 20;

/// `more`: a small corner says that others stand behind it.
QIcon tool_icon(DrawTool tool, const Theme& theme, bool more);
/// Of what is no tool: "guides", "grid", "freeze".
QIcon named_icon(const QString& name, const Theme& theme);

} // namespace kervo::app
