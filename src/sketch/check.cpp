#include "sketch/check.h"

#include <algorithm>
#include <cmath>

namespace kervo::sketch {

std::string to_string(FlawKind kind) {
    switch (kind) {
    case FlawKind::gap:
        return "gap";
    case FlawKind::crossing:
        return "crossing";
    case FlawKind::twin:
        return "double";
    case FlawKind::tiny:
        return "tiny curve";
    case FlawKind::self:
        break;
    }
    return "self-crossing";
}

namespace {

std::string mm(double value) {
    return format_quantity(value, "mm", 4) + " mm";
}

void find_gaps(const Sketch& sketch, const std::vector<Stretch>& stretches, double limit, std::vector<Flaw>& flaws) {
    const SharedEnds shared(sketch);
    struct End {
        int point, curve;
        Point2 place;
    };
    std::vector<End> ends;
    for (const Curve& curve : sketch.curves) {
        if (!curve.construction) {
            for (const int point : end_points(curve)) {
                ends.push_back({point, curve.id, {sketch.point(point)->x, sketch.point(point)->y}});
            }
        }
    }
    // Loose: nothing else ends there, and it lies on no other curve.
    std::vector<End> loose;
    for (const End& end : ends) {
        const bool met = std::any_of(ends.begin(), ends.end(), [&](const End& other) {
            return &other != &end &&
                   (shared.same(end.point, other.point) || distance(end.place, other.place) <= joining_tolerance);
        });
        const bool lies = std::any_of(stretches.begin(), stretches.end(), [&](const Stretch& s) {
            return s.curve != end.curve && nearest_on(s, end.place).second <= joining_tolerance;
        });
        if (!met && !lies) {
            loose.push_back(end);
        }
    }
    std::vector<bool> taken(loose.size());
    struct Pair {
        size_t a, b;
        double apart;
    };
    std::vector<Pair> pairs;
    for (size_t i = 0; i < loose.size(); ++i) {
        for (size_t j = i + 1; j < loose.size(); ++j) {
            const double apart = distance(loose[i].place, loose[j].place);
            // Both ends of one short curve are no gap; of one that all but closes they are.
            const bool own = loose[i].curve == loose[j].curve &&
                             stretch_of(sketch, *sketch.curve(loose[i].curve)).length() < 3 * apart;
            if (apart <= limit && !own) {
                pairs.push_back({i, j, apart});
            }
        }
    }
    std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.apart < b.apart; });
    for (const Pair& pair : pairs) {
        if (!taken[pair.a] && !taken[pair.b]) {
            taken[pair.a] = taken[pair.b] = true;
            const Point2& p = loose[pair.a].place;
            const Point2& q = loose[pair.b].place;
            flaws.push_back({FlawKind::gap,
                             {(p[0] + q[0]) / 2, (p[1] + q[1]) / 2},
                             pair.apart,
                             {loose[pair.a].point, loose[pair.b].point},
                             "A gap of " + mm(pair.apart) + " between two ends.",
                             true});
        }
    }
}

// How much of `a` lies on `b`: the longest stay between places that they share.
double shared_length(const Stretch& a, const Stretch& b) {
    std::vector<double> ends{0, 1};
    for (const auto& [t, u] : meetings(a, b, joining_tolerance)) {
        ends.push_back(t);
    }
    std::sort(ends.begin(), ends.end());
    double total = 0;
    for (size_t i = 0; i + 1 < ends.size(); ++i) {
        constexpr std::array<double, 3> probes{0.2, 0.5, 0.8};
        const bool along = std::all_of(probes.begin(), probes.end(), [&](double f) {
            return nearest_on(b, a.at(ends[i] + (ends[i + 1] - ends[i]) * f)).second <= 10 * joining_tolerance;
        });
        total += along && ends[i + 1] - ends[i] > 1e-9 ? a.part(ends[i], ends[i + 1]).length() : 0;
    }
    return total;
}

