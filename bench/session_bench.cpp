// What playing costs: a tick of a session, and the last take again after a knob moved.
#include <string>

#include <benchmark/benchmark.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

#include "session/session.h"

namespace bushbaby::live {
namespace {

Opening opening() {
  const std::string demo = BUSHBABY_DEMO_SOURCE;
  Opening opening;
  opening.file = *load_tuning(demo + "/pip.tuning.toml");
  const auto level = load_level_file(demo + "/hollow-trunk.level.toml");
  opening.book = *compile_for(opening.file, *level, "", opening.file.units());
  opening.level = level->level;
  opening.ghost = Ghost::of_file();
  return opening;
}

// Running about: it never stands still, so that all of it is one take.
Controls held_in(int tick) {
  Controls held;
  held.x = tick % 120 < 60 ? std::int8_t{127} : std::int8_t{-127};
  held.jump = tick % 40 < 15;
  return held;
}

void BM_bare_tick(benchmark::State& state) {
  const Opening from = opening();
  const LevelWorld world(from.level, 60);
  Character pip;
  (void)place(pip, from.level.start, from.book, world);
  int tick = 0;
  for (auto _ : state) benchmark::DoNotOptimize(advance(pip, held_in(tick++), from.book, world));
}
BENCHMARK(BM_bare_tick);

// With its explanation, what a press would do, the second character, and what is written down.
void BM_session_tick(benchmark::State& state) {
  Session session(opening());
  (void)session.desk().set(*find_place("fall.factor"), 2.0);
  int tick = 0;
  for (auto _ : state) {
    session.hands().let_all_go();
    const Controls held = held_in(tick++);
    session.hands().tilt(held.x < 0 ? -1 : 1, 0);
    if (held.jump) session.hands().press(Held::jump);
    session.advance();
  }
}
BENCHMARK(BM_session_tick);

// A knob is turned: new rules, and N seconds of play once more.
void BM_take_again(benchmark::State& state) {
  Session session(opening());
  const auto seconds = static_cast<int>(state.range(0));
  for (int tick = 0; tick < 60 * seconds; ++tick) session.play(held_in(tick));
  double factor = 1.7;
  for (auto _ : state) {
    factor = factor < 3 ? factor + 0.01 : 1.7;
    (void)session.desk().set(*find_place("fall.factor"), factor);
    session.frame(0);
    benchmark::DoNotOptimize(session.again()->samples.back());
  }
}
BENCHMARK(BM_take_again)->Arg(1)->Arg(10)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace bushbaby::live

BENCHMARK_MAIN();
