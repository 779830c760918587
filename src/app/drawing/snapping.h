// Where the pointer lands in a sketch: ends, middles, centres, quadrants, crossings, feet, tangents, curves, what lies
// beside the sketch (edges of bodies, other sketches), the grid.
//
//   const auto snaps = snaps_near({sketch, {}, last, 0}, place, 2.5);   // best first; empty: nothing within reach
#pragma once

#include "sketch/arrangement.h"

#include <QString>

#include <optional>
#include <vector>

namespace kervo::app {

enum class SnapKind {
    none,
    end,
    centre,
    origin,
    middle,
    quadrant,
    crossing,
    square,  ///< the foot of the perpendicular from the last place
    tangent, ///< where a line from the last place touches
    on_curve,
    level,
    plumb,
    turn, ///< a whole step of the angle from the last place
    grid
};
QString word_for(SnapKind kind);

struct Snap {
    sketch::Point2 at{};
    int point = 0; ///< id of the point it snapped to; 0: none
    int curve = 0; ///< id of the curve it lies on; 0: none
    SnapKind kind = SnapKind::none;
    QString what;       ///< the same in words
    bool level = false; ///< on one level with the last place
    bool plumb = false; ///< straight above or below it
    bool fixed = false; ///< typed by its coordinates: it stays there
};

/// The same place, tied to nothing.
Snap untied(const Snap& snap);

/// What is not of the sketch, but can be snapped to. It ties nothing.
struct Beside {
    QString name;
    std::vector<sketch::Stretch> stretches;
    std::vector<sketch::Point2> points;
};

struct SnapField {
    const sketch::Sketch& sketch;
    const std::vector<Beside>& beside;
    std::optional<sketch::Point2> last; ///< the last place that was picked
    double grid = 0;                    ///< mm between its lines; 0: no grid
};

/// Distinct places within `reach` mm, the one that is meant most likely first. Curves count only where there is no
/// place that stands out, the grid where there is nothing else.
std::vector<Snap> snaps_near(const SnapField& field, const sketch::Point2& place, double reach);

/// 1, 2 or 5 times a power of ten, the smallest that is at least `least` mm.
double round_step(double least);

} // namespace kervo::app
