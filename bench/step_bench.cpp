// What a tick costs, as ratios within one run: to a bare integration loop, to empty space, to other
// numbers of boxes, to casts without the index, and to the pixel-by-pixel loop of home-made games.
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <random>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/inputs.h"
#include "bushbaby/core/tuning/zones.h"
#include "bushbaby/core/world/level.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

namespace {

using namespace bushbaby;

const std::string kDemo = BUSHBABY_DEMO_SOURCE;

struct Demo {
  Rules rules;
  Level level;
  std::vector<Controls> inputs;
};

Demo load_demo(const Tuning& tuning, const char* level_name, const char* inputs_name) {
  const auto level = load_level(kDemo + "/" + level_name);
  const auto inputs = load_inputs(kDemo + "/" + inputs_name);
  if (!level || !inputs) std::abort();
  const Rules rules = compile(tuning).rules;
  return {rules, *level, controls_of(*inputs, rules.tick_rate)};
}

const Tuning& pip() {
  static const Tuning tuning = load_tuning(kDemo + "/pip.tuning.toml").value().tuning;
  return tuning;
}

// Pip without the moveset: he runs, jumps and falls.
const Tuning& plain_pip() {
  static const Tuning tuning = [] {
    Tuning plain = pip();
    const Tuning defaults;
    plain.jump.air_jumps = defaults.jump.air_jumps;
    plain.jump.near_ground = defaults.jump.near_ground;
    plain.fall.overspeed_brake = 0;
    plain.fall.fast = defaults.fall.fast;
    plain.fall.glide = defaults.fall.glide;
    plain.wall = defaults.wall;
    plain.dash = defaults.dash;
    plain.drop = defaults.drop;
    plain.push = defaults.push;
    plain.run.ground.overspeed_brake.reset();
    plain.run.air.overspeed_brake.reset();
    return plain;
  }();
  return tuning;
}

const Demo& demo() {
  static const Demo data = load_demo(plain_pip(), "first-limbs.level.toml", "first-leaps.inputs");
  return data;
}

// Ticks of inputs, from the start, over and over, by rules or by a book.
template <class RulesOrBook>
void run_inputs_by(benchmark::State& state, const World& world, const Demo& data,
                   const RulesOrBook& rules) {
  Character start;
  if (!place(start, data.level.start, rules, world)) std::abort();
  Character character = start;
  std::size_t i = 0;
  for (auto _ : state) {
    if (i == data.inputs.size()) {
      character = start;
      i = 0;
    }
    benchmark::DoNotOptimize(advance(character, data.inputs[i++], rules, world));
  }
}

void run_inputs(benchmark::State& state, const World& world, const Demo& data = demo()) {
  run_inputs_by(state, world, data, data.rules);
}

// The least that any controller does: two speeds, one move, nothing to meet.
void bare_integration(benchmark::State& state) {
  double x = 0;
  double y = 0;
  double vx = 0;
  double vy = 0;
  std::size_t i = 0;
  const double dt = demo().rules.dt;
  const std::vector<Controls>& inputs = demo().inputs;
  for (auto _ : state) {
    const Controls& held = inputs[i = i + 1 < inputs.size() ? i + 1 : 0];
    const double target = held.x / 127.0 * 7;
    const double step = 60 * dt;
    vx = vx < target ? std::min(vx + step, target) : std::max(vx - step, target);
    vy = held.jump && y <= 0 ? 17 : std::max(vy - 45 * dt, -24.0);
    x += vx * dt;
    y = std::max(y + vy * dt, 0.0);
    benchmark::DoNotOptimize(x);
    benchmark::DoNotOptimize(y);
  }
}

void step_in_empty_space(benchmark::State& state) {
  const LevelWorld nothing(std::vector<Box>{});
  run_inputs(state, nothing);
}

void step_on_the_demo_level(benchmark::State& state) {
  const LevelWorld world(demo().level, kNothingTravels);
  run_inputs(state, world);
}

// The same inputs with everything of the moveset switched on, most of it never asked for.
void step_with_the_moveset(benchmark::State& state) {
  static const Demo data = load_demo(pip(), "first-limbs.level.toml", "first-leaps.inputs");
  run_inputs(state, LevelWorld(data.level, kNothingTravels), data);
}

// Inputs that use it: wall jumps, a dash, a glide, a bounce, a push.
void step_using_the_moveset(benchmark::State& state) {
  static const Demo data = load_demo(pip(), "hollow-trunk.level.toml", "moonlit-climb.inputs");
  run_inputs(state, LevelWorld(data.level, kNothingTravels), data);
}

// ---- zones --------------------------------------------------------------------------------------

// A zone in which all is as without it, so that only looking after it costs anything.
Zone idle_zone(const Box& box) {
  Zone zone;
  zone.box = box;
  zone.overrides = {{"run.top_speed", true, 1.0}};
  return zone;
}

void run_in_zones(benchmark::State& state, std::vector<Zone> zones) {
  Level level = demo().level;
  level.zones = std::move(zones);
  const CompiledBook compiled = compile_book(plain_pip(), level.zones);
  if (!compiled.ok()) std::abort();
  run_inputs_by(state, LevelWorld(level, kNothingTravels), demo(), compiled.book);
}

void step_with_a_book(benchmark::State& state) { run_in_zones(state, {}); }

void step_in_three_zones(benchmark::State& state) {
  run_in_zones(state, std::vector<Zone>(3, idle_zone({{-10, -10}, {100, 100}})));
}

// Stripes so narrow that nearly every tick goes into one, or out of it.
void step_crossing_borders(benchmark::State& state) {
  std::vector<Zone> stripes;
  for (int i = 0; i < 250; ++i) {
    const double left = 0.24 * i;
    stripes.push_back(idle_zone({{left, -10}, {left + 0.12, 100}}));
    stripes.back().traits.exit_margin = 0.01;
  }
  run_in_zones(state, std::move(stripes));
}

// Zones of the size of solids, all over and beyond the level.
void step_among_zones(benchmark::State& state) {
  std::mt19937_64 random(3);
  std::vector<Zone> zones;
  const double side = std::sqrt(static_cast<double>(state.range(0)) * 9);
  for (std::int64_t i = 0; i < state.range(0); ++i) {
    const auto row = static_cast<double>(i % static_cast<std::int64_t>(side / 3));
    const double column = std::floor(static_cast<double>(i) / std::floor(side / 3));
    const double size = std::uniform_real_distribution<double>(0.5, 1.5)(random);
    zones.push_back(idle_zone({{3 * row, 3 * column - 1}, {3 * row + size, 3 * column + size}}));
  }
  run_in_zones(state, std::move(zones));
}

// Every part of the night in the grove, one after the other: boxes, slopes, lianas, walls, sap, a
// crooked hollow, a gourd that swings.
void step_through_the_grove(benchmark::State& state) {
  struct Part {
    Demo data;
    Rulebook book;
    LevelWorld world;
    Character start;
  };
  const char* names[][2] = {{"first-limbs.level.toml", "first-leaps.inputs"},
                            {"hollow-trunk.level.toml", "moonlit-climb.inputs"},
                            {"old-bark.level.toml", "up-the-bark.inputs"},
                            {"moonlit-roots.svg", "over-the-roots.inputs"},
                            {"sap-pool.level.toml", "through-the-sap.inputs"},
                            {"crooked-hollow.level.toml", "around-the-burr.inputs"},
                            {"swinging-gourd.level.toml", "over-the-gap.inputs"}};
  std::vector<Part> parts;
  for (const auto& [level, inputs] : names) {
    const Demo data = load_demo(pip(), level, inputs);
    const CompiledBook compiled = compile_book(pip(), data.level.zones);
    if (!compiled.ok()) std::abort();
    const LevelWorld world(data.level, data.rules.tick_rate);
    Character start;
    if (!place(start, data.level.start, compiled.book, world)) std::abort();
    parts.push_back({data, compiled.book, world, start});
  }
  std::size_t part = 0;
  std::size_t i = 0;
  Character character = parts[0].start;
  for (auto _ : state) {
    if (i == parts[part].data.inputs.size()) {
      part = part + 1 < parts.size() ? part + 1 : 0;
      character = parts[part].start;
      i = 0;
    }
    const Part& now = parts[part];
    benchmark::DoNotOptimize(advance(character, now.data.inputs[i++], now.book, now.world));
  }
}

// A floor of unit tiles with blocks scattered above it, about one box in nine places whatever the
// number: a level that grows by getting longer and higher.
std::vector<Box> level_of(std::int64_t boxes) {
  std::mt19937_64 random(7);
  std::vector<Box> level;
  const double side = std::sqrt(static_cast<double>(boxes) * 9);
  for (double x = 0; x < side; x += 1) level.push_back({{x, -1}, {x + 1, 0}});
  std::uniform_real_distribution<double> along(0, side);
  std::uniform_real_distribution<double> size(0.3, 2);
  while (static_cast<std::int64_t>(level.size()) < boxes) {
    const Vec lo{along(random), 2.2 + along(random)};
    level.push_back({lo, {lo.x + size(random), lo.y + size(random)}});
  }
  return level;
}

Controls run_and_jump(std::int64_t tick) {
  Controls held;
  held.x = 127;
  held.jump = tick % 50 < 20;
  return held;
}

// Runs and jumps through the level from left to right, back to its start at the end.
void run_through(benchmark::State& state, const World& world, std::int64_t boxes,
                 double floor = 0) {
  const double side = std::sqrt(static_cast<double>(boxes) * 9);
  Character start;
  if (!place(start, {1, floor}, demo().rules, world)) std::abort();
  Character character = start;
  double last = 0;  // where it was when it was looked at last
  for (auto _ : state) {
    benchmark::DoNotOptimize(advance(character, run_and_jump(character.tick), demo().rules, world));
    if (character.feet.x > side - 4) character = start;
    if (character.tick % 32 != 0) continue;
    // A runner that is stuck at a wall would always cast among the same few boxes: it goes on
    // behind it, on the floor, where there are none.
    if (character.feet.x - last < 0.5 &&
        !place(character, {character.feet.x + 2, floor}, demo().rules, world)) {
      character = start;
    }
    last = character.feet.x;
  }
}

void step_among(benchmark::State& state) {
  const LevelWorld world(level_of(state.range(0)));
  run_through(state, world, state.range(0));
}

// The same level with what floats above its floor on the way back and forth.
void step_among_moving_platforms(benchmark::State& state) {
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> way(-4, 4);
  Level level;
  for (const Box& box : level_of(state.range(0))) {
    Solid solid;
    solid.box = box;
    if (box.lo.y > 0) {
      solid.path = PlatformPath{};
      solid.path->stops = {{way(random), 2 + way(random)}};
      solid.path->speed = 3;
    }
    level.solids.push_back(solid);
  }
  run_through(state, LevelWorld(level, demo().rules.tick_rate), state.range(0));
}

void step_riding(benchmark::State& state) {
  static const Demo data = load_demo(pip(), "swinging-gourd.level.toml", "over-the-gap.inputs");
  run_inputs(state, LevelWorld(data.level, data.rules.tick_rate), data);
}
// The same, at rest.
void step_off_moving_platforms(benchmark::State& state) {
  static const Demo data = load_demo(pip(), "swinging-gourd.level.toml", "over-the-gap.inputs");
  run_inputs(state, LevelWorld(data.level, kNothingTravels), data);
}

// Slopes, lianas and a round limb, as the demo has them.
void step_on_slopes(benchmark::State& state) {
  static const Demo data = load_demo(pip(), "moonlit-roots.svg", "over-the-roots.inputs");
  run_inputs(state, LevelWorld(data.level, kNothingTravels), data);
}

void step_on_slopes_as_a_capsule(benchmark::State& state) {
  static const Demo data = [] {
    Tuning round = pip();
    round.body.shape = BodyShape::capsule;
    return load_demo(round, "moonlit-roots.svg", "over-the-roots.inputs");
  }();
  run_inputs(state, LevelWorld(data.level, kNothingTravels), data);
}

// The same level with every third box a polygon around its middle, every ninth a platform; tiles of
// the floor that rise and fall a little.
Level mixed_level_of(std::int64_t solids) {
  Level level;
  std::uint32_t count = 0;
  for (const Box& box : level_of(solids)) {
    Solid solid;
    solid.box = box;
    const Vec half = (box.hi - box.lo) * 0.5;
    const Vec middle = box.lo + half;
    ++count;
    if (box.hi.y == 0) {
      const double left = count % 2 == 0 ? 0.1 : 0;
      solid.corners = {box.lo, {box.hi.x, box.lo.y}, {box.hi.x, 0.1 - left}, {box.lo.x, left}};
    } else if (count % 9 == 0) {
      solid.corners = {{box.lo.x, middle.y}, {box.hi.x, box.hi.y}};
      solid.blocks = Blocks::from_above;
    } else if (count % 3 == 0) {
      solid.corners = {
          {middle.x, box.lo.y}, {box.hi.x, middle.y}, {middle.x, box.hi.y}, {box.lo.x, middle.y}};
    }
    level.solids.push_back(std::move(solid));
  }
  return level;
}

void step_among_mixed(benchmark::State& state) {
  const LevelWorld world(mixed_level_of(state.range(0)), kNothingTravels);
  run_through(state, world, state.range(0), 0.11);
}

void make_a_world(benchmark::State& state) {
  const Level level = mixed_level_of(state.range(0));
  for (auto _ : state) benchmark::DoNotOptimize(LevelWorld(level, kNothingTravels));
}

// The same casts, looking at every box.
class EveryBox final : public World {
 public:
  explicit EveryBox(std::vector<Box> boxes) : boxes_(std::move(boxes)) {}
  void find_solids(const Box& region, std::int64_t, Solids& solids) const noexcept override {
    for (SurfaceId id = 0; id < boxes_.size(); ++id) {
      const Box& box = boxes_[id];
      const bool apart = box.lo.x > region.hi.x || box.hi.x < region.lo.x ||
                         box.lo.y > region.hi.y || box.hi.y < region.lo.y;
      if (!apart) solids.take_box(box, id);
    }
  }

