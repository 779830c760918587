// Work that should cost what changes, not what there is: one more hole, and the picture of it. The kernel's side is its
// general cut and its general mesher on the same bodies in the same run; the counters are seconds and ratios (the
// kernel's time over Kervo's, so larger is better).
#include "plate.h"

#include "geom/view/tessellate.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <IMeshTools_Parameters.hxx>
#include <benchmark/benchmark.h>

namespace {

using namespace kervo;
using namespace kervo::bench;

constexpr geom::TessellationOptions picture{0.1, 0.2};

// The plate's next cut beside the kernel's, with the body's index still to be made and with it there.
void compare_cut(benchmark::State& state, Plate& plate) {
    const auto [body, cutters] = plate.for_the_kernel();
    const double kernel = seconds([&, &workpiece = body, &hole = cutters.front()] {
        benchmark::DoNotOptimize(BRepAlgoAPI_Cut(workpiece, hole).Shape());
    });
    double cold = 0;
    double warm = 0;
    for (auto _ : state) {
        auto fresh = std::make_shared<Body>(*plate.inputs.bodies.at("10"));
        fresh->index = std::make_shared<geom::LazyIndex>(fresh->shape);
        plate.inputs.bodies["10"] = fresh;
        cold += seconds([&] { benchmark::DoNotOptimize(plate.cut.evaluate(plate.inputs)); });
        const double once = seconds([&] { benchmark::DoNotOptimize(plate.cut.evaluate(plate.inputs)); });
        warm += once;
        state.SetIterationTime(once);
    }
    const auto rounds = static_cast<double>(state.iterations());
    state.counters["kernel_s"] = kernel;
    state.counters["cold_s"] = cold / rounds;
    state.counters["warm_s"] = warm / rounds;
    state.counters["cold_ratio"] = kernel * rounds / cold;
    state.counters["warm_ratio"] = kernel * rounds / warm;
}

void one_more_hole(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    plate.draw({plate.between(0)});
    compare_cut(state, plate);
}
BENCHMARK(one_more_hole)->Arg(1024)->Arg(4096)->UseManualTime()->Unit(benchmark::kMillisecond);

sketch::Sketch slot(double x, double y, double length, double radius) {
    sketch::Sketch drawing;
    const int a = drawing.add_point(x, y - radius);
    const int b = drawing.add_point(x + length, y - radius);
    const int c = drawing.add_point(x + length, y + radius);
    const int d = drawing.add_point(x, y + radius);
    drawing.add_line(a, b);
    drawing.add_arc(drawing.add_point(x + length, y), b, c);
    drawing.add_line(c, d);
    drawing.add_arc(drawing.add_point(x, y), d, a);
    return drawing;
}

// The holes are square pockets, five faces each; the slot ends in the material, nearer to the rim than the first.
void slot_beside_pockets(benchmark::State& state) {
    const int count = static_cast<int>(state.range(0)) / 5;
    Plate plate(count);
    sketch::Sketch pockets;
    for (const Hole& hole : plate.raster(count, 2)) {
        pockets.add_rectangle({hole.x - 2, hole.y - 2}, {hole.x + 2, hole.y + 2});
    }
    plate.draw(pockets);
    plate.cut.extent.to.value = "distance";
    plate.cut.extent.way.value = "ahead";
    plate.cut.extent.distance.text = "4 mm";
    plate.go_on();
    const double rim = -5.0 * plate.side - 5;
    plate.draw(slot(rim - 5, rim + 3, 12, 1)); // open at the rim
    compare_cut(state, plate);
}
BENCHMARK(slot_beside_pockets)->Arg(1000)->Arg(4000)->UseManualTime()->Unit(benchmark::kMillisecond);

// From hole to hole.
void slot_across_holes(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const Hole first = plate.raster(1, 3).front();
    plate.draw(slot(first.x, first.y, 10, 1));
    compare_cut(state, plate);
}
BENCHMARK(slot_across_holes)->Arg(4096)->UseManualTime()->Unit(benchmark::kMillisecond);

TopoDS_Shape without_triangles(const TopoDS_Shape& shape) {
    return BRepBuilderAPI_Copy(shape, Standard_True, Standard_False).Shape();
}

// `other`: the kernel's faster triangulator in place of its default, which takes minutes at 4096.
void picture_of_holes(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const TopoDS_Shape shape = plate.inputs.bodies.at("10")->shape;
    IMeshTools_Parameters parameters;
    parameters.Deflection = picture.chord;
    parameters.Angle = picture.angle;
    parameters.InParallel = Standard_True;
    if (state.range(1) != 0) {
        parameters.MeshAlgo = IMeshTools_MeshAlgoType_Delabella;
    }
    const TopoDS_Shape theirs = without_triangles(shape);
    const double kernel = seconds([&] { const BRepMesh_IncrementalMesh mesh(theirs, parameters); });
    double ours = 0;
    for (auto _ : state) {
        const TopoDS_Shape copy = without_triangles(shape);
        const double once = seconds([&] { geom::tessellate(copy, picture); });
        ours += once;
        state.SetIterationTime(once);
    }
    state.counters["kernel_s"] = kernel;
    state.counters["ratio"] = kernel * static_cast<double>(state.iterations()) / ours;
}
BENCHMARK(picture_of_holes)
    ->ArgNames({"holes", "other"})
    ->Args({1024, 0})
    ->Args({1024, 1})
    ->Args({4096, 1})
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

// Part of the whole: the triangles of one more hole over those of the plate from nothing.
void picture_of_one_more_hole(benchmark::State& state) {
    time_one_more_hole(state, [](const BodyPtr& body) { geom::tessellate(body->shape, picture); });
}
BENCHMARK(picture_of_one_more_hole)->Arg(4096)->Iterations(40)->UseManualTime()->Unit(benchmark::kMillisecond);

// All holes get another diameter: the cut and the picture, over what the two cost by themselves.
void another_diameter(benchmark::State& state) {
    const int count = static_cast<int>(state.range(0));
    Plate plate(count);
    double whole = 0;
    double parts = 0;
    int i = 0;
    for (auto _ : state) {
        plate.draw(plate.raster(count, 2.0 + 0.01 * (++i % 100)));
        StepOutput output;
        const double cut = seconds([&] { output = plate.cut.evaluate(plate.inputs); });
        const double mesh = seconds([&] { geom::tessellate(output.bodies.at("10")->shape, picture); });
        plate.draw(plate.raster(count, 2.005 + 0.01 * (i % 100)));
        const double both = seconds([&] {
            const StepOutput again = plate.cut.evaluate(plate.inputs);
            geom::tessellate(again.bodies.at("10")->shape, picture);
        });
        parts += cut + mesh;
        whole += both;
        state.SetIterationTime(both);
    }
    state.counters["ratio"] = whole / parts;
}
BENCHMARK(another_diameter)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
