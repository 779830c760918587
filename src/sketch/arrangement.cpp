#include "sketch/arrangement.h"

#include "sketch/figures.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <unordered_map>

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

namespace {

constexpr size_t most_pairs = 5000000; ///< whose boxes meet
constexpr size_t most_parts = 200000;  ///< of curves, between their crossings

// Why there are no regions; it does not leave this file.
struct Refusal {
    Finding why;
};

// The subdivision: edges between numbered vertices; half-edge 2i runs along edge i, 2i + 1 against it.
class Subdivision {
public:
    Subdivision(const std::vector<Stretch>& stretches, Folds folds, Progress& progress)
        : folds_(folds), progress_(progress) {
        split(stretches);
        drop_dangling();
    }

    std::vector<Region> regions() {
        trace();
        while (drop_bridges()) {
            drop_dangling();
            trace();
        }
        return nest();
    }

private:
    struct Edge {
        Stretch stretch;
        int from, to;
        bool alive = true;
    };
    struct Loop {
        std::vector<int> half_edges;
        double area = 0;
    };

    // Counts one of the many things that there are to do.
    void spend() {
        constexpr size_t between_looks = 256;
        if (++spent_ % between_looks == 0 && progress_.cancelled()) {
            throw Refusal{error_finding("sketch.cancelled", "Finding the regions was stopped.", "")};
        }
    }

    [[noreturn]] static void refuse_so_much(const std::string& what, size_t most) {
        throw Refusal{error_finding(
            "sketch.too_much", "Too much overlaps here: there are more than " + std::to_string(most) + " " + what + ".",
            "Make the figures smaller or fewer, or draw them in several sketches.")};
    }

    // Curves that lie on each other all along have crossings without number, so that no region is certain.
    static void refuse_folded(const Stretch& a, const Stretch& b) {
        Finding finding =
            error_finding("sketch.folded",
                          a.curve == b.curve ? "Curve " + std::to_string(a.curve) + " runs back on itself."
                                             : "Curves " + std::to_string(a.curve) + " and " + std::to_string(b.curve) +
                                                   " run along each other without being the same.",
                          a.curve == b.curve ? "Move its points apart." : "Delete one of them, or move it.");
        throw Refusal{std::move(finding)};
    }

    int vertex_at(const Point2& p) {
        // A raster of cells as large as the tolerance; a near point lies in the same or a neighbouring cell.
        const double cell = joining_tolerance * 2;
        const long cx = std::lround(std::floor(p[0] / cell));
        const long cy = std::lround(std::floor(p[1] / cell));
        const auto key = [](long x, long y) { return std::array<long, 2>{x, y}; };
        for (long dx = -1; dx <= 1; ++dx) {
            for (long dy = -1; dy <= 1; ++dy) {
                const auto cell_at = raster_.find(key(cx + dx, cy + dy));
                if (cell_at == raster_.end()) {
                    continue;
                }
                for (const int known : cell_at->second) {
                    if (distance(places_[static_cast<size_t>(known)], p) <= joining_tolerance) {
                        return known;
                    }
                }
            }
        }
        places_.push_back(p);
        const int fresh = static_cast<int>(places_.size()) - 1;
        raster_[key(cx, cy)].push_back(fresh);
        return fresh;
    }

