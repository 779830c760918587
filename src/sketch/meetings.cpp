// Where stretches meet. Lines and arcs by formula; where an ellipse or a spline takes part, both are divided into parts
// on which x and y run one way. Such a part lies in the box of its ends, so that halving and dropping pairs of parts
// whose boxes are apart leaves the neighbourhoods of the meetings; there the two are brought together by Gauss-Newton.
// Where two run close beside each other, boxes that lie along them part sooner.
#include "sketch/stretch.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

namespace {

using Points = std::vector<Point2>;
using Pairs = std::vector<std::pair<double, double>>;

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

bool apart(const std::array<double, 4>& a, const std::array<double, 4>& b, double tolerance) {
    return a[0] > b[2] + tolerance || b[0] > a[2] + tolerance || a[1] > b[3] + tolerance || b[1] > a[3] + tolerance;
}

// A part of a stretch on which x and y run one way.
struct Part {
    double low, high; // parameters
    Point2 start, end;
    [[nodiscard]] std::array<double, 4> box() const {
        return {std::min(start[0], end[0]), std::min(start[1], end[1]), std::max(start[0], end[0]),
                std::max(start[1], end[1])};
    }
    [[nodiscard]] double size() const { return std::max(std::fabs(end[0] - start[0]), std::fabs(end[1] - start[1])); }
};

std::vector<Part> parts_of(const Stretch& s, const std::vector<double>& also_at = {}) {
    std::vector<Part> parts;
    auto ends = monotone_parts(s);
    ends.insert(ends.end(), also_at.begin(), also_at.end());
    std::sort(ends.begin(), ends.end());
    ends.erase(std::unique(ends.begin(), ends.end(), [](double a, double b) { return b - a < 1e-12; }), ends.end());
    for (size_t i = 0; i + 1 < ends.size(); ++i) {
        parts.push_back({ends[i], ends[i + 1], s.at(ends[i]), s.at(ends[i + 1])});
    }
    return parts;
}

// Places whose convex hull holds a part of a curve.
std::vector<Point2> hull_of(const Stretch& s, const Part& part) {
    if (s.kind == StretchKind::spline) {
        const double one = s.from + s.sweep * part.low;
        const double other = s.from + s.sweep * part.high;
        return s.spline->segment(std::min(one, other), std::max(one, other)).poles;
    }
    std::vector<Point2> hull{part.start, part.end};
    if (s.kind != StretchKind::line) { // below a quarter of a turn: within the triangle of its tangents
        const Motion m = s.motion(part.low);
        const Motion n = s.motion(part.high);
        const double across = m.first[0] * n.first[1] - m.first[1] * n.first[0];
        if (std::fabs(across) > 1e-14 * std::hypot(m.first[0], m.first[1]) * std::hypot(n.first[0], n.first[1])) {
            const double t =
                ((part.end[0] - part.start[0]) * n.first[1] - (part.end[1] - part.start[1]) * n.first[0]) / across;
            hull.push_back({part.start[0] + t * m.first[0], part.start[1] + t * m.first[1]});
        }
    }
    return hull;
}

// Whether two convex hulls are apart, seen along the way from one place to another.
bool apart_along(const Point2& from, const Point2& to, const std::vector<Point2>& a, const std::vector<Point2>& b,
                 double tolerance) {
    const double length = distance(from, to);
    if (length <= 0) {
        return false;
    }
    const auto range_of = [&](const std::vector<Point2>& hull) {
        std::pair<double, double> range{1e300, -1e300};
        for (const Point2& p : hull) {
            const double off = ((to[0] - from[0]) * (p[1] - from[1]) - (to[1] - from[1]) * (p[0] - from[0])) / length;
            range = {std::min(range.first, off), std::max(range.second, off)};
        }
        return range;
    };
    const auto [a_low, a_high] = range_of(a);
    const auto [b_low, b_high] = range_of(b);
    return a_low > b_high + tolerance || b_low > a_high + tolerance;
}

class Search {
public:
    Search(const Stretch& a, const Stretch& b, double tolerance, bool same)
        : a_(a), b_(b), tolerance_(tolerance), same_(same), a_closed_(a.closed(tolerance)),
          b_closed_(b.closed(tolerance)) {
        const auto box = a.box();
        close_ = 1e-3 * (1 + 1e-2 * std::max(box[2] - box[0], box[3] - box[1]));
    }

