// Drills on ground that is not level, and on platforms of one side.
#include <algorithm>
#include <cmath>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

double tangent_of(double degrees) { return std::tan(degrees * kPi / 180); }

// Ground with that upper edge, from left to right.
Solid ground_below(std::vector<Vec> edge, double size) {
  double lowest = 0;
  for (const Vec& corner : edge) lowest = std::min(lowest, corner.y);
  const double bottom = lowest - 10 * size;
  Solid ground;
  ground.name = "ground";
  ground.corners = std::move(edge);
  ground.corners.emplace_back(ground.corners.back().x, bottom);
  ground.corners.emplace_back(ground.corners.front().x, bottom);
  return ground;
}

Stage stage_of(std::vector<Solid> solids, Vec start) {
  return level_stage({"terrain", start, std::move(solids)});
}

double speed_between(const Sample& before, const Sample& now, double tick_rate) {
  return std::hypot(now.feet.x - before.feet.x, now.feet.y - before.feet.y) * tick_rate;
}

// What a run did from some tick on.
struct Crossing {
  double ground_speed = 0;        // u/s along the ground, at its end, by the way covered
  double least_ground_speed = 0;  // u/s
  double least_speed = 0;  // u/s, by what the subject says: round a corner the way is cut short
  std::int64_t ticks = 0;
  std::int64_t in_air = 0;  // of them
};

// Runs up, then on past x = 0 for a time; nothing if it cannot be put there or does not come so
// far.
std::optional<Crossing> cross(Subject& subject, const Stage& stage, double seconds) {
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const bool comes = rehearsal.hold_until(
      kRight, kRunSeconds, [](const Sample&, const Sample& now) { return now.feet.x > 0; });
  if (!comes) return std::nullopt;
  Crossing crossing;
  crossing.least_ground_speed = crossing.least_speed = HUGE_VAL;
  rehearsal.hold_until(kRight, seconds, [&](const Sample& before, const Sample& now) {
    crossing.ground_speed = speed_between(before, now, rehearsal.tick_rate());
    crossing.least_ground_speed = std::min(crossing.least_ground_speed, crossing.ground_speed);
    crossing.least_speed =
        std::min(crossing.least_speed, std::hypot(now.velocity.x, now.velocity.y));
    ++crossing.ticks;
    crossing.in_air += now.grounded ? 0 : 1;
    return false;
  });
  return crossing;
}

// The run-up that a subject needs, and its speed then.
struct RunUp {
  double room = 0;   // u
  double speed = 0;  // u/s
};

std::optional<RunUp> run_up_of(Subject& subject) {
  const double size = size_of(subject);
  if (!prepare(subject, floor_stage(size))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const double start = rehearsal.now().feet.x;
  if (!rehearsal.run_up()) return std::nullopt;
  return RunUp{rehearsal.now().feet.x - start + kRoom * size, rehearsal.now().velocity.x};
}

// Level ground to x = 0, then ground along `edge`, which begins there.
Stage beyond_a_run_up(const RunUp& run_up, std::vector<Vec> edge, double size) {
  const Vec start{-run_up.room - size, 0};
  edge.insert(edge.begin(), {{start.x - 4 * size, 0}, {0, 0}});
  return stage_of({ground_below(std::move(edge), size)}, start);
}

constexpr double kCrossing = 1.5;  // s

// How far a run may get in that time, u.
double reach_of(const RunUp& run_up, double size) {
  return 2 * kCrossing * run_up.speed + 4 * size;
}

// The steepest slope, in whole degrees, that is walked up from its foot.
double steepest_walked(Subject& subject, double size) {
  constexpr double kSeconds = 2;
  for (int degrees = 89; degrees > 0; --degrees) {
    const double slope = tangent_of(degrees);
    const double wide = 40 * size;
    const Stage stage = stage_of(
        {ground_below({{-20 * size, 0}, {0, 0}, {wide, wide * slope}}, size)}, {-2 * size, 0});
    if (!prepare(subject, stage)) return 0;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    const bool climbs = rehearsal.hold_until(
        kRight, kSeconds,
        [size](const Sample&, const Sample& now) { return now.grounded && now.feet.y > size / 4; });
    if (climbs) return degrees;
  }
  return 0;
}

}  // namespace

