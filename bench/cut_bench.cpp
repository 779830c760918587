// A cut in Kervo, with pieces, volume balance, history and names, beside the bare kernel's cut of the same bodies. Both
// run in turn in every iteration, so that noise of the machine meets both; the counter `ratio` is Kervo's time over the
// kernel's. The profile is solved and the workpiece made beforehand, on both sides.
#include "plate.h"

#include "model/cutting/cutting.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepOffsetAPI_ThruSections.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <benchmark/benchmark.h>

namespace {

using namespace kervo;
using namespace kervo::model;
using namespace kervo::bench;

double bare_cut(const TopoDS_Shape& body, const std::vector<TopoDS_Shape>& cutters) {
    TopTools_ListOfShape workpiece;
    TopTools_ListOfShape tools;
    workpiece.Append(body);
    for (const TopoDS_Shape& cutter : cutters) {
        tools.Append(cutter);
    }
    return seconds([&] {
        BRepAlgoAPI_Cut bare;
        bare.SetArguments(workpiece);
        bare.SetTools(tools);
        bare.SetRunParallel(Standard_True);
        bare.SetNonDestructive(Standard_True);
        bare.Build();
        benchmark::DoNotOptimize(bare.Shape());
    });
}

void compare(benchmark::State& state, const std::function<double()>& bare, const std::function<void()>& work) {
    double kernel = 0;
    double ours = 0;
    for (auto _ : state) {
        kernel += bare();
        const double once = seconds(work);
        ours += once;
        state.SetIterationTime(once);
    }
    state.counters["kernel_s"] = benchmark::Counter(kernel, benchmark::Counter::kAvgIterations);
    state.counters["kervo_s"] = benchmark::Counter(ours, benchmark::Counter::kAvgIterations);
    state.counters["ratio"] = ours / kernel;
}

void cut_of_holes(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    const StepOutput output = plate.cut.evaluate(plate.inputs);
    if (has_error(output.findings)) {
        state.SkipWithError(output.findings.front().cause.c_str());
        return;
    }
    const auto [body, cutters] = plate.for_the_kernel();
    compare(
        state, [&, &workpiece = body, &holes = cutters] { return bare_cut(workpiece, holes); },
        [&] { benchmark::DoNotOptimize(plate.cut.evaluate(plate.inputs)); });
}
BENCHMARK(cut_of_holes)->Arg(1)->Arg(10)->Arg(100)->Arg(400)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

// One of the holes lies over the rim: for this one, a general algorithm is needed.
void cut_of_holes_and_rim(benchmark::State& state) {
    const int count = static_cast<int>(state.range(0));
    Plate plate(count);
    auto holes = plate.raster(count, 3);
    holes.back() = {5.0 * plate.side + 5, 0, 2};
    plate.draw(holes);
    const auto [body, cutters] = plate.for_the_kernel();
    compare(
        state, [&, &workpiece = body, &tools = cutters] { return bare_cut(workpiece, tools); },
        [&] { benchmark::DoNotOptimize(plate.cut.evaluate(plate.inputs)); });
}
BENCHMARK(cut_of_holes_and_rim)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

// What no fast way takes: a torus cut by another, and a sphere by a body that is spanned between two outlines.
void general_cut(benchmark::State& state) {
    Plate any(1); // whose inputs serve
    geom::ShapeWithRoles body{BRepPrimAPI_MakeTorus(30, 8).Shape(), {}};
    geom::ShapeWithRoles cutter{BRepPrimAPI_MakeTorus(gp_Ax2(gp_Pnt(25, 0, 0), gp_Dir(0.2, 1, 0.1)), 10, 6).Shape(),
                                {}};
    if (state.range(0) != 0) {
        body.shape = BRepPrimAPI_MakeSphere(30).Shape();
        BRepOffsetAPI_ThruSections between(Standard_True);
        for (const auto& [z, width] : {std::pair(-40.0, 12.0), std::pair(0.0, 20.0), std::pair(40.0, 9.0)}) {
            BRepBuilderAPI_MakePolygon outline;
            outline.Add(gp_Pnt(12 - width, -width, z));
            outline.Add(gp_Pnt(12 + width, -width, z));
            outline.Add(gp_Pnt(12 + width, width, z));
            outline.Add(gp_Pnt(12 - width, width, z));
            outline.Close();
            between.AddWire(outline.Wire());
        }
        cutter.shape = between.Shape();
    }
    const BodyPtr workpiece = name_fresh(10, body);
    any.inputs.bodies["10"] = workpiece;
    const std::vector<SweptRegion> cutters{SweptRegion("c1", cutter)};
    compare(
        state, [&] { return bare_cut(body.shape, {cutter.shape}); },
        [&] {
            StepOutput output;
            Answers answers(any.inputs, output);
            cut_bodies({workpiece}, cutters, {}, Keeps::outside, any.inputs, output, answers);
            if (!answers.ok()) {
                state.SkipWithError(output.findings.front().cause.c_str());
            }
        });
}
BENCHMARK(general_cut)->ArgName("with_sphere")->Arg(0)->Arg(1)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
