// Editing what is drawn: trim, extend, split; round and bevel corners; mirror, repeat, offset; close. Each takes a
// sketch as it is solved and gives a new one, tied together by constraints so that it follows, and a line that tells
// what became of what. The first part of a curve that is cut keeps its id, so that names and regions that hang on it
// stay.
//
//   const auto preview = trim_preview(sketch, curve, {12, 3});   // drawn before the click
//   const Edited edited = trim(sketch, curve, {12, 3});          // "1 closed curve became 1 open one."
#pragma once

#include "sketch/arrangement.h"

#include <set>

namespace kervo::sketch {

struct Edited {
    Sketch sketch;
    std::string told;               ///< what became, in words
    std::optional<Finding> problem; ///< why nothing did; the sketch is then as it was
};

/// An edit that does nothing, and says why.
Edited refuse(const Sketch& sketch, const char* code, const std::string& cause, const std::string& mend);

/// Whether a constraint on a curve of that kind rests on how long the curve is, so that it says nothing of a part of
/// it.
bool rests_on_length(const Constraint& constraint, CurveKind kind);

/// What a click would do: the part that goes, what is added, and the curves that decide where it ends.
struct Preview {
    std::optional<Stretch> part;
    std::vector<Stretch> more;
    std::vector<int> cut_by;
};

/// The part of the curve around `near`, up to the curves that it meets on either side.
Preview trim_preview(const Sketch& sketch, int curve, const Point2& near);
Edited trim(const Sketch& sketch, int curve, const Point2& near);

/// Makes the end of a line or arc that is nearest to `near` reach the next curve ahead.
Preview extend_preview(const Sketch& sketch, int curve, const Point2& near);
Edited extend(const Sketch& sketch, int curve, const Point2& near);

/// Splits a curve where `cutters` meet it (none given: all others do); nothing goes.
Edited split(const Sketch& sketch, int curve, const std::vector<int>& cutters = {});
/// Splits a curve at the place nearest to `near`; closed ones are opened there.
Edited split_at(const Sketch& sketch, int curve, const Point2& near);

/// Rounds or bevels the corner that two lines share; `size` is a formula: the radius, or the distance along each line.
Edited round_corner(const Sketch& sketch, int point, const std::string& size, double value);
Edited bevel_corner(const Sketch& sketch, int point, const std::string& size, double value);

/// Mirrored copies of curves and points about a line, held symmetric to them.
Edited mirror(const Sketch& sketch, const std::set<int>& ids, int line);
/// A row: `count` of the curves and figures in all (a formula, and its value), each shifted against the one before as
/// point `to` lies from point `from`.
Edited repeat_in_line(const Sketch& sketch, const std::set<int>& ids, const std::string& count, double value, int from,
                      int to);
/// A ring: `count` of them in all, evenly around the point `center`.
Edited repeat_in_ring(const Sketch& sketch, const std::set<int>& ids, const std::string& count, double value,
                      int center);

/// A chain or loop of lines, arcs and circles beside another, `value` mm to the side where `side` lies; `distance` is
/// the formula that holds it there. Its corners are sharp, or rounded where `rounded` and they turn outwards.
Edited offset(const Sketch& sketch, const std::set<int>& curves, const std::string& distance, double value,
              const Point2& side, bool rounded);

/// A point more on a spline, at the place nearest to `near`. Open ones led by control points keep their shape; their
/// neighbouring control points move for it.
Edited add_spline_point(const Sketch& sketch, int curve, const Point2& near);
/// Wanted degree, 1 to 5, and whether it runs back to its start.
Edited change_spline(const Sketch& sketch, int curve, int degree, bool closed);

/// Joins two open curves at their nearest ends: lines on one line and arcs of one circle become one curve, which keeps
/// the id of the first; others are made to meet.
Edited join(const Sketch& sketch, int first, int second);

/// A line between the two loose ends of a chain of curves.
Edited close_chain(const Sketch& sketch, const std::set<int>& curves);

} // namespace kervo::sketch
