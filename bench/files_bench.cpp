// Bodies out to STEP and back, beside the kernel's bare writer and reader of the same bodies. Both run in turn in every
// iteration; the counter `ratio` is Kervo's time over the kernel's, `size` that of the files.
#include "plate.h"

#include "io/document/safe_file.h"
#include "io/formats/step/step.h"

#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <STEPControl_Writer.hxx>

namespace {

using namespace kervo;
using namespace kervo::bench;

struct Pierced {
    TopoDS_Shape shape;
    io::TemporaryFolder folder;

    explicit Pierced(int holes) {
        Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
        Plate plate(holes);
        plate.go_on();
        shape = plate.inputs.bodies.at("10")->shape;
    }
    void write_bare() const {
        STEPControl_Writer writer;
        Interface_Static::SetIVal("write.surfacecurve.mode", 1); // as it is meant to be; ours may have changed it
        writer.Transfer(shape, STEPControl_AsIs);
        writer.Write(folder.file("bare.step").c_str());
    }
    void write() const { io::write_step({{{"Plate", "#c9b98f", shape}}, "Plate"}, {}, folder.file("ours.step")); }
};

void count(benchmark::State& state, double kernel, double ours) {
    state.counters["kernel_s"] = benchmark::Counter(kernel, benchmark::Counter::kAvgIterations);
    state.counters["kervo_s"] = benchmark::Counter(ours, benchmark::Counter::kAvgIterations);
    state.counters["ratio"] = ours / kernel;
}

void step_out(benchmark::State& state) {
    const Pierced pierced(static_cast<int>(state.range(0)));
    double kernel = 0;
    double ours = 0;
    for (auto _ : state) {
        kernel += seconds([&] { pierced.write_bare(); });
        const double once = seconds([&] { pierced.write(); });
        ours += once;
        state.SetIterationTime(once);
    }
    count(state, kernel, ours);
    const auto size = [&](const char* name) {
        return static_cast<double>(io::read_whole(pierced.folder.file(name))->size());
    };
    state.counters["size"] = size("ours.step") / size("bare.step");
}
BENCHMARK(step_out)->Arg(256)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

void step_in(benchmark::State& state) {
    const Pierced pierced(static_cast<int>(state.range(0)));
    pierced.write_bare();
    pierced.write();
    const std::string bytes = *io::read_whole(pierced.folder.file("ours.step"));
    const io::Format format = io::step_format();
    double kernel = 0;
    double ours = 0;
    for (auto _ : state) {
        kernel += seconds([&] {
            STEPControl_Reader reader;
            reader.ReadFile(pierced.folder.file("bare.step").c_str());
            reader.TransferRoots();
            benchmark::DoNotOptimize(reader.OneShape());
        });
        const double once = seconds([&] {
            Progress progress;
            benchmark::DoNotOptimize(format.read_bodies(bytes, progress));
        });
        ours += once;
        state.SetIterationTime(once);
    }
    count(state, kernel, ours);
}
BENCHMARK(step_in)->Arg(256)->Arg(1024)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
