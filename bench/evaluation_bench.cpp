// Editing one step of a long route: the work must follow what changed. The counter `steps_run` is a count, not a time.
#include "model/route/evaluate.h"
#include "model/steps/stock/stock.h"

#include <benchmark/benchmark.h>

namespace {

using namespace kervo;
using namespace kervo::model;

void edit_last_of_independent_steps(benchmark::State& state) {
    const int count = static_cast<int>(state.range(0));
    Document document;
    int last = 0;
    for (int i = 0; i < count; ++i) {
        Stock stock;
        stock.x.text = std::to_string(200 * i) + " mm";
        document = add_step(std::move(document), stock, "Block", -1, &last);
    }
    EvaluationCache cache;
    Progress progress;
    evaluate(document, cache, {}, progress);
    int height = 20;
    int most = 0;
    for (auto _ : state) {
        document = change_field(std::move(document), last, "height", Expression{std::to_string(++height) + " mm"});
        most = std::max(most, evaluate(document, cache, {}, progress).steps_run);
    }
    state.counters["steps_run"] = most;
}
BENCHMARK(edit_last_of_independent_steps)->Arg(10)->Arg(100)->Arg(1000)->Arg(10000)->Unit(benchmark::kMicrosecond);

} // namespace