    // Pairs whose boxes overlap, by sweeping along x: far fewer than all pairs.
    template <class Visit> static void near_pairs(const std::vector<Stretch>& stretches, const Visit& visit) {
        std::vector<std::array<double, 4>> boxes;
        std::vector<size_t> order;
        for (const Stretch& s : stretches) {
            order.push_back(boxes.size());
            boxes.push_back(s.box());
        }
        std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return boxes[a][0] < boxes[b][0]; });
        std::vector<size_t> open;
        for (const size_t i : order) {
            std::erase_if(open, [&](size_t j) { return boxes[j][2] + joining_tolerance < boxes[i][0]; });
            for (const size_t j : open) {
                if (boxes[j][1] <= boxes[i][3] + joining_tolerance && boxes[i][1] <= boxes[j][3] + joining_tolerance) {
                    visit(std::min(i, j), std::max(i, j));
                }
            }
            open.push_back(i);
        }
    }

    void split(const std::vector<Stretch>& stretches) {
        std::vector<std::vector<double>> cuts(stretches.size());
        size_t pairs = 0;
        size_t crossings = 0;
        bool folded = false;
        const auto count = [&](size_t more) {
            crossings += more;
            if (crossings > most_parts) {
                refuse_so_much("crossings", most_parts);
            }
        };
        near_pairs(stretches, [&](size_t i, size_t j) {
            spend();
            if (++pairs > most_pairs) {
                refuse_so_much("pairs of curves that might cross", most_pairs);
            }
            const auto met = meetings(stretches[i], stretches[j], joining_tolerance, &folded);
            if (folded && folds_ == Folds::are_refused) {
                refuse_folded(stretches[i], stretches[j]);
            }
            for (const auto& [ti, tj] : met) {
                cuts[i].push_back(ti);
                cuts[j].push_back(tj);
            }
            count(met.size());
        });
        for (size_t i = 0; i < stretches.size(); ++i) {
            spend();
            folded = false;
            const auto met = self_meetings(stretches[i], joining_tolerance, &folded);
            if (folded && folds_ == Folds::are_refused) {
                refuse_folded(stretches[i], stretches[i]);
            }
            if (folded) {
                add_folds(stretches[i], cuts[i]);
            }
            for (const auto& [t, again] : met) {
                cuts[i].push_back(t);
                cuts[i].push_back(again);
            }
            count(met.size());
            add_parts(stretches[i], cuts[i]);
        }
    }

    // Where parts of the curve end that lie on others: what lies twice in one place then bounds once.
    static void add_folds(const Stretch& stretch, std::vector<double>& cuts) {
        const auto ends = monotone_parts(stretch);
        for (const double end : ends) {
            const Point2 place = stretch.at(end);
            cuts.push_back(end);
            for (size_t i = 0; i + 1 < ends.size(); ++i) {
                const auto [t, gap] = nearest_on(stretch.part(ends[i], ends[i + 1]), place);
                if (gap <= joining_tolerance) {
                    cuts.push_back(ends[i] + (ends[i + 1] - ends[i]) * t);
                }
            }
        }
    }

    void add_parts(const Stretch& stretch, std::vector<double>& cuts) {
        std::sort(cuts.begin(), cuts.end());
        const bool seamless = stretch.kind == StretchKind::arc || stretch.kind == StretchKind::ellipse;
        if (seamless && !cuts.empty() && stretch.closed(joining_tolerance)) {
            // A whole circle has no ends of its own once others cut it: start at the first cut.
            const Stretch turned = stretch.part(cuts.front(), cuts.front() + 1);
            std::vector<double> moved;
            for (const double t : cuts) {
                moved.push_back(t - cuts.front());
            }
            add_between(turned, moved);
        } else {
            add_between(stretch, cuts);
        }
    }

    void add_between(const Stretch& stretch, const std::vector<double>& cuts) {
        const double length = stretch.length();
        // Cuts nearer to each other than the tolerance are one.
        const auto apart = [&](double a, double b) {
            return distance(stretch.at(a), stretch.at(b)) > joining_tolerance || (b - a) * length > 1e-3;
        };
        double last = 0;
        std::vector<double> ends;
        for (const double t : cuts) {
            if (t > last && apart(last, t) && t < 1 && apart(t, 1)) {
                ends.push_back(t);
                last = t;
            }
        }
        ends.push_back(1);
        last = 0;
        for (const double t : ends) {
            add_edge(stretch.part(last, t));
            last = t;
        }
    }

    void add_edge(const Stretch& part) {
        const int from = vertex_at(part.start);
        const int to = vertex_at(part.end);
        if (from == to && !part.closed(joining_tolerance)) {
            return;
        }
        // Curves drawn on top of each other bound only once.
        const Point2 middle = part.at(0.5);
        for (const int other : edges_at_[std::minmax(from, to)]) {
            if (nearest_on(edges_[static_cast<size_t>(other)].stretch, middle).second <= 10 * joining_tolerance) {
                return;
            }
        }
        edges_at_[std::minmax(from, to)].push_back(static_cast<int>(edges_.size()));
        edges_.push_back({part, from, to});
    }

    void drop_dangling() {
        std::vector<int> degree(places_.size());
        std::vector<std::vector<size_t>> at(places_.size());
        for (size_t i = 0; i < edges_.size(); ++i) {
            if (edges_[i].alive) {
                for (const int end : {edges_[i].from, edges_[i].to}) {
                    ++degree[static_cast<size_t>(end)];
                    at[static_cast<size_t>(end)].push_back(i);
                }
            }
        }
        std::vector<size_t> loose;
        for (size_t v = 0; v < degree.size(); ++v) {
            if (degree[v] == 1) {
                loose.push_back(v);
            }
        }
        while (!loose.empty()) {
            const size_t v = loose.back();
            loose.pop_back();
            for (const size_t i : at[v]) {
                if (edges_[i].alive && degree[v] == 1) {
                    edges_[i].alive = false;
                    for (const int end : {edges_[i].from, edges_[i].to}) {
                        if (--degree[static_cast<size_t>(end)] == 1) {
                            loose.push_back(static_cast<size_t>(end));
                        }
                    }
                }
            }
        }
    }

    [[nodiscard]] Stretch along(int half) const {
        const Stretch& s = edges_[static_cast<size_t>(half / 2)].stretch;
        return half % 2 == 0 ? s : s.reversed();
    }
    [[nodiscard]] int origin(int half) const {
        const Edge& edge = edges_[static_cast<size_t>(half / 2)];
        return half % 2 == 0 ? edge.from : edge.to;
    }

    // Half-edges that leave a vertex, counterclockwise; where two leave in one direction, the one that bends more to
    // the left comes later.
    [[nodiscard]] std::vector<std::vector<int>> fans() const {
        struct Ray {
            int half;
            double heading, bend;
        };
        std::vector<std::vector<Ray>> rays(places_.size());
        for (size_t i = 0; i < edges_.size(); ++i) {
            if (edges_[i].alive) {
                for (const int half : {static_cast<int>(2 * i), static_cast<int>(2 * i + 1)}) {
                    const Stretch s = along(half);
                    rays[static_cast<size_t>(origin(half))].push_back({half, s.heading(true), s.bend()});
                }
            }
        }
        std::vector<std::vector<int>> result(places_.size());
        for (size_t v = 0; v < rays.size(); ++v) {
            auto& fan = rays[v];
            // Headings that differ by rounding only must compare as equal, across the cut at pi too.
            constexpr double same = 1e-6;
            for (Ray& ray : fan) {
                if (ray.heading > std::numbers::pi - same) {
                    ray.heading -= 2 * std::numbers::pi;
                }
            }
            std::sort(fan.begin(), fan.end(), [](const Ray& a, const Ray& b) { return a.heading < b.heading; });
            for (size_t first = 0; first < fan.size();) {
                size_t last = first + 1;
                while (last < fan.size() && fan[last].heading - fan[first].heading < same) {
                    ++last;
                }
                std::sort(fan.begin() + static_cast<long>(first), fan.begin() + static_cast<long>(last),
                          [](const Ray& a, const Ray& b) { return a.bend < b.bend; });
                first = last;
            }
            for (const Ray& ray : fan) {
                result[v].push_back(ray.half);
            }
        }
        return result;
    }

    // Follows every half-edge by the next one clockwise from its twin: the region stays on the left.
    void trace() {
        const auto fan = fans();
        std::vector<int> next(edges_.size() * 2, -1);
        for (const auto& around : fan) {
            for (size_t i = 0; i < around.size(); ++i) {
                const int leaving = around[i];
                const int before = around[(i + around.size() - 1) % around.size()];
                next[static_cast<size_t>(leaving ^ 1)] = before;
            }
        }
        loops_.clear();
        loop_of_.assign(edges_.size() * 2, -1);
        for (size_t start = 0; start < next.size(); ++start) {
            if (next[start] < 0 || loop_of_[start] >= 0) {
                continue;
            }
            Loop loop;
            for (int half = static_cast<int>(start); loop_of_[static_cast<size_t>(half)] < 0;
                 half = next[static_cast<size_t>(half)]) {
                loop_of_[static_cast<size_t>(half)] = static_cast<int>(loops_.size());
                loop.half_edges.push_back(half);
                loop.area += along(half).area_term();
            }
            loops_.push_back(std::move(loop));
        }
    }

    // An edge with the same loop on both sides divides nothing.
    bool drop_bridges() {
        bool dropped = false;
        for (size_t i = 0; i < edges_.size(); ++i) {
            if (edges_[i].alive && loop_of_[2 * i] == loop_of_[2 * i + 1]) {
                edges_[i].alive = false;
                dropped = true;
            }
        }
        return dropped;
    }

    [[nodiscard]] std::vector<Stretch> stretches(const Loop& loop) const {
        std::vector<Stretch> result;
        for (const int half : loop.half_edges) {
            result.push_back(along(half));
        }
        return result;
    }

    std::vector<Region> nest() {
        std::vector<Region> regions;
        std::vector<std::set<int>> vertices_of_region;
        std::vector<const Loop*> holes;
        for (const Loop& loop : loops_) {
            if (loop.area > 0) {
                Region region;
                add_loop(region, loop);
                std::set<std::string> bounds;
                for (const int half : loop.half_edges) {
                    bounds.insert(along(half).label() + (half % 2 == 0 ? "+" : "-"));
                }
                region.bounds = {bounds.begin(), bounds.end()};
                regions.push_back(std::move(region));
            } else {
                holes.push_back(&loop);
            }
        }
        const std::vector<Region> outers = regions;
        std::vector<std::array<double, 4>> boxes;
        for (const Region& outer : outers) {
            boxes.push_back(box_of(outer.loops[0]));
        }
        for (const Loop* hole : holes) {
            // Loops of different connected parts do not touch, so any place on the hole decides. A loop that touches an
            // outer one in its probe belongs to the same connected part and cannot be its hole.
            const Point2 probe = along(hole->half_edges.front()).at(0.5);
            int best = -1;
            for (size_t i = 0; i < outers.size(); ++i) {
                spend();
                const auto& box = boxes[i];
                if (probe[0] < box[0] || probe[1] < box[1] || probe[0] > box[2] || probe[1] > box[3]) {
                    continue;
                }
                const bool on_border =
                    std::any_of(outers[i].loops[0].begin(), outers[i].loops[0].end(),
                                [&](const Stretch& s) { return nearest_on(s, probe).second <= joining_tolerance; });
                if (!on_border && winding(outers[i].loops[0], probe) != 0 &&
                    (best < 0 || outers[i].area < outers[static_cast<size_t>(best)].area)) {
                    best = static_cast<int>(i);
                }
            }
            if (best >= 0) {
                add_loop(regions[static_cast<size_t>(best)], *hole);
            }
        }
        for (Region& region : regions) {
            spend();
            region.inside = place_inside(region);
        }
        mark_twins(regions);
        std::sort(regions.begin(), regions.end(), [](const Region& a, const Region& b) {
            return a.bounds != b.bounds ? a.bounds < b.bounds : a.inside < b.inside;
        });
        return regions;
    }

    static std::array<double, 4> box_of(const std::vector<Stretch>& loop) {
        std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
        for (const Stretch& s : loop) {
            const auto one = s.box();
            box = {std::min(box[0], one[0]), std::min(box[1], one[1]), std::max(box[2], one[2]),
                   std::max(box[3], one[3])};
        }
        return box;
    }

    // Regions that their bounds do not tell apart say so: when one of them goes, the other must not take its place.
    static void mark_twins(std::vector<Region>& regions) {
        std::map<std::vector<std::string>, int> count;
        for (const Region& region : regions) {
            ++count[region.bounds];
        }
        for (Region& region : regions) {
            if (count[region.bounds] > 1) {
                region.bounds.emplace_back(twin_mark);
            }
        }
    }

    void add_loop(Region& region, const Loop& loop) const {
        region.loops.push_back(stretches(loop));
        std::vector<int> starts;
        for (const int half : loop.half_edges) {
            starts.push_back(origin(half));
        }
        region.vertices.push_back(std::move(starts));
        region.area += loop.area;
    }

    // The middle of the longest stay inside along level lines through the region.
    static Point2 place_inside(const Region& region) {
        std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
        for (const Stretch& s : region.loops[0]) {
            for (const double t : monotone_parts(s)) {
                const Point2 p = s.at(t);
                box = {std::min(box[0], p[0]), std::min(box[1], p[1]), std::max(box[2], p[0]), std::max(box[3], p[1])};
            }
        }
        Point2 best = region.loops[0][0].at(0.5);
        double longest = 0;
        for (const double share : {0.5, 0.31, 0.67, 0.13, 0.87, 0.42, 0.58, 0.05, 0.95}) {
            const double y = box[1] + (box[3] - box[1]) * share;
            Stretch level;
            level.start = {box[0] - 1, y};
            level.end = {box[2] + 1, y};
            std::vector<double> crossings;
            for (const auto& loop : region.loops) {
                for (const Stretch& s : loop) {
                    for (const auto& [t, u] : meetings(level, s, 1e-9)) {
                        crossings.push_back(t);
                    }
                }
            }
            std::sort(crossings.begin(), crossings.end());
            for (size_t i = 0; i + 1 < crossings.size(); ++i) {
                const double stay = crossings[i + 1] - crossings[i];
                const Point2 middle = level.at((crossings[i] + crossings[i + 1]) / 2);
                if (stay * level.length() > longest * 1.2 + joining_tolerance && region.contains(middle)) {
                    longest = stay * level.length();
                    best = middle;
                }
            }
        }
        return best;
    }

    Folds folds_;
    Progress& progress_;
    size_t spent_ = 0;
    std::vector<Point2> places_;
    struct CellHash {
        size_t operator()(const std::array<long, 2>& cell) const {
            const size_t x = std::hash<long>{}(cell[0]);
            return x ^ (std::hash<long>{}(cell[1]) + 0x9e3779b97f4a7c15ULL + (x << 6U) + (x >> 2U));
        }
    };
    std::unordered_map<std::array<long, 2>, std::vector<int>, CellHash> raster_;
    std::vector<Edge> edges_;
    std::map<std::pair<int, int>, std::vector<int>> edges_at_;
    std::vector<Loop> loops_;
    std::vector<int> loop_of_;
};

} // namespace