Measured slope(Subject& subject, const Drill& drill) {
  constexpr double kDegrees = 30;
  const double size = size_of(subject);
  const auto run_up = run_up_of(subject);
  if (!run_up) return no_facts(drill, "it does not run");
  const double wide = reach_of(*run_up, size);
  const double rise = wide * tangent_of(kDegrees);
  const auto up = cross(subject, beyond_a_run_up(*run_up, {{wide, rise}}, size), kCrossing);
  const auto down = cross(subject, beyond_a_run_up(*run_up, {{wide, -rise}}, size), kCrossing);
  if (!up || !down) return no_facts(drill, "it does not come to the slope");
  const auto grounded = static_cast<double>(down->ticks - down->in_air);
  return facts_of(
      drill, {up->ground_speed, down->ground_speed, grounded / static_cast<double>(down->ticks),
              steepest_walked(subject, size)});
}

Measured crest(Subject& subject, const Drill& drill) {
  const double size = size_of(subject);
  const auto run_up = run_up_of(subject);
  if (!run_up) return no_facts(drill, "it does not run");
  const double wide = 4 * size;
  const double high = wide * tangent_of(30);
  const double down = high / tangent_of(40);
  const double end = wide + down + reach_of(*run_up, size);
  const auto over =
      cross(subject, beyond_a_run_up(*run_up, {{wide, high}, {wide + down, 0}, {end, 0}}, size),
            kCrossing + 2 * (wide + down) / run_up->speed);
  if (!over) return no_facts(drill, "it does not come to the crest");
  return facts_of(drill, {static_cast<double>(over->in_air), over->least_speed / run_up->speed});
}

namespace {

// Ground of many pieces, some of them higher by `step`.
Stage pieces_stage(const RunUp& run_up, double step, double size) {
  constexpr double kWide = 0.37;  // body heights
  const double start = -run_up.room - size;
  const double end = reach_of(run_up, size);
  std::vector<Solid> solids{{"ground", {{start - 4 * size, -10 * size}, {0, 0}}}};
  std::uint32_t random = 7;
  for (int i = 0; i * kWide * size < end; ++i) {
    random = random * 1664525u + 1013904223u;
    const bool high = (random >> 16U) % 2 == 1;
    solids.push_back(
        {"", {{i * kWide * size, -10 * size}, {(i + 1) * kWide * size, high ? step : 0}}});
  }
  return stage_of(std::move(solids), {start, 0});
}

// Whether it runs over such ground without losing speed.
bool runs_over(Subject& subject, const RunUp& run_up, double step, double size) {
  const auto over = cross(subject, pieces_stage(run_up, step, size), kCrossing);
  return over && over->least_ground_speed >= run_up.speed * (1 - 1e-3);
}

}  // namespace

Measured seam(Subject& subject, const Drill& drill) {
  constexpr double kLastBits = 1e-13;  // body heights
  const double size = size_of(subject);
  const auto run_up = run_up_of(subject);
  if (!run_up) return no_facts(drill, "it does not run");
  const auto over = cross(subject, pieces_stage(*run_up, kLastBits * size, size), kCrossing);
  if (!over) return no_facts(drill, "it does not come to the seams");
  double passed = runs_over(subject, *run_up, kLastBits * size, size) ? kLastBits * size : 0;
  double stopped = size;
  if (runs_over(subject, *run_up, size, size)) passed = stopped = size;
  while (passed > 0 && stopped > passed * (1 + 1e-4)) {
    const double middle = std::sqrt(passed * stopped);
    (runs_over(subject, *run_up, middle, size) ? passed : stopped) = middle;
  }
  const double lost = std::max(0.0, 1 - over->least_ground_speed / run_up->speed);
  return facts_of(drill, {lost < kSame ? 0 : lost, static_cast<double>(over->in_air), passed});
}

