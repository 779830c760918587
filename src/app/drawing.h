// Drawing a sketch by mouse and keyboard: tools, snapping, typed dimensions. Works in the sketch's own coordinates and
// knows nothing of pixels but their size; hands every finished change back as a whole new sketch.
#pragma once

#include "sketch/arrangement.h"

#include <QString>

#include <functional>
#include <optional>
#include <set>

namespace kervo::app {

enum class DrawTool { select, line, rectangle, circle, arc, dimension };

struct Snap {
    sketch::Point2 at{};
    int point = 0;      ///< id of the point it snapped to; 0: none
    int curve = 0;      ///< id of the curve it lies on; 0: none
    QString what;       ///< "end", "centre", "origin", "level", ...
    bool level = false; ///< on one level with the last place
    bool plumb = false; ///< straight above or below it
};

class Drawing {
public:
    using Commit = std::function<void(const sketch::Sketch&)>;

    void begin(const sketch::Sketch& solved, Commit commit);
    /// The sketch as it is now solved; keeps the tool and what is half drawn.
    void refresh(const sketch::Sketch& solved);
    void set_tool(DrawTool tool);
    [[nodiscard]] DrawTool tool() const { return tool_; }
    [[nodiscard]] const sketch::Sketch& drawn() const { return sketch_; }

    /// Where a click at `place` would land; `reach` is the snap distance in mm.
    [[nodiscard]] Snap snap(const sketch::Point2& place, double reach) const;
    void hover(const sketch::Point2& place, double reach);
    void click(const sketch::Point2& place, double reach);
    /// Steps back by one: drops what is half drawn, else the tool, else the selection. False when there was nothing.
    bool escape();
    bool remove_selected();

    /// What may be typed now: labels of the numbers, none where nothing is half drawn.
    [[nodiscard]] std::vector<QString> asks_for() const;
    /// Finishes what is half drawn with typed formulas; empty ones are taken from the pointer.
    void finish_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters);

    /// Adds the constraint to what is selected; says why not where that makes no sense.
    QString constrain(sketch::ConstraintKind kind, const std::string& formula = {});
    /// The dimension that the present selection would get, by its length, distance, diameter or angle as drawn.
    [[nodiscard]] std::optional<std::pair<sketch::ConstraintKind, double>> dimension_of_selection() const;

    [[nodiscard]] const Snap& pointer() const { return pointer_; }
    [[nodiscard]] const std::vector<Snap>& placed() const { return placed_; }
    [[nodiscard]] const std::set<int>& selected() const { return selected_; }
    /// What is half drawn, to be shown.
    [[nodiscard]] std::vector<sketch::Stretch> rubber() const;
    [[nodiscard]] QString hint() const;

private:
    int point_for(sketch::Sketch& next, const Snap& snap) const;
    void add_line(const Snap& end, const std::string& length);
    void add_rectangle(const Snap& corner, const std::vector<std::string>& sizes);
    void add_circle(double radius, const std::string& diameter);
    void add_arc(const Snap& end);
    void take(sketch::Sketch next);

    sketch::Sketch sketch_;
    Commit commit_;
    DrawTool tool_ = DrawTool::select;
    std::vector<Snap> placed_;
    Snap pointer_;
    std::set<int> selected_;
};

/// The curve or point of the sketch nearest to a place, within reach; 0: none. Points win over curves.
int nearest_in_sketch(const sketch::Sketch& sketch, const sketch::Point2& place, double reach);

} // namespace kervo::app