bool Region::contains(const Point2& p) const {
    int total = 0;
    for (const auto& loop : loops) {
        total += winding(loop, p);
    }
    return total > 0;
}

Arrangement arrange(const std::vector<Stretch>& stretches, Progress& progress, Folds folds) {
    try {
        return {Subdivision(stretches, folds, progress).regions(), {}};
    } catch (const Refusal& refusal) {
        return {{}, {refusal.why}};
    }
}

Arrangement arrange(const Sketch& sketch, Progress& progress) {
    std::vector<Stretch> stretches = stretches_of(sketch);
    const std::vector<FilledOutline> figures = figure_outlines(sketch);
    std::unordered_map<std::string, size_t> figure_of; // label of a stretch -> the outline it belongs to
    for (size_t i = 0; i < figures.size(); ++i) {
        for (const Stretch& stretch : figures[i].stretches) {
            if (stretch.length() > joining_tolerance) {
                stretches.push_back(stretch);
                figure_of[stretch.label()] = i;
            }
        }
    }
    Arrangement found = arrange(stretches, progress);
    // What one filled outline alone surrounds, and does not fill (the inside of an O), is no region.
    std::erase_if(found.regions, [&](const Region& region) {
        std::optional<size_t> only;
        for (const Stretch& stretch : region.loops.front()) {
            const auto at = figure_of.find(stretch.label());
            if (at == figure_of.end() || (only && *only != at->second)) {
                return false;
            }
            only = at->second;
        }
        return only && !figures[*only].fills(region.inside);
    });
    return found;
}

