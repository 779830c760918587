// Sketches: solving and dragging chains of 20, 100 and 500 curves, and regions of many crossing circles against the
// naive way of asking every pair.
#include "sketch/arrangement.h"
#include "sketch/solve.h"

#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

namespace {

using namespace kervo;
using namespace kervo::sketch;

// A frame of triangles: every joint hangs on the two before it, so that all is held and all hangs together.
Sketch frame_of(int curves, bool held) {
    Sketch s;
    std::vector<Point2> places{{0, 0}, {40, 0}};
    std::vector<int> joints{s.add_point(0, 0), s.add_point(40, 0)};
    s.add_constraint(ConstraintKind::fixed, {joints[0]});
    s.add_constraint(ConstraintKind::fixed, {joints[1]});
    while (static_cast<int>(s.curves.size()) + 2 <= curves) {
        const size_t n = joints.size();
        const double rise = n % 2 == 0 ? 30 : -30;
        const Point2 p{places[n - 1][0] + 20, rise > 0 ? 30.0 : 0.0};
        places.push_back(p);
        joints.push_back(s.add_point(p[0], p[1]));
        for (const size_t back : {size_t{1}, size_t{2}}) {
            const int line = s.add_line(joints[n - back], joints[n]);
            const bool last = static_cast<int>(s.curves.size()) == curves && !held;
            if (!last) {
                s.add_constraint(ConstraintKind::distance, {line},
                                 format_quantity(distance(places[n - back], p), "mm", 12));
            }
        }
    }
    return s;
}

void drag_solve(benchmark::State& state) {
    const Sketch s = frame_of(static_cast<int>(state.range(0)), false);
    const int last = s.points.back().id;
    const Point2 from{s.points.back().x, s.points.back().y};
    double angle = 0;
    for (auto _ : state) {
        angle += 0.1;
        benchmark::DoNotOptimize(drag(s, {}, {{last, {from[0] + std::cos(angle), from[1] + std::sin(angle)}}}));
    }
    state.SetComplexityN(state.range(0));
}
BENCHMARK(drag_solve)->Arg(20)->Arg(100)->Arg(500)->Unit(benchmark::kMillisecond)->Complexity();

void solve_held(benchmark::State& state) {
    Sketch s = frame_of(static_cast<int>(state.range(0)), true);
    std::mt19937 random(1);
    std::uniform_real_distribution<double> jitter(-0.1, 0.1);
    for (size_t i = 2; i < s.points.size(); ++i) {
        s.points[i].x += jitter(random);
        s.points[i].y += jitter(random);
    }
    for (auto _ : state) {
        benchmark::DoNotOptimize(solve(s, {}));
    }
    state.SetComplexityN(state.range(0));
}
BENCHMARK(solve_held)->Arg(20)->Arg(100)->Arg(500)->Unit(benchmark::kMillisecond)->Complexity();

std::vector<Stretch> circles(int count) {
    std::mt19937 random(2);
    const double field = 10 * std::sqrt(static_cast<double>(count)) * 2;
    std::uniform_real_distribution<double> place(0, field);
    std::uniform_real_distribution<double> size(4, 14);
    std::vector<Stretch> all;
    for (int i = 0; i < count; ++i) {
        all.push_back(arc_about({place(random), place(random)}, size(random), 0, 2 * M_PI, i + 1));
    }
    return all;
}

void regions_of_circles(benchmark::State& state) {
    const auto all = circles(static_cast<int>(state.range(0)));
    size_t regions = 0;
    Progress quiet;
    for (auto _ : state) {
        regions = arrange(all, quiet).regions.size();
    }
    state.counters["regions"] = static_cast<double>(regions);
}
BENCHMARK(regions_of_circles)->Arg(100)->Arg(1000)->Unit(benchmark::kMillisecond);

// Only what the naive way spends on finding the meetings: every pair is asked.
void meetings_of_all_pairs(benchmark::State& state) {
    const auto all = circles(static_cast<int>(state.range(0)));
    size_t found = 0;
    for (auto _ : state) {
        found = 0;
        for (size_t i = 0; i < all.size(); ++i) {
            for (size_t j = i + 1; j < all.size(); ++j) {
                found += meetings(all[i], all[j], joining_tolerance).size();
            }
        }
    }
    state.counters["meetings"] = static_cast<double>(found);
}
BENCHMARK(meetings_of_all_pairs)->Arg(100)->Arg(1000)->Unit(benchmark::kMillisecond);

} // namespace