    void between(const Part& p, const Part& q, int depth = 0) {
        if (exhausted() || apart(p.box(), q.box(), tolerance_)) {
            return;
        }
        ++pairs_;
        constexpr int easy = 64; // pairs, before it is worth while to look closer
        if (pairs_ > easy && pass_by(p, q)) {
            return;
        }
        if ((p.size() <= close_ && q.size() <= close_) || depth > 80) {
            bring_together((p.low + p.high) / 2, (q.low + q.high) / 2, p, q);
            return;
        }
        const bool first = p.size() >= q.size();
        const Part& longer = first ? p : q;
        const Stretch& curve = first ? a_ : b_;
        const double middle = (longer.low + longer.high) / 2;
        const Point2 place = curve.at(middle);
        const Part low{longer.low, middle, longer.start, place};
        const Part high{middle, longer.high, place, longer.end};
        first ? between(low, q, depth + 1) : between(p, low, depth + 1);
        first ? between(high, q, depth + 1) : between(p, high, depth + 1);
    }

    // `end`: of one of the curves; it stays as it is, where others that are one contact with it give way.
    void add(double u, double v, bool end = false) {
        if (same_ && std::fabs(u - v) < 1e-9) {
            return;
        }
        for (auto& [known_u, known_v, known_end] : found_) {
            // One contact, if between the two the curves do not part.
            const double du = run(u - known_u, a_closed_);
            const double dv = run(v - known_v, b_closed_);
            if (std::fabs(du) > 0.05 || std::fabs(dv) > 0.05 ||
                distance(at(a_, known_u + du / 2, a_closed_), at(b_, known_v + dv / 2, b_closed_)) > tolerance_) {
                continue;
            }
            if (!known_end && distance(a_.at(u), b_.at(v)) < distance(a_.at(known_u), b_.at(known_v))) {
                known_u = u;
                known_v = v;
            }
            return;
        }
        found_.push_back({u, v, end});
    }

    /// The two run along each other: there is no end of meetings.
    [[nodiscard]] bool exhausted() const { return pairs_ > most_pairs || approaches_ > most_approaches; }

    [[nodiscard]] Pairs found() const {
        Pairs pairs;
        for (const Contact& contact : found_) {
            pairs.emplace_back(contact.u, contact.v);
        }
        return pairs;
    }

private:
    // From one parameter to another, over the seam where that is nearer.
    static double run(double difference, bool closed) {
        return closed ? difference - std::round(difference) : difference;
    }
    static Point2 at(const Stretch& s, double t, bool closed) { return s.at(closed ? t - std::floor(t) : t); }

    [[nodiscard]] bool pass_by(const Part& p, const Part& q) const {
        const auto of_p = hull_of(a_, p);
        const auto of_q = hull_of(b_, q);
        return apart_along(p.start, p.end, of_p, of_q, tolerance_) ||
               apart_along(q.start, q.end, of_p, of_q, tolerance_);
    }

