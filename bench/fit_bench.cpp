// What a search costs: weighing a tuning against its targets, a fit, an answer to a complaint.
#include <string>

#include <benchmark/benchmark.h>

#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/answer.h"
#include "bushbaby/lab/fit.h"
#include "bushbaby/records/targets_file.h"

namespace bushbaby {
namespace {

Tuning pip() { return load_tuning(std::string(BUSHBABY_DEMO_SOURCE) + "/pip.tuning.toml")->tuning; }

std::vector<Target> pip_targets() {
  return *load_targets(std::string(BUSHBABY_DEMO_SOURCE) + "/pip.targets.toml");
}

// All of Pip's targets, as each trial of a search is judged.
void BM_judge(benchmark::State& state) {
  const Tuning tuning = pip();
  const std::vector<Target> targets = pip_targets();
  for (auto _ : state) benchmark::DoNotOptimize(judge(targets, tuning));
}
BENCHMARK(BM_judge)->Unit(benchmark::kMillisecond);

// From two knobs that were turned: with all that is reported the answer.
void BM_fit(benchmark::State& state) {
  Tuning tuning = pip();
  tuning.fall.factor = 2.2;
  tuning.jump.height = 4;
  const std::vector<Target> targets = pip_targets();
  int trials = 0;
  for (auto _ : state) trials = fit_targets(tuning, targets, {}).evaluations;
  state.counters["trials"] = trials;
}
BENCHMARK(BM_fit)->Unit(benchmark::kMillisecond)->UseRealTime();

void BM_answer(benchmark::State& state) {
  const Tuning tuning = pip();
  for (auto _ : state)
    benchmark::DoNotOptimize(answer_complaints(tuning, {find_complaint("floaty")}, {}));
}
BENCHMARK(BM_answer)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
}  // namespace bushbaby

BENCHMARK_MAIN();
