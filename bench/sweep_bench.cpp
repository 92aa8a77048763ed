// What a second core gives a sweep, beside what it gives a loop that does nothing but count.
#include <string>

#include <benchmark/benchmark.h>
#include <tbb/blocked_range.h>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>

#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/sweep.h"

namespace {

using namespace bushbaby;

// Standing jumps over two knobs.
KnobSweep jumps() {
  KnobSweep sweep;
  sweep.base = load_tuning(std::string(BUSHBABY_DEMO_SOURCE) + "/pip.tuning.toml")->tuning;
  for (const char* key : {"fall.factor", "jump.height"}) {
    SweepAxis axis{*find_place(key), {}};
    for (int i = 0; i < 128; ++i) axis.values.emplace_back(1 + i / 50.0);
    sweep.axes.push_back(std::move(axis));
  }
  sweep.facts = {&find_drill("stand_jump")->facts.front()};
  return sweep;
}

void sweep_jumps(benchmark::State& state) {
  const tbb::global_control cores(tbb::global_control::max_allowed_parallelism,
                                  static_cast<std::size_t>(state.range(0)));
  const KnobSweep sweep = jumps();
  for (auto _ : state) {
    run_sweep(sweep, 0, runs_of(sweep), [](std::size_t, const std::vector<SweepRun>& runs) {
      benchmark::DoNotOptimize(runs.data());
      return true;
    });
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(runs_of(sweep)));
}
BENCHMARK(sweep_jumps)->Arg(1)->Arg(2)->UseRealTime()->Unit(benchmark::kMillisecond);

void bare_loop(benchmark::State& state) {
  const tbb::global_control cores(tbb::global_control::max_allowed_parallelism,
                                  static_cast<std::size_t>(state.range(0)));
  for (auto _ : state) {
    tbb::parallel_for(tbb::blocked_range<int>(0, 4096), [](const tbb::blocked_range<int>& part) {
      for (int i = part.begin(); i < part.end(); ++i) {
        // Four sums that do not wait for one another, as a step has many.
        double sums[4] = {1.0 * i, 2.0 * i, 3.0 * i, 4.0 * i};
        for (int k = 0; k < 60000; ++k) {
          for (double& sum : sums) sum = sum * 0.999 + k;
        }
        benchmark::DoNotOptimize(sums);
      }
    });
  }
}
BENCHMARK(bare_loop)->Arg(1)->Arg(2)->UseRealTime()->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
