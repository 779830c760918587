#include "sketch/arc_math.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {
constexpr double full_turn = 2 * std::numbers::pi;

Point2 on_circle(const Stretch& s, double angle) {
    return {s.center[0] + s.radius * std::cos(angle), s.center[1] + s.radius * std::sin(angle)};
}

// Parameter of an angle on an arc, wrapped so that it falls into 0..1 where it can.
double parameter_of_angle(const Stretch& s, double angle) {
    double turn = std::fmod((angle - s.from) * (s.sweep > 0 ? 1 : -1), full_turn);
    if (turn < 0) {
        turn += full_turn;
    }
    const double span = std::fabs(s.sweep);
    // Just before the start is nearer to the start than to the far side of the circle.
    if (turn > span && full_turn - turn < turn - span) {
        turn -= full_turn;
    }
    return turn / span;
}
} // namespace

double distance(const Point2& a, const Point2& b) {
    return std::hypot(a[0] - b[0], a[1] - b[1]);
}

Point2 Stretch::at(double t) const {
    if (round) {
        return on_circle(*this, from + sweep * t);
    }
    return {start[0] + (end[0] - start[0]) * t, start[1] + (end[1] - start[1]) * t};
}

double Stretch::length() const {
    return round ? radius * std::fabs(sweep) : distance(start, end);
}

Stretch Stretch::part(double t0, double t1) const {
    Stretch out = *this;
    out.start = at(t0);
    out.end = at(t1);
    out.from = from + sweep * t0;
    out.sweep = sweep * (t1 - t0);
    return out;
}

Stretch Stretch::reversed() const {
    Stretch out = *this;
    std::swap(out.start, out.end);
    out.from = from + sweep;
    out.sweep = -sweep;
    return out;
}

double Stretch::heading(bool at_start) const {
    if (!round) {
        return std::atan2(end[1] - start[1], end[0] - start[0]);
    }
    const double angle = at_start ? from : from + sweep;
    const double turn = sweep > 0 ? 1 : -1;
    return std::atan2(turn * std::cos(angle), -turn * std::sin(angle));
}

double Stretch::bend() const {
    return round ? (sweep > 0 ? 1 / radius : -1 / radius) : 0;
}

double Stretch::area_term() const {
    const double chord = (start[0] * end[1] - end[0] * start[1]) / 2;
    return round ? chord + radius * radius * (sweep - std::sin(sweep)) / 2 : chord;
}

std::array<double, 4> Stretch::box() const {
    if (round) {
        return {center[0] - radius, center[1] - radius, center[0] + radius, center[1] + radius};
    }
    return {std::min(start[0], end[0]), std::min(start[1], end[1]), std::max(start[0], end[0]),
            std::max(start[1], end[1])};
}

double nearest_parameter(const Stretch& s, const Point2& p) {
    if (s.round) {
        return parameter_of_angle(s, std::atan2(p[1] - s.center[1], p[0] - s.center[0]));
    }
    const double dx = s.end[0] - s.start[0];
    const double dy = s.end[1] - s.start[1];
    return ((p[0] - s.start[0]) * dx + (p[1] - s.start[1]) * dy) / (dx * dx + dy * dy);
}