std::vector<Region> find_regions(const Sketch& sketch) {
    Progress progress;
    return arrange(sketch, progress).regions;
}

namespace {

int nearest_of(const std::vector<int>& candidates, const std::vector<Region>& regions, const Point2& near) {
    if (candidates.size() == 1) {
        return candidates.front();
    }
    int best = -1;
    double least = 0;
    for (const int candidate : candidates) {
        const Region& region = regions[static_cast<size_t>(candidate)];
        const double d = region.contains(near) ? -1 : distance(region.inside, near);
        if (best < 0 || d < least) {
            best = candidate;
            least = d;
        }
    }
    return best;
}

std::string joined(const std::vector<std::string>& bounds) {
    std::string text;
    for (const std::string& bound : bounds) {
        text += bound;
        text += '\n';
    }
    return text;
}

} // namespace

FoundRegion find_again(const RegionReference& reference, const std::vector<Region>& regions) {
    return RegionFinder(regions).find_again(reference);
}

RegionFinder::RegionFinder(const std::vector<Region>& regions) : regions_(regions) {
    for (size_t i = 0; i < regions.size(); ++i) {
        with_bounds_[joined(regions[i].bounds)].push_back(static_cast<int>(i));
    }
}

FoundRegion RegionFinder::find_again(const RegionReference& reference) const {
    const std::vector<Region>& regions = regions_;
    if (!reference.bounds.empty()) {
        if (const auto same = with_bounds_.find(joined(reference.bounds)); same != with_bounds_.end()) {
            return {nearest_of(same->second, regions, reference.near), same->second.size() == 1};
        }
    }
    std::vector<int> around;
    for (size_t i = 0; i < regions.size(); ++i) {
        if (regions[i].contains(reference.near)) {
            around.push_back(static_cast<int>(i));
        }
    }
    if (reference.bounds.empty()) {
        return around.empty() ? FoundRegion{} : FoundRegion{around.front(), true};
    }
    FoundRegion best;
    size_t most = 0;
    for (const int candidate : around) {
        const auto& bounds = regions[static_cast<size_t>(candidate)].bounds;
        const auto shared =
            static_cast<size_t>(std::count_if(bounds.begin(), bounds.end(), [&](const std::string& bound) {
                return bound != twin_mark &&
                       std::find(reference.bounds.begin(), reference.bounds.end(), bound) != reference.bounds.end();
            }));
        if (shared > most) {
            most = shared;
            best.index = candidate;
        }
    }
    return best;
}