void find_pairs(const std::vector<Stretch>& stretches, std::vector<Flaw>& twins, std::vector<Flaw>& crossings) {
    for (size_t i = 0; i < stretches.size(); ++i) {
        for (size_t j = i + 1; j < stretches.size(); ++j) {
            const Stretch& a = stretches[i];
            const Stretch& b = stretches[j];
            const auto found = meetings(a, b, joining_tolerance);
            if (found.empty()) {
                continue;
            }
            if (const double length = shared_length(a, b); length > 1e-4) {
                const bool whole = length > a.length() - 1e-4 || length > b.length() - 1e-4;
                twins.push_back({FlawKind::twin,
                                 a.at(0.5),
                                 length,
                                 {a.curve, b.curve},
                                 "Two curves lie on each other over " + mm(length) + ".",
                                 whole});
                continue;
            }
            for (const auto& [t, u] : found) {
                const Point2 place = a.at(t);
                const auto at_end = [&](const Stretch& s) {
                    return !s.closed(joining_tolerance) && (distance(place, s.start) <= joining_tolerance ||
                                                            distance(place, s.end) <= joining_tolerance);
                };
                if (!at_end(a) && !at_end(b)) {
                    crossings.push_back(
                        {FlawKind::crossing, place, 0, {a.curve, b.curve}, "Two curves cross here.", false});
                }
            }
        }
    }
}

} // namespace

std::vector<Flaw> check(const Sketch& sketch, const CheckLimits& limits) {
    std::vector<Flaw> flaws;
    std::vector<Flaw> twins;
    std::vector<Flaw> crossings;
    const auto stretches = stretches_of(sketch);
    find_gaps(sketch, stretches, limits.gap, flaws);
    find_pairs(stretches, twins, crossings);
    flaws.insert(flaws.end(), twins.begin(), twins.end());
    for (const Curve& curve : sketch.curves) {
        const Stretch s = stretch_of(sketch, curve);
        if (const double length = s.length(); !curve.construction && length < limits.tiny) {
            flaws.push_back(
                {FlawKind::tiny, s.at(0.5), length, {curve.id}, "A curve of only " + mm(length) + ".", true});
        }
    }
    for (const Stretch& s : stretches) {
        for (const auto& [t, u] : self_meetings(s, joining_tolerance)) {
            flaws.push_back({FlawKind::self, s.at(t), 0, {s.curve}, "A curve crosses itself here.", false});
        }
    }
    flaws.insert(flaws.end(), crossings.begin(), crossings.end());
    return flaws;
}

namespace {

// All that uses the one point uses the other from here on.
void merge_points(Sketch& s, int keep, int drop) {
    for (Curve& curve : s.curves) {
        std::replace(curve.points.begin(), curve.points.end(), drop, keep);
    }
    for (Constraint& c : s.constraints) {
        std::replace(c.on.begin(), c.on.end(), drop, keep);
    }
    std::erase_if(s.points, [drop](const Point& p) { return p.id == drop; });
    std::erase_if(s.constraints, [](const Constraint& c) { return c.on.size() == 2 && c.on[0] == c.on[1]; });
}

} // namespace

Sketch mend(const Sketch& sketch, const Flaw& flaw) {
    Sketch s = sketch;
    if (!flaw.mendable) {
        return s;
    }
    if (flaw.kind == FlawKind::gap) {
        s.point(flaw.ids[0])->x = flaw.at[0];
        s.point(flaw.ids[0])->y = flaw.at[1];
        merge_points(s, flaw.ids[0], flaw.ids[1]);
    } else if (flaw.kind == FlawKind::twin) {
        const double first = stretch_of(s, *s.curve(flaw.ids[0])).length();
        const double second = stretch_of(s, *s.curve(flaw.ids[1])).length();
        s.remove(first < second ? flaw.ids[0] : flaw.ids[1]);
    } else if (flaw.kind == FlawKind::tiny) {
        const auto ends = end_points(*s.curve(flaw.ids[0]));
        std::erase_if(s.curves, [&](const Curve& c) { return c.id == flaw.ids[0]; });
        std::erase_if(s.constraints, [&](const Constraint& c) {
            return std::find(c.on.begin(), c.on.end(), flaw.ids[0]) != c.on.end();
        });
        if (ends.size() == 2 && ends[0] != ends[1]) { // its neighbours meet where it was
            merge_points(s, ends[0], ends[1]);
        }
    }
    return s;
}

} // namespace kervo::sketch
