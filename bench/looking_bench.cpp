// Looking inside: what a cutaway shows while it is dragged, beside the kernel's section in the same plane.
#include "geom/view/section.h"
#include "geom/view/section_area.h"
#include "geom/view/section_of.h"
#include "plate.h"
#include "scene/caps.h"

#include <benchmark/benchmark.h>

namespace {

using namespace kervo;
using namespace kervo::bench;

// 48 frames of a plane that is dragged through the plate with 4096 holes: across it, aslant, or nearly parallel to its
// large faces. Each frame is filled in rows as fine as the picture, and hatched.
void cap_while_dragging(benchmark::State& state) {
    Plate plate(static_cast<int>(state.range(0)));
    plate.go_on();
    const auto body = plate.inputs.bodies.at("10");
    scene::BodyShower shower;
    shower.show({body});
    const auto shown = shower(body);
    const double width = plate.side * 10.0 + 10;
    const std::array<Vector3, 3> normals{Vector3(0, 1, 0), Vector3(0.3, 0.5, 0.8).unit(),
                                         Vector3(0.004, 0.003, 1).unit()};
    const auto way = static_cast<size_t>(state.range(1));
    model::Cutaway cutaway;
    cutaway.normal = {normals[way].x, normals[way].y, normals[way].z};
    const double reach = std::array{width / 2, width / 4, 3.0}[way];
    const auto style = [&](const model::Cutaway& each) { return scene::cap_style({}, each, "10", 0, width * 1.4); };
    const auto nothing = [](const model::BodyId&, const Line3&) { return model::Stretches(); };
    constexpr int frames = 48;
    double sum = 0;
    double worst = 0;
    for (auto _ : state) {
        const double before = sum;
        for (int i = 0; i < frames; ++i) {
            const double at = reach * (2.0 * (i + 0.37) / frames - 1);
            cutaway.origin = (Point3(0, 0, 4) + normals[way] * at).array();
            const double once = seconds([&] {
                benchmark::DoNotOptimize(scene::live_caps("10", *shown, {cutaway}, style, width * 1.4 / 800, nothing));
            });
            sum += once;
            worst = std::max(worst, once);
        }
        state.SetIterationTime((sum - before) / frames);
    }
    state.counters["worst_ms"] = worst * 1e3;
    if (way == 0) { // through the middles of a row of holes
        const gp_Pln plane(gp_Pnt(0, 5, 4), gp_Dir(0, 1, 0));
        state.counters["kernel_ms"] =
            seconds([&] { benchmark::DoNotOptimize(geom::section_faces(body->shape, plane)); }) * 1e3;
        // Traced, with nothing known of the body; and followed by rays.
        const gp_Ax3 beside(gp_Pnt(0, 5.1, 4), gp_Dir(0, 1, 0));
        state.counters["traced_ms"] =
            seconds([&] { benchmark::DoNotOptimize(geom::section_area(body->shape, beside)); }) * 1e3;
        state.counters["section_ms"] =
            seconds([&] { benchmark::DoNotOptimize(geom::traced_section(body->shape, beside)); }) * 1e3;
    }
}
BENCHMARK(cap_while_dragging)
    ->ArgsProduct({{4096}, {0, 1, 2}})
    ->Iterations(2)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

} // namespace
