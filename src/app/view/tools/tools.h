// Each tool of the stack, by the function that makes it.
#pragma once

#include "app/view/viewport.h"

namespace kervo::app {

std::unique_ptr<ViewTool> make_look_tool(Viewport& view);
std::unique_ptr<ViewTool> make_select_tool(Viewport& view);
std::unique_ptr<ViewTool> make_piece_tool(Viewport& view);
std::unique_ptr<ViewTool> make_region_tool(Viewport& view);
std::unique_ptr<ViewTool> make_sketch_tool(Viewport& view);
std::unique_ptr<ViewTool> make_answer_tool(Viewport& view);
std::unique_ptr<ViewTool> make_copy_tool(Viewport& view);
std::unique_ptr<ViewTool> make_row_tool(Viewport& view);
std::unique_ptr<ViewTool> make_net_tool(Viewport& view);
std::unique_ptr<ViewTool> make_dimension_tool(Viewport& view);
std::unique_ptr<ViewTool> make_blade_tool(Viewport& view);
std::unique_ptr<ViewTool> make_cutaway_tool(Viewport& view);
std::unique_ptr<ViewTool> make_mark_tool(Viewport& view);
std::unique_ptr<ViewTool> make_shade_tool(Viewport& view);

} // namespace kervo::app
