#include "sketch/arrangement.h"

#include "sketch/figures.h"
#include "sketch/split_curves.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <unordered_map>

namespace kervo::sketch {

namespace {

// The subdivision: edges between numbered vertices; half-edge 2i runs along edge i, 2i + 1 against it.
// Whether the first of two stretches that leave a place in one direction lies to the left of the other, where they part
// clearly for the first time. They do not cross.
bool lies_left(const Stretch& a, const Stretch& b) {
    for (double t = 1.0 / 1024; t <= 1; t *= 2) {
        const Point2 place = a.at(t);
        const auto [at, gap] = nearest_on(b, place);
        if (gap > 10 * joining_tolerance && at > 0 && at < 1) {
            const Motion m = b.motion(at);
            return m.first[0] * (place[1] - m.place[1]) - m.first[1] * (place[0] - m.place[0]) > 0;
        }
    }
    return false;
}

class Subdivision {
public:
    Subdivision(const std::vector<Stretch>& stretches, Folds folds, Progress& progress)
        : spending_(progress), split_(split_where_they_meet(stretches, folds, spending_)) {
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
    struct Loop {
        std::vector<int> half_edges;
        double area = 0;
    };

    // Counts one of the many things that there are to do.
    void drop_dangling() {
        std::vector<int> degree(split_.places.size());
        std::vector<std::vector<size_t>> at(split_.places.size());
        for (size_t i = 0; i < split_.edges.size(); ++i) {
            if (split_.edges[i].alive) {
                for (const int end : {split_.edges[i].from, split_.edges[i].to}) {
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
                if (split_.edges[i].alive && degree[v] == 1) {
                    split_.edges[i].alive = false;
                    for (const int end : {split_.edges[i].from, split_.edges[i].to}) {
                        if (--degree[static_cast<size_t>(end)] == 1) {
                            loose.push_back(static_cast<size_t>(end));
                        }
                    }
                }
            }
        }
    }

    [[nodiscard]] Stretch along(int half) const {
        const Stretch& s = split_.edges[static_cast<size_t>(half / 2)].stretch;
        return half % 2 == 0 ? s : s.reversed();
    }
    [[nodiscard]] int origin(int half) const {
        const SplitCurves::Edge& edge = split_.edges[static_cast<size_t>(half / 2)];
        return half % 2 == 0 ? edge.from : edge.to;
    }

    // Half-edges that leave a vertex, counterclockwise; where two leave in one direction, the one that bends more to
    // the left comes later.
    [[nodiscard]] std::vector<std::vector<int>> fans() const {
        struct Ray {
            int half;
            double heading, bend;
        };
        std::vector<std::vector<Ray>> rays(split_.places.size());
        for (size_t i = 0; i < split_.edges.size(); ++i) {
            if (split_.edges[i].alive) {
                for (const int half : {static_cast<int>(2 * i), static_cast<int>(2 * i + 1)}) {
                    const Stretch s = along(half);
                    rays[static_cast<size_t>(origin(half))].push_back({half, s.heading(true), s.bend()});
                }
            }
        }
        std::vector<std::vector<int>> result(split_.places.size());
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
                for (size_t i = first + 1; i < last; ++i) { // what bends alike
                    for (size_t k = i; k > first && lies_left(along(fan[k - 1].half), along(fan[k].half)); --k) {
                        std::swap(fan[k - 1], fan[k]);
                    }
                }
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
        std::vector<int> next(split_.edges.size() * 2, -1);
        for (const auto& around : fan) {
            for (size_t i = 0; i < around.size(); ++i) {
                const int leaving = around[i];
                const int before = around[(i + around.size() - 1) % around.size()];
                next[static_cast<size_t>(leaving ^ 1)] = before;
            }
        }
        loops_.clear();
        loop_of_.assign(split_.edges.size() * 2, -1);
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
        for (size_t i = 0; i < split_.edges.size(); ++i) {
            if (split_.edges[i].alive && loop_of_[2 * i] == loop_of_[2 * i + 1]) {
                split_.edges[i].alive = false;
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
                spending_.spend();
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
            spending_.spend();
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

    Spending spending_;
    SplitCurves split_;
    std::vector<Loop> loops_;
    std::vector<int> loop_of_;
};

} // namespace

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

} // namespace kervo::sketch
