// Stretches become curves of a sketch.
#include "sketch/figures.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

// Adds curves for stretches; ends that lie together are one point.
class Draughtsman {
public:
    explicit Draughtsman(Sketch& sketch) : sketch_(sketch) {}

    int add(const Stretch& s) {
        const bool closed = s.closed(joining_tolerance);
        switch (s.kind) {
        case StretchKind::line:
            return sketch_.add_line(joint(s.start), joint(s.end));
        case StretchKind::arc:
            if (closed) {
                return sketch_.add_circle(joint(s.center), s.radius);
            }
            return s.sweep > 0 ? sketch_.add_arc(joint(s.center), joint(s.start), joint(s.end))
                               : sketch_.add_arc(joint(s.center), joint(s.end), joint(s.start));
        case StretchKind::ellipse: {
            const int center = joint(s.center);
            const int tip = own({s.center[0] + s.axis[0], s.center[1] + s.axis[1]});
            if (closed) {
                return sketch_.add_ellipse(center, tip, s.radius);
            }
            return s.sweep > 0 ? sketch_.add_ellipse_arc(center, tip, s.radius, joint(s.start), joint(s.end))
                               : sketch_.add_ellipse_arc(center, tip, s.radius, joint(s.end), joint(s.start));
        }
        case StretchKind::spline:
            break;
        }
        const Spline run = s.spline->segment(std::min(s.from, s.from + s.sweep), std::max(s.from, s.from + s.sweep));
        std::vector<int> points;
        for (size_t i = 0; i < run.poles.size(); ++i) {
            const bool end = i == 0 || i + 1 == run.poles.size();
            points.push_back(end ? joint(run.poles[i]) : own(run.poles[i]));
        }
        if (points.front() == points.back()) { // it ends on its own start: two points, held together
            points.back() = own(run.poles.back());
            sketch_.add_constraint(ConstraintKind::coincident, {points.front(), points.back()});
        }
        const int id = sketch_.add_spline(points, run.degree, false, false);
        sketch_.curve(id)->knots = run.knots;
        return id;
    }

private:
    int own(const Point2& place) { return sketch_.add_point(place[0], place[1]); }
    int joint(const Point2& place) {
        for (const auto& [where, point] : joints_) {
            if (distance(where, place) <= joining_tolerance) {
                return point;
            }
        }
        joints_.emplace_back(place, own(place));
        return joints_.back().second;
    }

    Sketch& sketch_;
    std::vector<std::pair<Point2, int>> joints_;
};

} // namespace

std::vector<int> add_curves(Sketch& sketch, const std::vector<Stretch>& stretches) {
    Draughtsman draughtsman(sketch);
    std::vector<int> ids;
    for (const Stretch& stretch : stretches) {
        if (stretch.length() > joining_tolerance) {
            ids.push_back(draughtsman.add(stretch));
        }
    }
    return ids;
}

bool lay(Sketch& sketch, int id, const Stretch& where) {
    Curve* curve = sketch.curve(id);
    const auto put = [&](size_t index, const Point2& place) {
        if (Point* point = sketch.point(curve->points[index])) {
            point->x = place[0];
            point->y = place[1];
        }
    };
    const bool closed = where.closed(joining_tolerance);
    const Point2& first = where.sweep > 0 ? where.start : where.end; // arcs run counterclockwise
    const Point2& last = where.sweep > 0 ? where.end : where.start;
    switch (where.kind) {
    case StretchKind::line:
        if (curve->kind != CurveKind::line) {
            return false;
        }
        put(0, where.start);
        put(1, where.end);
        return true;
    case StretchKind::arc:
        if (curve->kind != (closed ? CurveKind::circle : CurveKind::arc)) {
            return false;
        }
        put(0, where.center);
        if (closed) {
            curve->radius = where.radius;
        } else {
            put(1, first);
            put(2, last);
        }
        return true;
    case StretchKind::ellipse:
        if (curve->kind != CurveKind::ellipse || curve->points.size() != (closed ? 2U : 4U)) {
            return false;
        }
        put(0, where.center);
        put(1, {where.center[0] + where.axis[0], where.center[1] + where.axis[1]});
        curve->radius = where.radius;
        if (!closed) {
            put(2, first);
            put(3, last);
        }
        return true;
    case StretchKind::spline:
        break;
    }
    const Spline run = where.spline->segment(std::min(where.from, where.from + where.sweep),
                                             std::max(where.from, where.from + where.sweep));
    if (curve->kind != CurveKind::spline || curve->points.size() != run.poles.size() || curve->degree != run.degree) {
        return false;
    }
    for (size_t i = 0; i < run.poles.size(); ++i) {
        put(i, run.poles[i]);
    }
    curve->knots = run.knots;
    return true;
}

} // namespace kervo::sketch
