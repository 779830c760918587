// Places beside a stretch: the nearest on it, what is inside of loops, points close enough to it.
#include "sketch/stretch.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::sketch {

namespace {

constexpr double full_turn = 2 * std::numbers::pi;

// Parameter of an angle on an arc or ellipse, wrapped so that it falls into 0..1 where it can.
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

// Branch and bound over the parts on which x and y run one way: a part lies in the box of its ends, so that one whose
// box is farther away than the best place known holds nothing better. Newton steps make the best place exact.
double nearest_on_free(const Stretch& s, const Point2& p) {
    struct Piece {
        double low, high;
        Point2 start, end;
        double away; // of its box
    };
    double best = 0;
    double least = distance(s.start, p);
    const auto look = [&](double t, const Point2& place) {
        if (const double d = distance(place, p); d < least) {
            least = d;
            best = t;
        }
    };
    const auto piece = [&](double low, double high, const Point2& a, const Point2& b) {
        const double dx = std::max({std::min(a[0], b[0]) - p[0], p[0] - std::max(a[0], b[0]), 0.0});
        const double dy = std::max({std::min(a[1], b[1]) - p[1], p[1] - std::max(a[1], b[1]), 0.0});
        return Piece{low, high, a, b, std::hypot(dx, dy)};
    };
    std::vector<Piece> open;
    const auto parts = monotone_parts(s);
    for (size_t i = 0; i + 1 < parts.size(); ++i) {
        open.push_back(piece(parts[i], parts[i + 1], s.at(parts[i]), s.at(parts[i + 1])));
        look(parts[i + 1], open.back().end);
    }
    double width = 1;
    for (int level = 0; level < 14; ++level) {
        std::erase_if(open, [&](const Piece& each) { return each.away > least; });
        std::vector<Piece> halves;
        for (const Piece& each : open) {
            const double middle = (each.low + each.high) / 2;
            const Point2 place = s.at(middle);
            look(middle, place);
            halves.push_back(piece(each.low, middle, each.start, place));
            halves.push_back(piece(middle, each.high, place, each.end));
            width = halves.back().high - halves.back().low;
        }
        open = std::move(halves);
    }
    double t = best;
    for (int step = 0; step < 40; ++step) {
        const Motion m = s.motion(t);
        const Point2 off{m.place[0] - p[0], m.place[1] - p[1]};
        const double slope = off[0] * m.first[0] + off[1] * m.first[1];
        const double speed = m.first[0] * m.first[0] + m.first[1] * m.first[1];
        const double curved = speed + off[0] * m.second[0] + off[1] * m.second[1];
        const double move = -slope / (curved > 0.1 * speed ? curved : std::max(speed, 1e-300));
        const double next = std::clamp(t + move, std::max(0.0, best - 4 * width), std::min(1.0, best + 4 * width));
        if (std::fabs(next - t) < 1e-15) {
            break;
        }
        t = next;
    }
    return distance(s.at(t), p) <= least ? t : best;
}

} // namespace

double nearest_parameter(const Stretch& s, const Point2& p) {
    if (s.kind == StretchKind::arc) {
        return parameter_of_angle(s, std::atan2(p[1] - s.center[1], p[0] - s.center[0]));
    }
    if (s.kind == StretchKind::line) {
        const double dx = s.end[0] - s.start[0];
        const double dy = s.end[1] - s.start[1];
        return ((p[0] - s.start[0]) * dx + (p[1] - s.start[1]) * dy) / (dx * dx + dy * dy);
    }
    return nearest_on_free(s, p);
}

std::pair<double, double> nearest_on(const Stretch& s, const Point2& p) {
    double t = std::clamp(nearest_parameter(s, p), 0.0, 1.0);
    // An arc's nearest angle may lie outside; then it is one of the ends.
    if (distance(s.start, p) < distance(s.at(t), p)) {
        t = 0;
    }
    if (distance(s.end, p) < distance(s.at(t), p)) {
        t = 1;
    }
    return {t, distance(s.at(t), p)};
}

int winding(const std::vector<Stretch>& loop, const Point2& p) {
    // The sum of the angles under which the pieces are seen from p. A piece is seen under the angle of its chord,
    // unless p lies between the two: then an arc adds a full turn, and other curves are looked at in parts.
    double total = 0;
    const auto seen = [&](const Point2& a, const Point2& b) {
        const double ax = a[0] - p[0];
        const double ay = a[1] - p[1];
        const double bx = b[0] - p[0];
        const double by = b[1] - p[1];
        return std::atan2(ax * by - ay * bx, ax * bx + ay * by);
    };
    for (const Stretch& s : loop) {
        if (s.free()) {
            const auto parts = monotone_parts(s);
            for (size_t i = 0; i + 1 < parts.size(); ++i) {
                double low = parts[i];
                double high = parts[i + 1];
                Point2 a = s.at(low);
                Point2 b = s.at(high);
                // Halved towards p; the halves that p is not in the box of are seen under their chords.
                for (int halving = 0; halving < 60; ++halving) {
                    const bool inside = p[0] >= std::min(a[0], b[0]) && p[0] <= std::max(a[0], b[0]) &&
                                        p[1] >= std::min(a[1], b[1]) && p[1] <= std::max(a[1], b[1]);
                    if (!inside) {
                        break;
                    }
                    const double middle = (low + high) / 2;
                    const Point2 m = s.at(middle);
                    const bool in_first = p[0] >= std::min(a[0], m[0]) && p[0] <= std::max(a[0], m[0]) &&
                                          p[1] >= std::min(a[1], m[1]) && p[1] <= std::max(a[1], m[1]);
                    if (in_first) {
                        total += seen(m, b);
                        high = middle;
                        b = m;
                    } else {
                        total += seen(a, m);
                        low = middle;
                        a = m;
                    }
                }
                total += seen(a, b);
            }
            continue;
        }
        total += seen(s.start, s.end);
        if (!s.round()) {
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

namespace {

// Halves what strays until it no longer does: where a curve is bent most, its pieces are shortest.
void flatten(const Stretch& s, double t0, double t1, double sag, int depth, std::vector<Point2>& points) {
    const Point2 a = points.back();
    const Point2 b = s.at(t1);
    double stray = 0;
    for (const double share : {0.25, 0.5, 0.75}) {
        stray = std::max(stray, nearest_on(line_between(a, b), s.at(t0 + (t1 - t0) * share)).second);
    }
    if (stray <= sag || depth == 0) {
        points.push_back(b);
        return;
    }
    const double middle = (t0 + t1) / 2;
    flatten(s, t0, middle, sag, depth - 1, points);
    flatten(s, middle, t1, sag, depth - 1, points);
}

} // namespace

std::vector<Point2> flattened(const Stretch& s, double sag) {
    constexpr int most_halvings = 8;
    std::vector<Point2> points{s.at(0)};
    const auto parts = monotone_parts(s);
    for (size_t i = 0; i + 1 < parts.size(); ++i) {
        flatten(s, parts[i], parts[i + 1], sag, s.kind == StretchKind::line ? 0 : most_halvings, points);
    }
    return points;
}

} // namespace kervo::sketch
