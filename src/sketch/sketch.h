// A sketch: points, curves on them, and constraints between them. Plain data; what is drawn is only the starting value
// for the solver. Points, curves and constraints share one sequence of ids, which are never used twice.
//
//   Sketch s;
//   const int a = s.add_point(0, 0), b = s.add_point(30, 1);
//   const int l = s.add_line(a, b);
//   s.add_constraint(ConstraintKind::horizontal, {l});
//   s.add_constraint(ConstraintKind::distance, {a, b}, "width / 2");
#pragma once

#include "base/formula.h"

#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kervo::sketch {

using Point2 = std::array<double, 2>; // mm, in the sketch's plane

struct Point {
    int id = 0;
    double x = 0, y = 0;
    friend bool operator==(const Point&, const Point&) = default;
};

/// What a curve is taken from; what the texts mean is the model's affair.
struct Source {
    std::string kind; ///< "edge", "section", "silhouette"; none: it is drawn here
    std::string body;
    std::vector<std::string> faces, ends; ///< names that tell the edge
    int number = 0;                       ///< tells several with the same names apart
    bool frozen = false;                  ///< it was taken, and stays where it is
    /// It follows what it was taken from.
    explicit operator bool() const { return !kind.empty() && !frozen; }
    friend bool operator==(const Source&, const Source&) = default;
};

enum class CurveKind { line, circle, arc, ellipse, spline };

/// line: points {start, end}. circle: points {centre} and `radius`. arc: points {centre, start, end}, counterclockwise.
/// ellipse: points {centre, end of one axis} and `radius`, half of the other axis; a part of one has points {centre,
/// end of one axis, start, end}, counterclockwise. spline: points {control points or points it runs through}.
struct Curve {
    int id = 0;
    CurveKind kind = CurveKind::line;
    std::vector<int> points;
    double radius = 0;         ///< mm; of circles and ellipses only
    bool construction = false; ///< helps drawing, bounds no region
    int degree = 3;            ///< of splines: 1 to 5
    bool closed = false;       ///< of splines
    bool through = false;      ///< of splines: it runs through its points, else they are its control points
    std::vector<double> knots; ///< of open splines by control points; none: evenly spaced ones
    Source source;             ///< what of the model it is taken from; it is held where that lies, unless frozen
    friend bool operator==(const Curve&, const Curve&) = default;
};

enum class ConstraintKind {
    coincident,          ///< two points, or a point and a curve it lies on
    horizontal,          ///< a line, or two points
    vertical,            ///< a line, or two points
    parallel,            ///< two lines
    perpendicular,       ///< two lines
    tangent,             ///< two curves touch: a line and a circle, arc or ellipse, or two circles or arcs; any two at
                         ///< an end that they share
    equal,               ///< two lines (length), or two circles or arcs (radius)
    concentric,          ///< two circles or arcs
    fixed,               ///< a point, or all of a curve, stays where it is drawn
    symmetric,           ///< two points, or two circles or arcs, mirror each other about a line
    midpoint,            ///< a point in the middle of a line, or of two points
    collinear,           ///< two lines lie on one
    smooth,              ///< two curves share an end, run the same way there and are bent alike
    pattern,             ///< three or more points, evenly spaced on a line in their order
    distance,            ///< a line, two points, or a point and a line
    horizontal_distance, ///< two points, signed from the first to the second
    vertical_distance,   ///< two points, signed from the first to the second
    radius,              ///< a circle or arc
    diameter,            ///< a circle or arc
    angle,               ///< two lines, counterclockwise from the first to the second
    arc_length           ///< an arc, or all round a circle
};

/// All kinds with their names in files, in the order of the enumeration.
const std::vector<std::pair<ConstraintKind, std::string>>& constraint_names();
const std::vector<std::pair<CurveKind, std::string>>& curve_names();
bool is_dimension(ConstraintKind kind);
/// Circles and ellipses carry a number beside their points.
bool has_radius(CurveKind kind);
/// A length or an angle; of dimensions only.
Dimension dimension_of(ConstraintKind kind);

struct Constraint {
    int id = 0;
    ConstraintKind kind = ConstraintKind::coincident;
    std::vector<int> on;   ///< ids of points and curves
    Expression value;      ///< of dimensions only
    bool measured = false; ///< of dimensions: it tells its value and holds nothing
    friend bool operator==(const Constraint&, const Constraint&) = default;
};

/// A number that a formula gives, in mm or rad. Two are equal when their formulas are.
struct Number {
    Expression formula;
    double value = 0; ///< as last solved
    friend bool operator==(const Number& a, const Number& b) { return a.formula == b.formula; }
};

/// What a recipe draws instead of a hand, curve by curve.
enum class FigureKind {
    text,    ///< words in a font
    artwork, ///< outlines from a file
    ring,    ///< curves and figures repeated around a point
    row      ///< the same, repeated along a line
};
/// Which areas of an outline are filled; `own`: as each of its shapes says.
enum class FillRule { own, nonzero, even_odd, none };
enum class TextAlign { start, middle, end };