namespace {

using Points = std::vector<Point2>;

Points line_line(const Stretch& a, const Stretch& b) {
    const double ax = a.end[0] - a.start[0];
    const double ay = a.end[1] - a.start[1];
    const double bx = b.end[0] - b.start[0];
    const double by = b.end[1] - b.start[1];
    const double across = ax * by - ay * bx;
    if (std::fabs(across) <= 1e-12 * std::hypot(ax, ay) * std::hypot(bx, by)) {
        return {}; // parallel: shared ends are found as ends
    }
    const double t = ((b.start[0] - a.start[0]) * by - (b.start[1] - a.start[1]) * bx) / across;
    return {a.at(t)};
}

Points line_circle(const Stretch& line, const Stretch& arc, double tolerance) {
    const Point2 foot = line.at(nearest_parameter(line, arc.center));
    const double height = distance(foot, arc.center);
    if (height > arc.radius + tolerance) {
        return {};
    }
    if (height > arc.radius - tolerance) {
        return {foot};
    }
    const double half = std::sqrt((arc.radius - height) * (arc.radius + height));
    const double length = line.length();
    const Point2 d{(line.end[0] - line.start[0]) / length, (line.end[1] - line.start[1]) / length};
    return {{foot[0] - d[0] * half, foot[1] - d[1] * half}, {foot[0] + d[0] * half, foot[1] + d[1] * half}};
}

Points circle_circle(const Stretch& a, const Stretch& b, double tolerance) {
    const double apart = distance(a.center, b.center);
    if (apart < tolerance || apart > a.radius + b.radius + tolerance ||
        apart < std::fabs(a.radius - b.radius) - tolerance) {
        return {}; // concentric (equal ones share only ends), outside or inside of each other
    }
    const Point2 d{(b.center[0] - a.center[0]) / apart, (b.center[1] - a.center[1]) / apart};
    const double along = (apart * apart + (a.radius - b.radius) * (a.radius + b.radius)) / (2 * apart);
    const Point2 foot{a.center[0] + d[0] * along, a.center[1] + d[1] * along};
    const bool touching = std::fabs(apart - a.radius - b.radius) < tolerance ||
                          std::fabs(apart - std::fabs(a.radius - b.radius)) < tolerance;
    const double square = (a.radius - along) * (a.radius + along);
    if (touching || square <= 0) {
        return {foot};
    }
    const double half = std::sqrt(square);
    return {{foot[0] - d[1] * half, foot[1] + d[0] * half}, {foot[0] + d[1] * half, foot[1] - d[0] * half}};
}

} // namespace

std::vector<std::pair<double, double>> meetings(const Stretch& a, const Stretch& b, double tolerance) {
    const auto box_a = a.box();
    const auto box_b = b.box();
    if (box_a[0] > box_b[2] + tolerance || box_b[0] > box_a[2] + tolerance || box_a[1] > box_b[3] + tolerance ||
        box_b[1] > box_a[3] + tolerance) {
        return {};
    }
    Points points;
    if (!a.round && !b.round) {
        points = line_line(a, b);
    } else if (a.round && b.round) {
        points = circle_circle(a, b, tolerance);
    } else {
        points = a.round ? line_circle(b, a, tolerance) : line_circle(a, b, tolerance);
    }
    // Ends of one that lie on the other, so that near misses at ends and overlaps are meetings too.
    points.insert(points.end(), {a.start, a.end, b.start, b.end});
    std::vector<std::pair<double, double>> result;
    for (const Point2& p : points) {
        const double ta = std::clamp(nearest_parameter(a, p), 0.0, 1.0);
        const double tb = std::clamp(nearest_parameter(b, p), 0.0, 1.0);
        if (distance(a.at(ta), p) <= tolerance && distance(b.at(tb), p) <= tolerance) {
            result.emplace_back(ta, tb);
        }
    }
    return result;
}

int winding(const std::vector<Stretch>& loop, const Point2& p) {
    // The sum of the angles under which the pieces are seen from p. A straight piece is seen under the angle between
    // its ends; an arc adds a full turn to its chord's where p lies between the two.
    double total = 0;
    for (const Stretch& s : loop) {
        const double ax = s.start[0] - p[0];
        const double ay = s.start[1] - p[1];
        const double bx = s.end[0] - p[0];
        const double by = s.end[1] - p[1];
        const double seen = std::atan2(ax * by - ay * bx, ax * bx + ay * by);
        total += seen;
        if (!s.round) {
            continue;
        }
        const double cx = s.end[0] - s.start[0];
        const double cy = s.end[1] - s.start[1];
        const double side = cx * (p[1] - s.start[1]) - cy * (p[0] - s.start[0]); // > 0: left of the chord
        const bool in_circle = distance(p, s.center) < s.radius;
        const double turn = s.sweep > 0 ? 1 : -1;
        const bool full = std::fabs(std::fabs(s.sweep) - full_turn) < 1e-12;
        // A counterclockwise arc bulges to the right of its chord, however large it is.
        if (in_circle && (full || side * turn < 0)) {
            total += turn * full_turn;
        }
    }
    return static_cast<int>(std::lround(total / full_turn));
}

} // namespace kervo::sketch
