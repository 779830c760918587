// Where the curves of a sketch lie.
#include "sketch/arrangement.h"

#include <cmath>
#include <numbers>

namespace kervo::sketch {

Stretch stretch_of(const Sketch& sketch, const Curve& curve) {
    const auto place = [&](size_t i) -> Point2 {
        const Point* p = sketch.point(curve.points[i]);
        return {p->x, p->y};
    };
    constexpr double full_turn = 2 * std::numbers::pi;
    const auto sweep_between = [](double from, double to) {
        const double sweep = std::fmod(to - from, full_turn);
        return sweep <= 0 ? sweep + full_turn : sweep;
    };
    Stretch s;
    switch (curve.kind) {
    case CurveKind::line:
        return line_between(place(0), place(1), curve.id);
    case CurveKind::circle:
        return arc_about(place(0), curve.radius, 0, full_turn, curve.id);
    case CurveKind::arc: {
        const auto angle = [&](size_t i) { return std::atan2(place(i)[1] - place(0)[1], place(i)[0] - place(0)[0]); };
        s = arc_about(place(0), distance(place(0), place(1)), angle(1), sweep_between(angle(1), angle(2)), curve.id);
        break;
    }
    case CurveKind::ellipse: {
        const Point2 axis{place(1)[0] - place(0)[0], place(1)[1] - place(0)[1]};
        if (curve.points.size() == 2) {
            return ellipse_about(place(0), axis, curve.radius, 0, full_turn, curve.id);
        }
        const double half = std::hypot(axis[0], axis[1]);
        const auto angle = [&](size_t i) { // the eccentric angle
            const double x = place(i)[0] - place(0)[0];
            const double y = place(i)[1] - place(0)[1];
            return std::atan2((y * axis[0] - x * axis[1]) / half / curve.radius,
                              (x * axis[0] + y * axis[1]) / half / half);
        };
        s = ellipse_about(place(0), axis, curve.radius, angle(2), sweep_between(angle(2), angle(3)), curve.id);
        s.start = place(2);
        s.end = place(3);
        return s;
    }
    case CurveKind::spline: {
        std::vector<Point2> points;
        for (size_t i = 0; i < curve.points.size(); ++i) {
            points.push_back(place(i));
        }
        return stretch_over(std::make_shared<const Spline>(spline_of(curve, points)), curve.id);
    }
    }
    // The ends as they are drawn, to the last digit, so that what is joined stays joined.
    s.start = place(1);
    s.end = place(2);
    return s;
}

std::vector<Stretch> stretches_of(const Sketch& sketch, bool with_construction) {
    std::vector<Stretch> stretches;
    for (const Curve& curve : sketch.curves) {
        if ((!curve.construction || with_construction) && is_sound(sketch, curve)) {
            const Stretch s = stretch_of(sketch, curve);
            if (s.length() > joining_tolerance) {
                stretches.push_back(s);
            }
        }
    }
    return stretches;
}

} // namespace kervo::sketch
