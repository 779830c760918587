#include "app/drawing/draw_tools.h"

#include <QObject>

#include <algorithm>
#include <initializer_list>

namespace kervo::app {

namespace {

using T = DrawTool;
using Words = std::initializer_list<const char*>;

QString tr(const char* text) {
    return QObject::tr(text);
}

// A line of the table, said in the order in which one would tell it.
class Row {
public:
    explicit Row(DrawToolInfo info) : info_(std::move(info)) {}

    /// What each pick is for; so many it takes.
    Row picks(Words prompts) && {
        for (const char* prompt : prompts) {
            info_.prompts.push_back(tr("Next pick: ") + tr(prompt));
        }
        info_.places = prompts.size();
        return std::move(*this);
    }
    /// It takes as many picks as are wanted.
    Row without_end() && {
        info_.places = 0;
        return std::move(*this);
    }
    /// What may be typed, after so many picks.
    Row types(std::initializer_list<Words> asks) && {
        for (const Words& labels : asks) {
            auto& after = info_.asks.emplace_back();
            std::transform(labels.begin(), labels.end(), std::back_inserter(after), tr);
        }
        return std::move(*this);
    }
    Row changing() && {
        info_.changes = true;
        return std::move(*this);
    }
    Row taking() && {
        info_.takes = true;
        return std::move(*this);
    }
    [[nodiscard]] const DrawToolInfo& info() const { return info_; }

private:
    DrawToolInfo info_;
};

Row tool(T tool, const char* id, const char* title, const char* verb, const char* help, const char* shortcut = "") {
    DrawToolInfo info;
    info.tool = tool;
    info.id = id;
    info.title = tr(title);
    info.verb = tr(verb);
    info.help = tr(help);
    info.shortcut = shortcut;
    return Row(std::move(info));
}

// Those that do nearly the same stand together, the most common first.
using Groups = std::vector<std::vector<Row>>;

Groups selecting_tools() {
    return {{tool(T::select, "select", "Select", "Select in the sketch",
                  "Selects points and curves, drags points; Delete removes them.")},
            {tool(T::dimension, "dimension", "Dimension", "Dimension",
                  "Click a line, a circle or two points, then type.", "N")}};
}

Groups straight_tools() {
    return {{tool(T::line, "line", "Line", "Line", "Lines end to end; type a length to fix it.", "L")
                 .picks({"where the line starts", "where it ends, or type its length"})
                 .types({{}, {"length"}})},
            {tool(T::rectangle, "rectangle", "Rectangle", "Rectangle",
                  "From corner to corner; type width and height to fix them.", "R")
                 .picks({"a corner", "the opposite corner, or type width and height"})
                 .types({{}, {"width", "height"}}),
             tool(T::center_rectangle, "center_rectangle", "Centred", "Rectangle from its centre",
                  "A rectangle from its centre; type width and height to fix them.")
                 .picks({"the centre of the rectangle", "a corner, or type width and height"})
                 .types({{}, {"width", "height"}}),
             tool(T::slanted_rectangle, "slanted_rectangle", "Slanted", "Rectangle by three points",
                  "A rectangle from one side and its height, in any direction; type the height to fix it.")
                 .picks({"where its first side starts", "where that side ends", "how high it is, or type the height"})
                 .types({{}, {}, {"height"}}),
             tool(T::polygon, "polygon", "Polygon", "Polygon",
                  "A regular polygon from its centre; type the number of sides and the diameter over the corners.")
                 .picks({"the centre of the polygon", "a corner, or type sides and diameter"})
                 .types({{}, {"sides", "diameter"}}),
             tool(T::slot, "slot", "Slot", "Slot", "Two centres and the width; type the width to fix it.")
                 .picks({"the centre of one end", "the centre of the other end", "half its width, or type the width"})
                 .types({{}, {}, {"width"}})}};
}

Groups round_tools() {
    return {
        {tool(T::circle, "circle", "Circle", "Circle", "From centre to border; type a diameter to fix it.", "O")
             .picks({"the centre", "a point on it, or type the diameter"})
             .types({{}, {"diameter"}}),
         tool(T::circle_by_three, "circle_by_three", "By three", "Circle through three points",
              "A circle through three points.")
             .picks({"a point on the circle", "a second point on it", "a third point on it"}),
         tool(T::circle_touching, "circle_touching", "Touching", "Circle that touches three",
              "A circle that touches three lines, circles or arcs, or runs through points; it stays in touch.")
             .picks({"a curve, where the circle touches it", "a second curve that it touches",
                     "a third curve that it touches"}),
         tool(T::ellipse, "ellipse", "Ellipse", "Ellipse", "Centre, end of one axis, and how far it reaches across.")
             .picks({"the centre of the ellipse", "the end of one axis", "how far it reaches across"})},
        {tool(T::arc, "arc", "Arc", "Arc", "Centre, start, end, counterclockwise.", "A")
             .picks({"the centre of the arc", "where it starts", "where it ends, counterclockwise"}),
         tool(T::arc_by_three, "arc_by_three", "Bow", "Arc by its ends and a point",
              "An arc by its ends and a point between them.")
             .picks({"where the arc starts", "where it ends", "a point between"}),
         tool(T::tangent_arc, "tangent_arc", "Run on", "Arc that runs on",
              "An arc that runs on smoothly from the end of a curve; type a radius to fix it.")
             .picks({"the end of a curve from which the arc runs on", "where it ends, or type its radius"})
             .types({{}, {"radius"}})}};
}

Groups free_tools() {
    return {
        {tool(T::spline, "spline", "Spline", "Spline through points",
              "A smooth curve through points; Enter ends it, the first point closes it.")
             .picks({"where the spline starts", "its next point; Enter ends it"})
             .without_end(),
         tool(T::control_spline, "control_spline", "Controlled", "Spline by control points",
              "A smooth curve led by control points; Enter ends it, the first point closes it.")
             .picks({"where the spline starts", "its next control point; Enter ends it"})
             .without_end(),
         tool(T::spline_point, "spline_point", "Add point", "Add a point to a spline",
              "Adds a point to a spline where it is clicked; Delete takes a selected one away.")
             .picks({"the spline, where the point is wanted"})
             .changing()},
        {tool(T::point, "point", "Point", "Point", "A point to measure from or to build on.")
             .picks({"where the point lies"}),
         tool(T::text, "text", "Text", "Text",
              "Words on a line, or along the curve on which they start; type them with the height of their capitals.")
             .picks({"where the words start", "where their line leads, or type the words"})
             .types({{}, {"words", "height"}})}};
}

Groups cutting_tools() {
    return {{tool(T::trim, "trim", "Trim", "Trim", "Takes the part of a curve away that lies between others.", "T")
                 .picks({"the part that goes; what cuts it is shown first"})
                 .changing(),
             tool(T::extend, "extend", "Extend", "Extend", "Lengthens a line or arc to the next curve ahead.")
                 .picks({"a line or arc, near the end that should grow"})
                 .changing(),
             tool(T::split, "split", "Split", "Split",
                  "Splits a curve where others cross it; where none does, at the place clicked.")
                 .picks({"the curve to split"})
                 .changing(),
             tool(T::join, "join", "Connect", "Connect two curves",
                  "Makes one curve of two that continue each other; others it makes meet at their nearest ends.")
                 .picks({"a curve to connect", "the curve that it is connected with"})
                 .changing(),
             tool(T::close_chain, "close_chain", "Close", "Close a chain",
                  "Draws the line that is missing between the two loose ends of a chain.")
                 .picks({"the chain to close"})
                 .changing()}};
}

Groups corner_tools() {
    return {{tool(T::round, "round", "Round", "Round a corner", "Rounds the corner of two lines.")
                 .picks({"the corner to round"})
                 .types({{}, {"radius"}})
                 .changing(),
             tool(T::bevel, "bevel", "Bevel", "Bevel a corner", "Bevels the corner of two lines.")
                 .picks({"the corner to bevel"})
                 .types({{}, {"distance"}})
                 .changing()},
            {tool(T::offset, "offset", "Offset", "Offset", "A chain or circle beside another; it follows its source.")
                 .picks({"the chain or circle", "how far and to which side, or type the distance"})
                 .types({{}, {"distance"}})
                 .changing(),
             tool(T::round_offset, "round_offset", "Around", "Offset with round corners",
                  "A chain or circle beside another, rounded where it turns outwards; it follows its source.")
                 .picks({"the chain or circle", "how far and to which side, or type the distance"})
                 .types({{}, {"distance"}})
                 .changing()}};
}

Groups repeating_tools() {
    return {{tool(T::mirror, "mirror", "Mirror", "Mirror", "Mirrors what is selected about a line.")
                 .picks({"the line to mirror about"})
                 .changing(),
             tool(T::repeat_line, "repeat_line", "Row", "Repeat in a row", "Repeats what is selected in a row.")
                 .picks({"where the shift starts", "where it ends"})
                 .types({{}, {}, {"how many in all"}})
                 .changing(),
             tool(T::repeat_ring, "repeat_ring", "Ring", "Repeat in a ring", "Repeats what is selected around a point.")
                 .picks({"the centre of the ring"})
                 .types({{}, {"how many in all"}})
                 .changing()}};
}

Groups taking_tools() {
    return {{tool(T::take_edges, "take_edges", "Edges", "Take edges from the model",
                  "Draws an edge of a body, or all edges of a face, as seen from here; they follow the body.")
                 .picks({"an edge of the model, or a face for all of its edges"})
                 .without_end()
                 .taking(),
             tool(T::take_section, "take_section", "Section", "Take a section of a body",
                  "Draws where the plane of the sketch cuts a body; it follows the body.")
                 .picks({"a body that the plane of the sketch cuts"})
                 .without_end()
                 .taking(),
             tool(T::take_silhouette, "take_silhouette", "Silhouette", "Take the silhouette of a body",
                  "Draws the outline of a body as seen from here; it follows the body.")
                 .picks({"a body whose outline is drawn"})
                 .without_end()
                 .taking()}};
}

struct Table {
    std::vector<DrawToolInfo> tools;
    std::vector<std::vector<DrawTool>> groups;
};

const Table& table() {
    static const Table whole = [] {
        Table made;
        for (const auto& some : {selecting_tools(), straight_tools(), round_tools(), free_tools(), cutting_tools(),
                                 corner_tools(), repeating_tools(), taking_tools()}) {
            for (const std::vector<Row>& rows : some) {
                auto& group = made.groups.emplace_back();
                for (const Row& row : rows) {
                    group.push_back(row.info().tool);
                    made.tools.push_back(row.info());
                }
            }
        }
        return made;
    }();
    return whole;
}

} // namespace

const std::vector<DrawToolInfo>& draw_tools() {
    return table().tools;
}

const std::vector<std::vector<DrawTool>>& draw_tool_groups() {
    return table().groups;
}

const DrawToolInfo& info_of(DrawTool tool) {
    const auto& tools = draw_tools();
    return *std::find_if(tools.begin(), tools.end(), [tool](const DrawToolInfo& info) { return info.tool == tool; });
}

} // namespace kervo::app
