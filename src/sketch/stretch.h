// A stretch of a curve in the plane: a line, an arc, a part of an ellipse or of a B-spline. Where it lies, how it runs,
// what it encloses. Everything that works on what is drawn (regions, trimming, checks, snapping) works on stretches.
#pragma once

#include "sketch/spline.h"

#include <memory>
#include <utility>
#include <vector>

namespace kervo::sketch {

enum class StretchKind { line, arc, ellipse, spline };

/// Turned, scaled and shifted, mirrored about the x-axis before where wanted: (a x - b y, b x + a y) + shift.
struct Similarity {
    double a = 1, b = 0;
    Point2 shift{};
    bool mirrored = false;

    [[nodiscard]] double scale() const;
    [[nodiscard]] double turn() const; ///< rad
    [[nodiscard]] Point2 operator()(const Point2& p) const;
};
Similarity turned_about(const Point2& center, double angle);

/// Lines run from `start` to `end`. The others run over their own parameter from `from` to `from + sweep` (signed): of
/// arcs the angle, of ellipses the eccentric angle, of splines the spline's parameter.
struct Stretch {
    int curve = 0;     ///< id of the curve, or of the figure that draws it
    std::string piece; ///< of figures: which of what they draw
    StretchKind kind = StretchKind::line;
    Point2 start{}, end{};
    Point2 center{};   ///< of arcs and ellipses
    double radius = 0; ///< of arcs; of ellipses the half of the axis across `axis`
    Point2 axis{};     ///< of ellipses: from the centre to where the eccentric angle is 0
    double from = 0, sweep = 0;
    std::shared_ptr<const Spline> spline;

    [[nodiscard]] bool round() const { return kind == StretchKind::arc; }
    /// Neither line nor arc: what is exact for those is found step by step here.
    [[nodiscard]] bool free() const { return kind == StretchKind::ellipse || kind == StretchKind::spline; }
    [[nodiscard]] bool closed(double tolerance) const;

    [[nodiscard]] Point2 at(double t) const;     ///< t in 0..1
    [[nodiscard]] Motion motion(double t) const; ///< derivatives by t
    [[nodiscard]] double length() const;
    [[nodiscard]] Stretch part(double t0, double t1) const;
    [[nodiscard]] Stretch reversed() const;
    [[nodiscard]] Stretch placed(const Similarity& similarity) const;
    /// What names the sides that it makes: "5", of figures "12.3.1".
    [[nodiscard]] std::string label() const;
    /// The parameter that lies `way` mm from the start, along it; held within 0..1.
    [[nodiscard]] double at_length(double way) const;
    [[nodiscard]] double heading(bool at_start) const; ///< direction of travel at an end, rad
    [[nodiscard]] double bend() const;                 ///< signed curvature at the start, 1/mm
    [[nodiscard]] double area_term() const;            ///< its part of the area by Green's theorem, mm^2
    [[nodiscard]] std::array<double, 4> box() const;   ///< xmin ymin xmax ymax; never too small

    friend bool operator==(const Stretch& a, const Stretch& b);
};

Stretch line_between(const Point2& a, const Point2& b, int curve = 0);
/// From angle `from` over `sweep`, rad.
Stretch arc_about(const Point2& center, double radius, double from, double sweep, int curve = 0);
Stretch ellipse_about(const Point2& center, const Point2& axis, double other_half, double from, double sweep,
                      int curve = 0);
Stretch stretch_over(std::shared_ptr<const Spline> spline, int curve = 0);

double distance(const Point2& a, const Point2& b);
/// Where a point of the sketch lies; the origin where there is none of that id.
Point2 place_of(const Sketch& sketch, int point);

/// Parameter of the place on the stretch that is nearest to `p`. Of lines and arcs it may lie beyond 0..1.
double nearest_parameter(const Stretch& stretch, const Point2& p);
/// The same, held within the stretch, and how far away it is, mm.
std::pair<double, double> nearest_on(const Stretch& stretch, const Point2& p);

/// Parameters that divide a stretch into parts on which x and y run one way, so that a part lies in the box of its
/// ends; with 0 and 1.
std::vector<double> monotone_parts(const Stretch& stretch);

/// Pairs of parameters (on a, on b) where the two meet, also where they touch; for stretches that run along each other,
/// the ends of what they share. `tolerance` in mm. `unclear` becomes true where free curves run so near to each other
/// that their meetings cannot be counted.
std::vector<std::pair<double, double>> meetings(const Stretch& a, const Stretch& b, double tolerance,
                                                bool* unclear = nullptr);

/// Pairs of parameters where the stretch crosses or touches itself, its closing point left out. `unclear` as above: it
/// runs back on itself.
std::vector<std::pair<double, double>> self_meetings(const Stretch& stretch, double tolerance, bool* unclear = nullptr);

/// How often the loop winds around `p` (0: outside). `p` must not lie on the loop.
int winding(const std::vector<Stretch>& loop, const Point2& p);

/// The stretch as a chain of straight pieces that stray by at most `sag` mm.
std::vector<Point2> flattened(const Stretch& stretch, double sag);

} // namespace kervo::sketch
