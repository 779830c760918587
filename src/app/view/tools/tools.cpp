#include "app/view/tools/tools.h"

namespace kervo::app {

namespace {

std::vector<MakeViewTool>& list() {
    // From the bottom up: what stands above is asked first, and paints over what stands below.
    static std::vector<MakeViewTool> all{make_look_tool,   make_select_tool,    make_piece_tool, make_region_tool,
                                         make_sketch_tool, make_answer_tool,    make_copy_tool,  make_row_tool,
                                         make_net_tool,    make_dimension_tool, make_blade_tool, make_cutaway_tool,
                                         make_shade_tool,  make_mark_tool};
    return all;
}

} // namespace

const std::vector<MakeViewTool>& view_tools() {
    return list();
}

void add_view_tool(MakeViewTool make) {
    list().push_back(std::move(make));
}

} // namespace kervo::app
