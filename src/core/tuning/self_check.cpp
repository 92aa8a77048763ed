#include "bushbaby/core/tuning/self_check.h"

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/zones.h"
#include "bushbaby/core/world/level.h"

#include "core/shape/hash.h"

namespace bushbaby {
namespace {

// It changes with the arithmetic of the step alone.
constexpr std::uint64_t kKnownSum = 0x86f1d2f0d343996e;

Level small_level() {
  Level level;
  level.solids.push_back({"floor", {{-4, -1}, {6, 0}}});
  level.solids.push_back({"wall", {{-5, -1}, {-4, 9}}});
  Solid hill;
  hill.corners = {{6, -1}, {14, -1}, {14, 0.4}, {11, 2.3}, {8.7, 1.9}, {6, 0}};
  level.solids.push_back(hill);
  level.solids.push_back({"beam", {{1.5, 2.7}, {4.1, 3.1}}});
  Zone hollow;
  hollow.box = {{7, 1}, {12, 8}};
  hollow.turning.to = Turning::To::point;
  hollow.turning.point = {9.3, 0.2};
  hollow.overrides.push_back({"jump.gravity", true, 0.7});
  level.zones.push_back(hollow);
  return level;
}

Tuning small_tuning(Integrator integrator, BodyShape shape) {
  Tuning tuning;
  tuning.loop.integrator = integrator;
  tuning.body.shape = shape;
  tuning.jump.height = 3.1;
  tuning.jump.apex_time = Duration{0.37};
  tuning.jump.cut = {CutStyle::scale, 0.43, 2, {3, Duration::Unit::ticks}};
  tuning.jump.air_jumps.count = 1;
  tuning.fall.factor = 1.7;
  tuning.fall.terminal_speed = 23;
  tuning.run.air.style = DriveStyle::damped;
  tuning.wall.slide_speed = 2.9;
  tuning.wall.slide_brake = 70;
  return tuning;
}

// What is held on a tick: back and forth, with a press now and then.
Controls held_on(std::int64_t tick) noexcept {
  Controls held;
  const std::int64_t phase = tick % 97;
  held.x = static_cast<std::int8_t>(phase < 55 ? 127 : phase < 90 ? -127 : 0);
  held.jump = tick % 23 < 9;
  return held;
}

void add_run(Integrator integrator, BodyShape shape, const Level& level, detail::Hash& hash) {
  const CompiledBook compiled = compile_book(small_tuning(integrator, shape), level.zones);
  const LevelWorld world(level, compiled.book.rules(0).tick_rate);
  Character character;
  hash.add(compiled.ok() && place(character, {0, 0}, compiled.book, world));
  constexpr int kTicks = 130;
  for (int i = 0; i < kTicks; ++i) {
    for (const Event& event : advance(character, held_on(i), compiled.book, world)) {
      hash.add(event.fraction);
    }
    hash.add(character.feet);
    hash.add(character.velocity);
    hash.add(character.up);
  }
}

}  // namespace

std::uint64_t self_check_sum() {
  const Level level = small_level();
  detail::Hash hash;
  for (const Integrator integrator : {Integrator::exact, Integrator::trapezoidal,
                                      Integrator::semi_implicit, Integrator::explicit_step}) {
    for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
      add_run(integrator, shape, level, hash);
    }
  }
  return hash.sum();
}

bool self_check() { return self_check_sum() == kKnownSum; }

}  // namespace bushbaby