 private:
  std::vector<Box> boxes_;
};

void step_without_index(benchmark::State& state) {
  const EveryBox world(level_of(state.range(0)));
  run_through(state, world, state.range(0));
}

// What people write at home: one axis after the other, a sixteenth of a unit at a time, asking at
// each whether the body overlaps anything.
void creep_through(benchmark::State& state, const World& world) {
  const Rules& rules = demo().rules;
  const double side = std::sqrt(static_cast<double>(state.range(0)) * 9);
  constexpr double kPixel = 1.0 / 16;
  Vec feet{1, 0};
  Vec velocity{0, 0};
  Vec rest{0, 0};
  std::int64_t tick = 0;
  const auto free_at = [&](Vec place) {
    return overlap(world, rules.body, place, 0).surface == kNoSurface;
  };
  const auto creep = [&](double& rest_along, double move, Vec direction) {
    rest_along += move;
    while (std::abs(rest_along) >= kPixel) {
      const double step = rest_along > 0 ? kPixel : -kPixel;
      const Vec next{feet.x + direction.x * step, feet.y + direction.y * step};
      rest_along -= step;
      if (!free_at(next)) {
        rest_along = 0;
        return false;
      }
      feet = next;
    }
    return true;
  };
  for (auto _ : state) {
    const Controls held = run_and_jump(tick++);
    velocity.x = std::min(velocity.x + 60 * rules.dt, 7.0);
    velocity.y = std::max(velocity.y - 45 * rules.dt, -24.0);
    const bool grounded = !free_at({feet.x, feet.y - kPixel});
    if (grounded && held.jump) velocity.y = 17;
    if (!creep(rest.x, velocity.x * rules.dt, {1, 0})) velocity.x = 0;
    if (!creep(rest.y, velocity.y * rules.dt, {0, 1})) velocity.y = 0;
    if (feet.x > side - 2) feet = {1, 0};
    benchmark::DoNotOptimize(feet);
  }
}

void pixel_by_pixel(benchmark::State& state) {
  creep_through(state, EveryBox(level_of(state.range(0))));
}

// The same with our index, so that only the method differs.
void pixel_by_pixel_indexed(benchmark::State& state) {
  creep_through(state, LevelWorld(level_of(state.range(0))));
}

// What a game or a slider pays when a value changes.
void compile_a_tuning(benchmark::State& state, Integrator integrator) {
  Tuning tuning = pip();
  tuning.loop.integrator = integrator;
  for (auto _ : state) benchmark::DoNotOptimize(compile(tuning));
}

void compile_exact(benchmark::State& state) { compile_a_tuning(state, Integrator::exact); }
void compile_stepped_with_hang(benchmark::State& state) {
  compile_a_tuning(state, Integrator::semi_implicit);
}

BENCHMARK(compile_exact);
BENCHMARK(compile_stepped_with_hang);
BENCHMARK(bare_integration);
BENCHMARK(step_in_empty_space);
BENCHMARK(step_on_the_demo_level);
BENCHMARK(step_with_the_moveset);
BENCHMARK(step_using_the_moveset);
BENCHMARK(step_through_the_grove);
BENCHMARK(step_with_a_book);
BENCHMARK(step_in_three_zones);
BENCHMARK(step_crossing_borders);
BENCHMARK(step_among_zones)->Arg(10)->Arg(1000);
BENCHMARK(step_among_moving_platforms)->Arg(100)->Arg(1000);
BENCHMARK(step_riding);
BENCHMARK(step_off_moving_platforms);
BENCHMARK(step_among)->Arg(100)->Arg(1000)->Arg(10000)->Arg(100000);
BENCHMARK(step_on_slopes);
BENCHMARK(step_on_slopes_as_a_capsule);
BENCHMARK(step_among_mixed)->Arg(100)->Arg(1000)->Arg(10000)->Arg(100000)->Arg(1000000);
BENCHMARK(make_a_world)->Arg(1000000)->Unit(benchmark::kMillisecond);
BENCHMARK(step_without_index)->Arg(1000);
BENCHMARK(pixel_by_pixel)->Arg(1000);
BENCHMARK(pixel_by_pixel_indexed)->Arg(1000);

// Prints as usual, and keeps the median time of each benchmark for the ratios.
class Keeper final : public benchmark::ConsoleReporter {
 public:
  void ReportRuns(const std::vector<Run>& runs) override {
    for (const Run& run : runs) {
      const bool median = run.run_type == Run::RT_Aggregate && run.aggregate_name == "median";
      if (median || run.run_type == Run::RT_Iteration) {
        times[run.run_name.str()] = run.GetAdjustedCPUTime();
      }
    }
    ConsoleReporter::ReportRuns(runs);
  }
  std::map<std::string, double> times;
};

}  // namespace