    // The nearest approach of the two near these parameters; a meeting if they come within the tolerance.
    void bring_together(double u, double v, const Part& p, const Part& q) {
        ++approaches_;
        const double slack_u = 2 * (p.high - p.low) + 1e-9;
        const double slack_v = 2 * (q.high - q.low) + 1e-9;
        for (int step = 0; step < 60; ++step) {
            const Motion m = a_.motion(u);
            const Motion n = b_.motion(v);
            const Point2 gap{n.place[0] - m.place[0], n.place[1] - m.place[1]};
            // Least squares for m' du - n' dv = gap, damped where the two run the same way.
            const double aa = m.first[0] * m.first[0] + m.first[1] * m.first[1];
            const double bb = n.first[0] * n.first[0] + n.first[1] * n.first[1];
            const double ab = -(m.first[0] * n.first[0] + m.first[1] * n.first[1]);
            const double ga = m.first[0] * gap[0] + m.first[1] * gap[1];
            const double gb = -(n.first[0] * gap[0] + n.first[1] * gap[1]);
            const double damping = 1e-14;
            const double det = (aa * (1 + damping)) * (bb * (1 + damping)) - ab * ab;
            if (det <= 1e-300) {
                break;
            }
            const double du = (ga * bb * (1 + damping) - ab * gb) / det;
            const double dv = (gb * aa * (1 + damping) - ab * ga) / det;
            const double next_u = std::clamp(u + du, std::max(0.0, p.low - slack_u), std::min(1.0, p.high + slack_u));
            const double next_v = std::clamp(v + dv, std::max(0.0, q.low - slack_v), std::min(1.0, q.high + slack_v));
            const bool still = std::fabs(next_u - u) < 1e-16 && std::fabs(next_v - v) < 1e-16;
            u = next_u;
            v = next_v;
            if (still) {
                break;
            }
        }
        if (distance(a_.at(u), b_.at(v)) <= tolerance_) {
            add(u, v);
        }
    }

    const Stretch& a_;
    const Stretch& b_;
    double tolerance_;
    bool same_, a_closed_, b_closed_;
    double close_; ///< mm; parts as small as that are as good as straight
    static constexpr int most_pairs = 50000;
    static constexpr int most_approaches = 2000;
    int pairs_ = 0;
    int approaches_ = 0;
    struct Contact {
        double u, v;
        bool end;
    };
    std::vector<Contact> found_;
};

// Whether one part of a curve lies on another all along: where a curve runs back on itself, or around twice, one of the
// two that lie on each other ends where the curve turns or ends, and so does the part.
bool lies_on(const Stretch& s, const Part& part, const Part& other, double tolerance) {
    const Stretch under = s.part(other.low, other.high);
    for (const double t : {0.5, 0.02, 0.17, 0.34, 0.66, 0.83, 0.98}) {
        if (nearest_on(under, s.at(part.low + (part.high - part.low) * t)).second > tolerance) {
            return false;
        }
    }
    return part.size() > 10 * tolerance;
}

bool folds_back(const Stretch& s, const std::vector<Part>& parts, double tolerance) {
    for (size_t i = 0; i < parts.size(); ++i) {
        for (size_t j = i + 1; j < parts.size(); ++j) {
            if (!apart(parts[i].box(), parts[j].box(), tolerance) &&
                (lies_on(s, parts[i], parts[j], tolerance) || lies_on(s, parts[j], parts[i], tolerance))) {
                return true;
            }
        }
    }
    return false;
}

// Parameters on `a` between which the two run along each other: nothing crosses there.
bool run_along(const Stretch& a, const Stretch& b, double u0, double u1, double tolerance) {
    for (const double t : {0.17, 0.34, 0.5, 0.66, 0.83}) {
        if (nearest_on(b, a.at(u0 + (u1 - u0) * t)).second > tolerance) {
            return false;
        }
    }
    return std::fabs(u1 - u0) > 1e-9;
}

void tell(const Search& search, bool* unclear) {
    if (unclear != nullptr && search.exhausted()) {
        *unclear = true;
    }
}

// As far as `a` runs along `b` from a place where they meet: parameters before and after it.
std::pair<double, double> together(const Stretch& a, const Stretch& b, double at, double tolerance) {
    const auto reach = [&](double end) {
        const auto touches = [&](double share) {
            return nearest_on(b, a.at(at + share * (end - at))).second <= tolerance;
        };
        double near = 0;
        double far = 1e-4;
        while (far < 1 && touches(far)) {
            near = far;
            far *= 2;
        }
        for (int i = 0; near > 0 && i < 20; ++i) {
            const double middle = (near + far) / 2;
            (touches(middle) ? near : far) = middle;
        }
        return at + near * (end - at);
    };
    return {reach(0), reach(1)};
}

Pairs free_meetings(const Stretch& a, const Stretch& b, double tolerance, bool* unclear) {
    Search search(a, b, tolerance, false);
    // Ends first: they are what curves share when they run along each other.
    std::vector<double> shared;
    for (const double u : {0.0, 1.0}) {
        if (const auto [v, gap] = nearest_on(b, a.at(u)); gap <= tolerance) {
            search.add(u, v, true);
            shared.push_back(u);
        }
    }
    for (const double v : {0.0, 1.0}) {
        if (const auto [u, gap] = nearest_on(a, b.at(v)); gap <= tolerance) {
            search.add(u, v, true);
            shared.push_back(u);
        }
    }
    std::vector<std::pair<double, double>> shared_ways;
    std::transform(shared.begin(), shared.end(), std::back_inserter(shared_ways),
                   [&](double at) { return together(a, b, at, tolerance); });
    for (const auto& [from, to] : shared_ways) {
        shared.insert(shared.end(), {from, to});
    }
    const auto is_shared = [&](const Part& p) {
        const double middle = (p.low + p.high) / 2;
        return std::any_of(shared_ways.begin(), shared_ways.end(),
                           [&](const auto& way) { return way.first < middle && middle < way.second; });
    };
    const bool twice = shared_ways.size() > 1;
    for (const Part& p : parts_of(a, shared)) {
        if (!is_shared(p) && !(twice && run_along(a, b, p.low, p.high, tolerance))) {
            for (const Part& q : parts_of(b)) {
                search.between(p, q);
            }
        }
    }
    tell(search, unclear);
    return search.found();
}

} // namespace

