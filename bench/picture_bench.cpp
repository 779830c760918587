// What the window is told of a body, and what it asks: beside what the kernel needs for the same.
#include "geom/measure/pick.h"
#include "plate.h"
#include "scene/shown_body.h"

#include <benchmark/benchmark.h>
#include <gp_Lin.hxx>

namespace {

using namespace kervo;
using namespace kervo::bench;

const Line3 askew{{3, 4, 100}, Vector3(0.1, 0.05, -0.99).unit()};

// Made anew for one more hole, over what it takes from nothing.
void shown_with_one_more_hole(benchmark::State& state) {
    scene::BodyShower shower;
    time_one_more_hole(state, [&](const BodyPtr& body) { shower.show({body}); });
}
BENCHMARK(shown_with_one_more_hole)->Arg(4096)->Iterations(10)->UseManualTime()->Unit(benchmark::kMillisecond);

// The pointer moves for the first time: a face, and all edges and vertices near it, with a tree that is there, as the
// evaluator leaves it. The kernel is asked for the face alone.
void first_move_of_the_pointer(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const auto body = plate.inputs.bodies.at("10");
    scene::BodyShower shower;
    shower.show({body});
    const double kernel = seconds([&] {
        benchmark::DoNotOptimize(geom::hits_along(
            body->shape, gp_Lin(gp_Pnt(3, 4, 100), gp_Dir(askew.along.x, askew.along.y, askew.along.z))));
    });
    double sum = 0;
    for (auto _ : state) {
        const scene::PickTree fresh(shower(body)->mesh);
        fresh.prepare();
        const double once = seconds([&] {
            const auto face = fresh.first_face(askew, -1e9, 1e9);
            benchmark::DoNotOptimize(fresh.near(askew, 2, -1e9, face->at + 3));
        });
        sum += once;
        state.SetIterationTime(once);
    }
    state.counters["kernel_over_ours"] = kernel / (sum / static_cast<double>(state.iterations()));
}
BENCHMARK(first_move_of_the_pointer)->Arg(4096)->Iterations(10)->UseManualTime()->Unit(benchmark::kMillisecond);

// A click is a reference; the first one sorts the names of all elements.
void first_reference_to_an_edge(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const auto body = plate.inputs.bodies.at("10");
    model::ElementMaker maker;
    const double with_shapes =
        seconds([&] { benchmark::DoNotOptimize(model::refer_to("10", *body, geom::edges_of(body->shape)[99])); });
    double sum = 0;
    for (auto _ : state) {
        const auto elements = maker.elements_of(*body);
        const double once = seconds([&] {
            benchmark::DoNotOptimize(elements->reference("10", {model::ElementKind::edge, 99}));
        });
        sum += once;
        state.SetIterationTime(once);
    }
    state.counters["shapes_over_ours"] = with_shapes / (sum / static_cast<double>(state.iterations()));
}
BENCHMARK(first_reference_to_an_edge)->Arg(4096)->Iterations(10)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
