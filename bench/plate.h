// A plate to be pierced, and how long something takes.
#pragma once

#include "one_cut.h"

#include "geom/make/stock.h"

#include <benchmark/benchmark.h>

#include <chrono>
#include <cmath>
#include <functional>

namespace kervo::bench {

using namespace kervo::model;

struct Hole {
    double x = 0, y = 0, radius = 3;
};

// A square plate with room for `count` round holes of diameter 6 on a raster of 10 mm, and a step that cuts them.
struct Plate : test::OneCut {
    int side;

    explicit Plate(int count) : Plate(count, static_cast<int>(std::ceil(std::sqrt(count)))) {}
    [[nodiscard]] std::vector<Hole> raster(int count, double radius) const {
        std::vector<Hole> holes;
        for (int i = 0; i < count; ++i) {
            holes.push_back({10.0 * (i % side) - 5.0 * side + 5, 10.0 * (i / side) - 5.0 * side + 5, radius});
        }
        return holes;
    }
    /// Between four of the raster.
    [[nodiscard]] Hole between(int i) const { return {10.0 * (i % side) - 5.0 * side + 10, 0, 1}; }

    using OneCut::draw;
    void draw(const std::vector<Hole>& holes) {
        sketch::Sketch drawing;
        for (const Hole& hole : holes) {
            drawing.add_circle(drawing.add_point(hole.x, hole.y), hole.radius);
        }
        draw(drawing);
    }
    /// The workpiece and the solids that cut it, as the kernel takes them.
    std::pair<TopoDS_Shape, std::vector<TopoDS_Shape>> for_the_kernel() {
        StepOutput scratch;
        Answers answers(inputs, scratch);
        std::vector<TopoDS_Shape> cutters;
        for (const SweptRegion& cutter : cut.cutters({inputs.bodies.at("10")}, answers, scratch)) {
            cutters.push_back(cutter.solid().shape);
        }
        return {inputs.bodies.at("10")->shape, cutters};
    }

private:
    Plate(int count, int across)
        : OneCut(geom::make_box(across * 10.0 + 10, across * 10.0 + 10, 8, gp_Ax3())), side(across) {
        draw(raster(count, 3));
    }
};

inline double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Part of the whole: the work on a plate with one more hole over the work on the plate from nothing. The cuts between
/// are not counted.
inline void time_one_more_hole(benchmark::State& state, const std::function<void(const BodyPtr&)>& work) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const double whole = seconds([&] { work(plate.inputs.bodies.at("10")); });
    double more = 0;
    int i = 0;
    for (auto _ : state) {
        plate.draw({plate.between(i++)});
        plate.go_on();
        const double once = seconds([&] { work(plate.inputs.bodies.at("10")); });
        more += once;
        state.SetIterationTime(once);
    }
    state.counters["whole_s"] = whole;
    state.counters["part"] = more / static_cast<double>(state.iterations()) / whole;
}

} // namespace kervo::bench
