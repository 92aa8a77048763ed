#include "bushbaby/lab/sweep.h"

#include <algorithm>

#include "bushbaby/core/tuning/compile.h"

#include "all_cores.h"

namespace bushbaby {

std::size_t runs_of(const KnobSweep& sweep) noexcept {
  std::size_t runs = 1;
  for (const SweepAxis& axis : sweep.axes) runs *= axis.values.size();
  return runs;
}

std::vector<std::size_t> places_of(const KnobSweep& sweep, std::size_t run) {
  std::vector<std::size_t> places(sweep.axes.size());
  for (std::size_t i = sweep.axes.size(); i-- > 0;) {
    places[i] = run % sweep.axes[i].values.size();
    run /= sweep.axes[i].values.size();
  }
  return places;
}

SweepRun measure_facts(const Tuning& tuning, const std::vector<const FactInfo*>& facts) {
  SweepRun measured(facts.size());
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return measured;
  CharacterSubject subject(compiled.rules);
  std::vector<DrillReport> reports;
  for (std::size_t i = 0; i < facts.size(); ++i) {
    const Drill* drill = drill_of_fact(facts[i]->name);
    const bool done = std::any_of(reports.begin(), reports.end(),
                                  [drill](const DrillReport& one) { return one.drill == drill; });
    if (!done) reports.push_back(run_drill(*drill, subject));
    measured[i] = value_of(reports, facts[i]->name);
  }
  return measured;
}

SweepRun make_run(const KnobSweep& sweep, std::size_t run) {
  Tuning tuning = sweep.base;
  const std::vector<std::size_t> places = places_of(sweep, run);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const SweepAxis& axis = sweep.axes[i];
    if (set_knob(tuning, *axis.knob.knob, axis.values[places[i]], axis.knob.row)) {
      return SweepRun(sweep.facts.size());
    }
  }
  return measure_facts(tuning, sweep.facts);
}

void run_sweep(
    const KnobSweep& sweep, std::size_t first, std::size_t last,
    const std::function<bool(std::size_t first, const std::vector<SweepRun>& runs)>& take) {
  constexpr std::size_t kAtATime = 4096;
  std::vector<SweepRun> runs;
  while (first < last) {
    runs.assign(std::min(kAtATime, last - first), {});
    detail::on_all_cores(runs.size(), [&](std::size_t i) { runs[i] = make_run(sweep, first + i); });
    if (!take(first, runs)) return;
    first += runs.size();
  }
}

}  // namespace bushbaby
