#include "sketch/split_curves.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace kervo::sketch {

namespace {

constexpr size_t most_pairs = 5000000; ///< whose boxes meet
constexpr size_t most_parts = 200000;  ///< of curves, between their crossings

[[noreturn]] void refuse_so_much(const std::string& what, size_t most) {
    throw Refusal{error_finding(
        "sketch.too_much", "Too much overlaps here: there are more than " + std::to_string(most) + " " + what + ".",
        "Make the figures smaller or fewer, or draw them in several sketches.")};
}

// Curves that lie on each other all along have crossings without number, so that no region is certain.
void refuse_folded(const Stretch& a, const Stretch& b) {
    Finding finding =
        error_finding("sketch.folded",
                      a.curve == b.curve ? "Curve " + std::to_string(a.curve) + " runs back on itself."
                                         : "Curves " + std::to_string(a.curve) + " and " + std::to_string(b.curve) +
                                               " run along each other without being the same.",
                      a.curve == b.curve ? "Move its points apart." : "Delete one of them, or move it.");
    throw Refusal{std::move(finding)};
}
// Pairs whose boxes overlap, by sweeping along x: far fewer than all pairs.
template <class Visit> void near_pairs(const std::vector<Stretch>& stretches, const Visit& visit) {
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

// Where parts of the curve end that lie on others: what lies twice in one place then bounds once.
void add_folds(const Stretch& stretch, std::vector<double>& cuts) {
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

class Splitting {
public:
    Splitting(Folds folds, Spending& spending) : folds_(folds), spending_(spending) {}

    SplitCurves split(const std::vector<Stretch>& stretches) {
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
            spending_.spend();
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
            spending_.spend();
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
        return std::move(split_);
    }

private:
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
                    if (distance(split_.places[static_cast<size_t>(known)], p) <= joining_tolerance) {
                        return known;
                    }
                }
            }
        }
        split_.places.push_back(p);
        const int fresh = static_cast<int>(split_.places.size()) - 1;
        raster_[key(cx, cy)].push_back(fresh);
        return fresh;
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
            if (nearest_on(split_.edges[static_cast<size_t>(other)].stretch, middle).second <= 10 * joining_tolerance) {
                return;
            }
        }
        edges_at_[std::minmax(from, to)].push_back(static_cast<int>(split_.edges.size()));
        split_.edges.push_back({part, from, to});
    }

    struct CellHash {
        size_t operator()(const std::array<long, 2>& cell) const {
            const size_t x = std::hash<long>{}(cell[0]);
            return x ^ (std::hash<long>{}(cell[1]) + 0x9e3779b97f4a7c15ULL + (x << 6U) + (x >> 2U));
        }
    };

    Folds folds_;
    Spending& spending_;
    SplitCurves split_;
    std::unordered_map<std::array<long, 2>, std::vector<int>, CellHash> raster_;
    std::map<std::pair<int, int>, std::vector<int>> edges_at_;
};

} // namespace

void Spending::spend() {
    constexpr size_t between_looks = 256;
    if (++spent_ % between_looks == 0 && progress_.cancelled()) {
        throw Refusal{error_finding("sketch.cancelled", "Finding the regions was stopped.", "")};
    }
}

SplitCurves split_where_they_meet(const std::vector<Stretch>& stretches, Folds folds, Spending& spending) {
    return Splitting(folds, spending).split(stretches);
}

} // namespace kervo::sketch
