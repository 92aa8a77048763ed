// Drills on ground that travels.
#include <algorithm>
#include <cmath>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

constexpr double kSpeed = 5;       // body heights a second
constexpr double kRest = 2;        // s before it goes, in which the subject comes to stand
constexpr double kUnderWay = 0.5;  // s on its way, when something is done

// A floor that rests, and then goes where its stops say.
Stage platform_stage(const std::vector<Vec>& stops, bool round, double size) {
  PlatformPath path;
  for (const Vec stop : stops) path.stops.push_back(stop * size);
  path.loop = round;
  path.speed = kSpeed * size;
  path.waits.assign(path.stops.size() + 1, 0);
  path.waits[0] = kRest;
  Solid floor{"path", {{-8 * size, -size}, {8 * size, 0}}};
  floor.path = path;
  return level_stage({"path", {0, 0}, {floor}});
}

// What a jump gives that is taken when the floor has been going for a while.
struct TakeOff {
  Vec velocity{0, 0};  // u/s, in the first sample in the air
  double height = 0;   // u, above the take-off
};

std::optional<TakeOff> jump_off(Subject& subject, Vec way) {
  const double size = size_of(subject);
  constexpr double kFar = 400;  // body heights: it goes on for longer than anybody looks
  const Stage stage =
      way == Vec{0, 0} ? floor_stage(size) : platform_stage({way * kFar}, false, size);
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return std::nullopt;
  const auto start = static_cast<std::int64_t>((kRest + kUnderWay) * rehearsal.tick_rate());
  while (rehearsal.now().tick < start) rehearsal.advance(kNothing);
  if (!rehearsal.now().grounded) return std::nullopt;
  Controls held = kJump;
  if (!take_off(rehearsal, held)) return std::nullopt;
  TakeOff jump;
  jump.velocity = rehearsal.now().velocity;
  const std::vector<Sample> until_now = rehearsal.trace().samples;
  const auto stood = std::find_if(until_now.rbegin(), until_now.rend(),
                                  [](const Sample& sample) { return sample.grounded; });
  rehearsal.hold_until(held, kAirSeconds, [](const Sample& before, const Sample& now) {
    return now.grounded || now.feet.y < before.feet.y;
  });
  jump.height = highest_from(rehearsal.trace(), stood->tick) - stood->feet.y;
  return jump;
}

}  // namespace

Measured platform_carry(Subject& subject, const Drill& drill) {
  const double size = size_of(subject);
  constexpr double kSide = 5;  // body heights
  const Stage stage = platform_stage({{kSide, 0}, {kSide, kSide}, {0, kSide}}, true, size);
  Measured measured = no_facts(drill, "it does not come to stand there");
  if (!prepare(subject, stage)) return measured;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return measured;
  const Timetable timetable(*stage.level.solids[0].path);
  const Vec stood = rehearsal.now().feet;
  double slip = 0;
  int in_air = 0;
  rehearsal.hold_until(kNothing, timetable.period(), [&](const Sample&, const Sample& now) {
    const double time = static_cast<double>(now.tick) / rehearsal.tick_rate();
    const Vec off = now.feet - stood - timetable.place_at(time);
    slip = std::max(slip, std::hypot(off.x, off.y));
    in_air += now.grounded ? 0 : 1;
    return false;
  });
  give(measured, "platform_carry.slip", slip);
  give(measured, "platform_carry.in_air", in_air);
  return measured;
}

Measured platform_momentum(Subject& subject, const Drill& drill) {
  Measured measured = no_facts(drill, "it does not jump from there");
  const double speed = kSpeed * size_of(subject);
  const auto plain = jump_off(subject, {0, 0});
  if (!plain) return measured;
  if (const auto across = jump_off(subject, {1, 0})) {
    give(measured, "platform_momentum.horizontal",
         (across->velocity.x - plain->velocity.x) / speed);
  }
  if (const auto up = jump_off(subject, {0, 1})) {
    give(measured, "platform_momentum.vertical", (up->velocity.y - plain->velocity.y) / speed);
    give(measured, "platform_momentum.height", up->height);
  }
  if (const auto down = jump_off(subject, {0, -1})) {
    give(measured, "platform_momentum.down", (plain->velocity.y - down->velocity.y) / speed);
  }
  return measured;
}

}  // namespace bushbaby::detail
