// A cut in Kervo, with pieces, volume balance, history and names, beside the bare kernel's cut of the same bodies. Both
// run in turn in every iteration, so that noise of the machine meets both; the counter `ratio` is Kervo's time over the
// kernel's. The profile is solved and the workpiece made beforehand, on both sides.
#include "geom/profile.h"
#include "geom/stock.h"
#include "model/evaluate.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <benchmark/benchmark.h>

#include <chrono>
#include <cmath>

namespace {

using namespace kervo;
using namespace kervo::model;

// A square plate with room for `count` round holes of diameter 6 on a raster of 10 mm.
struct Plate {
    StepInputs inputs;
    ExtrudeCut cut;
    ParameterValues parameters;
    Services services;
    Progress progress;

    explicit Plate(int count) {
        const int side = static_cast<int>(std::ceil(std::sqrt(count)));
        const auto body = name_fresh(10, geom::make_box(side * 10.0 + 10, side * 10.0 + 10, 8, gp_Ax3()));
        sketch::Sketch drawing;
        for (int i = 0; i < count; ++i) {
            const double x = 10.0 * (i % side) - 5.0 * side + 5;
            const double y = 10.0 * (i / side) - 5.0 * side + 5;
            drawing.add_circle(drawing.add_point(x, y), 3);
        }
        auto sketch = std::make_shared<SketchResult>();
        sketch->frame = gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));
        sketch->regions = sketch::find_regions(drawing);
        sketch->solution.sketch = drawing;
        for (const auto& region : sketch->regions) {
            cut.regions.push_back({region.bounds, region.inside});
        }
        cut.workpieces = {{ElementKind::body, "10", {}, {}, {}}};
        cut.sketch.step = 20;
        cut.extent.to.value = "everything_both";
        inputs.step = 30;
        inputs.bodies["10"] = body;
        inputs.sketches[20] = sketch;
        inputs.parameters = &parameters;
        inputs.services = &services;
        inputs.progress = &progress;
    }
};

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

void cut_of_holes(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    const StepOutput output = plate.cut.evaluate(plate.inputs);
    if (has_error(output.findings)) {
        state.SkipWithError(output.findings.front().cause.c_str());
        return;
    }
    TopTools_ListOfShape workpiece;
    TopTools_ListOfShape holes;
    workpiece.Append(plate.inputs.bodies.at("10")->shape);
    StepOutput scratch;
    Answers answers(plate.inputs, scratch);
    for (const SweptRegion& cutter :
         plate.cut.cutters(plate.inputs, {plate.inputs.bodies.at("10")}, answers, scratch)) {
        holes.Append(cutter.solid().shape);
    }
    double kernel = 0;
    double ours = 0;
    for (auto _ : state) {
        kernel += seconds([&] {
            BRepAlgoAPI_Cut bare;
            bare.SetArguments(workpiece);
            bare.SetTools(holes);
            bare.SetRunParallel(Standard_True);
            bare.SetNonDestructive(Standard_True);
            bare.Build();
            benchmark::DoNotOptimize(bare.Shape());
        });
        const double once = seconds([&] { benchmark::DoNotOptimize(plate.cut.evaluate(plate.inputs)); });
        ours += once;
        state.SetIterationTime(once);
    }
    state.counters["kernel_s"] = benchmark::Counter(kernel, benchmark::Counter::kAvgIterations);
    state.counters["kervo_s"] = benchmark::Counter(ours, benchmark::Counter::kAvgIterations);
    state.counters["ratio"] = ours / kernel;
}
BENCHMARK(cut_of_holes)->Arg(1)->Arg(10)->Arg(100)->Arg(400)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
