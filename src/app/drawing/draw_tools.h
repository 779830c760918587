// The tools of a sketch: what each is called, what it asks for, pick by pick. The card, the verbs and the hints all
// read this one table.
#pragma once

#include <QString>

#include <vector>

namespace kervo::app {

enum class DrawTool {
    select,
    line,
    rectangle,
    center_rectangle,
    slanted_rectangle,
    circle,
    circle_by_three,
    circle_touching,
    arc,
    arc_by_three,
    tangent_arc,
    ellipse,
    slot,
    polygon,
    spline,
    control_spline,
    point,
    text,
    dimension,
    trim,
    extend,
    split,
    join,
    close_chain,
    spline_point,
    round,
    bevel,
    offset,
    round_offset,
    mirror,
    repeat_line,
    repeat_ring,
    take_edges,
    take_section,
    take_silhouette
};

struct DrawToolInfo {
    DrawTool tool;
    QString id;                             ///< of its verb
    QString title;                          ///< on its button
    QString verb;                           ///< in lists of verbs, where there is room
    QString help;                           ///< one sentence
    QString shortcut;                       ///< may be empty
    bool changes = false;                   ///< works on what is drawn, instead of drawing
    size_t places = 0;                      ///< picks that it takes; 0: as many as are wanted, ended by Enter
    std::vector<QString> prompts;           ///< what each next pick is for
    std::vector<std::vector<QString>> asks; ///< numbers that may be typed, after so many picks
    bool takes = false;                     ///< picks in the model, and draws what it finds there
};

const std::vector<DrawToolInfo>& draw_tools();
/// Those that do nearly the same stand together, the most common first.
const std::vector<std::vector<DrawTool>>& draw_tool_groups();
const DrawToolInfo& info_of(DrawTool tool);

} // namespace kervo::app