struct Artwork; // figures.h

/// text, artwork: points {where it begins, where its base line leads}. ring: {centre}. row: {from, to}, the shift from
/// one copy to the next.
struct Figure {
    int id = 0;
    FigureKind kind = FigureKind::text;
    std::vector<int> points;
    std::vector<int> of; ///< of rings and rows: curves and figures that are repeated, all older than this
    Number size;         ///< text: height of its capitals; artwork: its width; ring and row: how many in all
    Number
        spacing; ///< text: what is added between letters; ring: angle from one to the next, evenly around where empty
    std::string text;
    std::string font; ///< family; none: the technical lettering
    TextAlign align = TextAlign::start;
    int along = 0;         ///< text: the curve that its base line follows; 0: the line from point to point
    bool reversed = false; ///< text along a curve: against its direction; artwork: mirrored about its base line
    FillRule fill = FillRule::own;
    std::shared_ptr<const Artwork> artwork;
    friend bool operator==(const Figure& a, const Figure& b);
};

const std::vector<std::pair<FigureKind, std::string>>& figure_names();
const std::vector<std::pair<FillRule, std::string>>& fill_names();
const std::vector<std::pair<TextAlign, std::string>>& align_names();
/// Of a figure's size and spacing: a length, an angle or a plain number.
Dimension size_dimension(FigureKind kind);
Dimension spacing_dimension(FigureKind kind);

struct Sketch {
    std::vector<Point> points;
    std::vector<Curve> curves;
    std::vector<Constraint> constraints;
    std::vector<Figure> figures;
    int last_id = 0;

    int add_point(double x, double y);
    int add_line(int start, int end);
    int add_circle(int center, double radius);
    int add_arc(int center, int start, int end);
    int add_ellipse(int center, int axis_end, double other_half);
    int add_ellipse_arc(int center, int axis_end, double other_half, int start, int end);
    int add_spline(std::vector<int> curve_points, int degree, bool closed, bool through);
    /// `fresh` with an id of its own.
    int add_figure(Figure fresh);
    int add_constraint(ConstraintKind kind, std::vector<int> on, std::string formula = {});
    /// Four lines with their constraints, from one corner to the opposite one; ids of the lines: bottom, right, top,
    /// left.
    std::array<int, 4> add_rectangle(Point2 corner, Point2 opposite);

    [[nodiscard]] const Point* point(int id) const;
    [[nodiscard]] const Curve* curve(int id) const;
    [[nodiscard]] const Figure* figure(int id) const;
    [[nodiscard]] Point* point(int id);
    [[nodiscard]] Curve* curve(int id);
    [[nodiscard]] Figure* figure(int id);
    [[nodiscard]] bool has(int id) const {
        return point(id) != nullptr || curve(id) != nullptr || figure(id) != nullptr;
    }

    /// Removes a curve, point or figure with all that hangs on it (constraints, points used by nothing else, curves and
    /// figures on the point, figures that repeat nothing else). Splines go on without the point, where enough are left.
    void remove(int id);

    friend bool operator==(const Sketch&, const Sketch&) = default;

private:
    int add(CurveKind kind, std::vector<int> curve_points, double radius);
};

/// The points at which an open curve ends; none of closed ones.
std::vector<int> end_points(const Curve& curve);

/// Which curves share ends: by using one point, or by points that are constrained to be one.
class SharedEnds {
public:
    explicit SharedEnds(const Sketch& sketch);
    /// Which of their points it is, counted within each curve; nothing where they share none.
    [[nodiscard]] std::optional<std::array<int, 2>> between(const Curve& first, const Curve& second) const;
    [[nodiscard]] bool same(int point, int other) const { return top(point) == top(other); }

private:
    [[nodiscard]] int top(int point) const;
    std::map<int, int> same_as_;
};

/// Calls `visit(formula, dimension)` for every formula of the sketch.
template <class Sketched, class Visit> void for_each_formula(Sketched& sketch, Visit&& visit) {
    for (auto& constraint : sketch.constraints) {
        if (is_dimension(constraint.kind)) {
            visit(constraint.value, dimension_of(constraint.kind));
        }
    }
    for (auto& figure : sketch.figures) {
        visit(figure.size.formula, size_dimension(figure.kind));
        if (!figure.spacing.formula.text.empty()) {
            visit(figure.spacing.formula, spacing_dimension(figure.kind));
        }
    }
}

/// Whether a curve has all it needs to lie somewhere: points that exist, a size.
bool is_sound(const Sketch& sketch, const Curve& curve);

/// Structural mistakes, as a file written by hand may have them: unknown ids, doubles, wrong number of operands.
Findings check_structure(const Sketch& sketch);

} // namespace kervo::sketch