int main(int count, char** values) {
  benchmark::Initialize(&count, values);
  if (benchmark::ReportUnrecognizedArguments(count, values)) return 2;
  benchmark::AddCustomContext("compiler", __VERSION__);
  Keeper keeper;
  benchmark::RunSpecifiedBenchmarks(&keeper);
  const auto ratio = [&keeper](const char* what, const char* name, const char* base) {
    if (keeper.times.count(name) == 0 || keeper.times.count(base) == 0) return;
    std::printf("%-58s %8.2f\n", what, keeper.times[name] / keeper.times[base]);
  };
  std::printf("\nratios\n");
  ratio("demo level to a bare integration loop", "step_on_the_demo_level", "bare_integration");
  ratio("demo level to empty space", "step_on_the_demo_level", "step_in_empty_space");
  ratio("the moveset on to off, same inputs", "step_with_the_moveset", "step_on_the_demo_level");
  ratio("inputs that use the moveset to one without", "step_using_the_moveset",
        "step_on_the_demo_level");
  ratio("a book without zones to rules", "step_with_a_book", "step_on_the_demo_level");
  ratio("in three zones to none", "step_in_three_zones", "step_on_the_demo_level");
  ratio("in or out of a zone in nearly every tick, to none", "step_crossing_borders",
        "step_on_the_demo_level");
  ratio("1,000 zones to 10", "step_among_zones/1000", "step_among_zones/10");
  ratio("10,000 boxes to 100", "step_among/10000", "step_among/100");
  ratio("100,000 boxes to 100", "step_among/100000", "step_among/100");
  ratio("slopes and platforms to the demo level", "step_on_slopes", "step_on_the_demo_level");
  ratio("the same as a capsule to a box", "step_on_slopes_as_a_capsule", "step_on_slopes");
  ratio("mixed solids to boxes, 1,000", "step_among_mixed/1000", "step_among/1000");
  ratio("100,000 mixed solids to 100", "step_among_mixed/100000", "step_among_mixed/100");
  ratio("1,000,000 mixed solids to 100", "step_among_mixed/1000000", "step_among_mixed/100");
  ratio("without the index to with it, 1,000 boxes", "step_without_index/1000", "step_among/1000");
  ratio("pixel by pixel to this step, 1,000 boxes", "pixel_by_pixel/1000", "step_among/1000");
  ratio("pixel by pixel with our index to this step, 1,000 boxes", "pixel_by_pixel_indexed/1000",
        "step_among/1000");
  return 0;
}