std::vector<std::pair<double, double>> meetings(const Stretch& a, const Stretch& b, double tolerance, bool* unclear) {
    if (apart(a.box(), b.box(), tolerance)) {
        return {};
    }
    if (a.free() || b.free()) {
        return free_meetings(a, b, tolerance, unclear);
    }
    Points points;
    if (!a.round() && !b.round()) {
        points = line_line(a, b);
    } else if (a.round() && b.round()) {
        points = circle_circle(a, b, tolerance);
    } else {
        points = a.round() ? line_circle(b, a, tolerance) : line_circle(a, b, tolerance);
    }
    // Ends of one that lie on the other, so that near misses at ends and overlaps are meetings too.
    points.insert(points.end(), {a.start, a.end, b.start, b.end});
    Pairs result;
    for (const Point2& p : points) {
        const double ta = std::clamp(nearest_parameter(a, p), 0.0, 1.0);
        const double tb = std::clamp(nearest_parameter(b, p), 0.0, 1.0);
        if (distance(a.at(ta), p) <= tolerance && distance(b.at(tb), p) <= tolerance) {
            result.emplace_back(ta, tb);
        }
    }
    return result;
}

std::vector<std::pair<double, double>> self_meetings(const Stretch& s, double tolerance, bool* unclear) {
    if (s.kind != StretchKind::spline) {
        return {};
    }
    Search search(s, s, tolerance, true);
    const auto parts = parts_of(s);
    if (folds_back(s, parts, tolerance)) {
        if (unclear != nullptr) {
            *unclear = true;
        }
        return {};
    }
    for (size_t i = 0; i < parts.size(); ++i) {
        for (size_t j = i + 2; j < parts.size(); ++j) {
            search.between(parts[i], parts[j]);
        }
        // Neighbours share an end, and meet elsewhere only if they turn back over each other.
        if (i + 1 < parts.size()) {
            const Part& p = parts[i];
            const Part& q = parts[i + 1];
            const double back =
                (p.end[0] - p.start[0]) * (q.end[0] - q.start[0]) + (p.end[1] - p.start[1]) * (q.end[1] - q.start[1]);
            if (back < 0) {
                const double a = p.high - (p.high - p.low) * 0.02;
                const double b = q.low + (q.high - q.low) * 0.02;
                search.between({p.low, a, p.start, s.at(a)}, {b, q.high, s.at(b), q.end});
            }
        }
    }
    tell(search, unclear);
    Pairs found = search.found();
    std::erase_if(found, [&](const auto& pair) {
        return (pair.first < 1e-9 && pair.second > 1 - 1e-9) || std::fabs(pair.first - pair.second) < 1e-6;
    });
    return found;
}

} // namespace kervo::sketch