namespace {

geom::OutlinePiece piece_of(const Stretch& s, int start_vertex, int end_vertex) {
    geom::OutlinePiece piece;
    piece.start = s.start;
    piece.end = s.end;
    piece.center = s.center;
    piece.radius = s.round() ? s.radius : 0;
    piece.from = s.from;
    piece.sweep = s.sweep;
    piece.curve = s.label();
    piece.start_vertex = start_vertex;
    piece.end_vertex = end_vertex;
    if (s.kind == StretchKind::ellipse) {
        piece.axis = s.axis;
        piece.other_half = s.radius;
    } else if (s.kind == StretchKind::spline) {
        const Spline part = s.spline->segment(std::min(s.from, s.from + s.sweep), std::max(s.from, s.from + s.sweep));
        piece.degree = part.degree;
        piece.poles = part.poles;
        piece.knots = part.knots;
    }
    return piece;
}

} // namespace

std::vector<geom::OutlineLoop> outline_of(const Region& region) {
    std::vector<geom::OutlineLoop> loops;
    for (size_t l = 0; l < region.loops.size(); ++l) {
        geom::OutlineLoop loop;
        const auto& vertices = region.vertices[l];
        for (size_t i = 0; i < region.loops[l].size(); ++i) {
            loop.push_back(piece_of(region.loops[l][i], vertices[i], vertices[(i + 1) % vertices.size()]));
        }
        loops.push_back(std::move(loop));
    }
    return loops;
}

std::vector<geom::OutlinePiece> pieces_of(const std::vector<Stretch>& stretches) {
    std::vector<Point2> places;
    const auto vertex_at = [&](const Point2& place) {
        const auto known = std::find_if(places.begin(), places.end(),
                                        [&](const Point2& p) { return distance(p, place) <= joining_tolerance; });
        if (known != places.end()) {
            return static_cast<int>(known - places.begin());
        }
        places.push_back(place);
        return static_cast<int>(places.size()) - 1;
    };
    std::vector<geom::OutlinePiece> pieces;
    for (const Stretch& stretch : stretches) {
        const int start = vertex_at(stretch.at(0));
        pieces.push_back(piece_of(stretch, start, vertex_at(stretch.at(1))));
    }
    return pieces;
}

} // namespace kervo::sketch
