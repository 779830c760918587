// A plate to be pierced, and how long something takes.
#pragma once

#include "geom/stock.h"
#include "model/evaluate.h"

#include <chrono>
#include <cmath>
#include <functional>

namespace kervo::bench {

using namespace kervo::model;

struct Hole {
    double x = 0, y = 0, radius = 3;
};

// A square plate with room for `count` round holes of diameter 6 on a raster of 10 mm, and a step that cuts them.
struct Plate {
    StepInputs inputs;
    ExtrudeCut cut;
    ParameterValues parameters;
    Services services;
    Progress progress;
    int side;

    explicit Plate(int count) : side(static_cast<int>(std::ceil(std::sqrt(count)))) {
        const double size = side * 10.0 + 10;
        inputs.bodies["10"] = name_fresh(10, geom::make_box(size, size, 8, gp_Ax3()));
        cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
        cut.sketch.step = 20;
        cut.extent.to.value = "everything_both";
        inputs.step = 30;
        inputs.parameters = &parameters;
        inputs.services = &services;
        inputs.progress = &progress;
        draw(raster(count, 3));
    }
    [[nodiscard]] std::vector<Hole> raster(int count, double radius) const {
        std::vector<Hole> holes;
        for (int i = 0; i < count; ++i) {
            holes.push_back({10.0 * (i % side) - 5.0 * side + 5, 10.0 * (i / side) - 5.0 * side + 5, radius});
        }
        return holes;
    }
    /// Between four of the raster.
    [[nodiscard]] Hole between(int i) const { return {10.0 * (i % side) - 5.0 * side + 10, 0, 1}; }

    void draw(const std::vector<Hole>& holes) {
        sketch::Sketch drawing;
        for (const Hole& hole : holes) {
            drawing.add_circle(drawing.add_point(hole.x, hole.y), hole.radius);
        }
        draw(drawing);
    }
    void draw(const sketch::Sketch& drawing) {
        auto sketch = std::make_shared<SketchResult>();
        sketch->frame = gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
        sketch->regions = sketch::find_regions(drawing);
        sketch->solution.sketch = drawing;
        cut.regions.clear();
        for (const auto& region : sketch->regions) {
            cut.regions.push_back({region.bounds, region.inside});
        }
        inputs.sketches[20] = sketch;
    }
    /// The next cut goes into what this one left.
    void go_on() {
        inputs.bodies["10"] = cut.evaluate(inputs).bodies.at("10");
        inputs.step += 10;
    }
    /// The workpiece and the solids that cut it, as the kernel takes them.
    std::pair<TopoDS_Shape, std::vector<TopoDS_Shape>> for_the_kernel() {
        StepOutput scratch;
        Answers answers(inputs, scratch);
        std::vector<TopoDS_Shape> cutters;
        for (const SweptRegion& cutter : cut.cutters(inputs, {inputs.bodies.at("10")}, answers, scratch)) {
            cutters.push_back(cutter.solid().shape);
        }
        return {inputs.bodies.at("10")->shape, cutters};
    }
};

inline double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

} // namespace kervo::bench
