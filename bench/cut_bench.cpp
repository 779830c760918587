// A cut in Kervo, with pieces, volume balance, history and names, beside the bare kernel's cut of the same bodies. Both
// run in turn in every iteration, so that noise of the machine meets both; the counter `ratio` is Kervo's time over the
// kernel's. The profile is solved and the workpiece made beforehand, on both sides.
#include "plate.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <benchmark/benchmark.h>

namespace {

using namespace kervo;
using namespace kervo::model;
using namespace kervo::bench;

void cut_of_holes(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    const StepOutput output = plate.cut.evaluate(plate.inputs);
    if (has_error(output.findings)) {
        state.SkipWithError(output.findings.front().cause.c_str());
        return;
    }
    const auto [body, cutters] = plate.for_the_kernel();
    TopTools_ListOfShape workpiece;
    TopTools_ListOfShape holes;
    workpiece.Append(body);
    for (const TopoDS_Shape& cutter : cutters) {
        holes.Append(cutter);
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