namespace {

constexpr double kApart = 2;  // body heights between platforms
constexpr int kPlatforms = 4;

Stage platforms_stage(double size) {
  std::vector<Solid> solids{{"floor", {{-40 * size, -10 * size}, {40 * size, 0}}}};
  for (int i = 1; i <= kPlatforms; ++i) {
    Solid platform;
    platform.name = "platform";
    platform.corners = {{-8 * size, i * kApart * size}, {8 * size, i * kApart * size}};
    platform.blocks = Blocks::from_above;
    solids.push_back(platform);
  }
  return stage_of(std::move(solids), {0, kPlatforms * kApart * size});
}

// What holding something does on the highest platform.
struct Fall {
  int response = 0;  // ticks
  double time = 0;   // s until it is a body height lower
  int platforms = 0;
};

std::optional<Fall> see_fall(Subject& subject, const Controls& before, const Controls& press) {
  constexpr int kTicksBefore = 3;
  const double size = size_of(subject);
  if (!prepare(subject, platforms_stage(size))) return std::nullopt;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return std::nullopt;
  for (int i = 0; i < kTicksBefore; ++i) rehearsal.advance(before);
  const double top = rehearsal.now().feet.y;
  const std::int64_t pressed = rehearsal.now().tick + 1;
  std::optional<std::int64_t> sank;
  const bool drops =
      rehearsal.hold_until(press, kSettleSeconds, [&](const Sample&, const Sample& now) {
        if (!sank && now.feet.y < top - 1e-6 * size) sank = now.tick;
        return now.feet.y < top - size;
      });
  if (!drops) return std::nullopt;
  Fall fall;
  fall.response = static_cast<int>(*sank - pressed);
  fall.time = time_from(rehearsal, pressed - 1);
  rehearsal.hold_until(press, kSettleSeconds, [](const Sample& was, const Sample& now) {
    return now.grounded && was.grounded && now.feet == was.feet;
  });
  fall.platforms = static_cast<int>(std::lround((top - rehearsal.now().feet.y) / (kApart * size)));
  return fall;
}

// Whether a jump comes up through a platform, and stands on it afterwards.
bool comes_up_through(Subject& subject) {
  const double size = size_of(subject);
  const auto jump = record_standing_jump(subject, kHeldThroughout);
  if (!jump) return false;
  Solid platform;
  const double high = jump->arc.height() / 2;
  platform.corners = {{-8 * size, high}, {8 * size, high}};
  platform.blocks = Blocks::from_above;
  if (!prepare(subject, stage_of({{"floor", {{-40 * size, -10 * size}, {40 * size, 0}}}, platform},
                                 {0, 0}))) {
    return false;
  }
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  Controls held = kJump;
  if (!take_off(rehearsal, held)) return false;
  rehearsal.hold_until(held, kAirSeconds,
                       [](const Sample&, const Sample& now) { return now.grounded; });
  return rehearsal.now().feet.y > high / 2;
}

}  // namespace

Measured drop_through(Subject& subject, const Drill& drill) {
  constexpr Controls kDownJump{0, -127, true, false};
  Measured measured = no_facts(drill, "neither down nor jump with down drops it");
  give(measured, "drop_through.up", comes_up_through(subject) ? 1 : 0);
  auto fall = see_fall(subject, kNothing, kDown);
  if (!fall) fall = see_fall(subject, kDown, kDownJump);
  give(measured, "drop_through.platforms", fall ? fall->platforms : 0);
  if (!fall) return measured;
  give(measured, "drop_through.response", fall->response);
  give(measured, "drop_through.time", fall->time);
  return measured;
}

}  // namespace bushbaby::detail
