// The drills of the moveset apart from walls: jumps in the air and charged ones, steering, the ways
// to fall, dashes and pushes.
#include <algorithm>
#include <cmath>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

constexpr Controls kRightDash{127, 0, false, true};

// Holds `controls` until landing; false if it does not land within a minute.
bool fall_until_landing(Rehearsal& rehearsal, const Controls& controls) {
  return rehearsal.hold_until(controls, kAirSeconds,
                              [](const Sample&, const Sample& now) { return now.grounded; });
}

// ---- in the air ---------------------------------------------------------------------------------

// A second press in the air: how long after the first, and what came of it.
struct AirPress {
  int delay = 0;
  Sample before;    // at the press
  double rest = 0;  // height of the feet on the floor
  int jumps = 0;    // this one and those that follow it before landing
  double top = 0;   // the highest place of the feet from the press on, if it jumps
};

// Jumps, releases for a tick before the press after `delay` ticks, and presses; nothing if the body
// has landed by then, or does not jump at all.
std::optional<AirPress> press_in_air(Subject& subject, int delay, int most) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  AirPress press{delay, {}, rehearsal.now().feet.y, 0, 0};
  Controls held = kNothing;
  if (!take_off(rehearsal, held)) return std::nullopt;
  for (int i = 2; i < delay; ++i) rehearsal.advance(held);
  rehearsal.advance(kNothing);
  press.before = rehearsal.now();
  if (press.before.grounded) return std::nullopt;
  rehearsal.advance(kJump);
  if (!rose(press.before, rehearsal.now())) return press;
  // The jump itself with the button held, then as many more as there are.
  press.jumps = 1 + (most > 1 ? count_jumps(rehearsal, kNothing, most - 1) : 0);
  return press;
}

// The same press, held until landing: how high it gets.
double top_of(Subject& subject, int delay) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return 0;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  Controls held = kNothing;
  take_off(rehearsal, held);
  for (int i = 2; i < delay; ++i) rehearsal.advance(held);
  rehearsal.advance(kNothing);
  const std::int64_t pressed = rehearsal.now().tick;
  fall_until_landing(rehearsal, kJump);
  return highest_from(rehearsal.trace(), pressed);
}

}  // namespace

Measured air_jump(Subject& subject, const Drill& drill) {
  // Every tick of the arc; where ticks are short, in strides.
  constexpr double kStridesPerSecond = 240;
  const double rate = subject.traits().tick_rate;
  const int stride = std::max(1, static_cast<int>(rate / kStridesPerSecond));
  const auto longest = static_cast<int>(kAirSeconds * rate);
  int count = 0;
  int chances = 0;
  std::optional<AirPress> first;
  std::optional<AirPress> past_apex;
  for (int delay = 2; delay <= longest; delay += stride) {
    const auto press = press_in_air(subject, delay, count < kManyJumps ? kManyJumps : 1);
    if (!press) break;
    if (press->jumps == 0) continue;
    ++chances;
    count = std::max(count, press->jumps);
    if (!first) first = press;
    if (!past_apex && press->before.velocity.y < 0) past_apex = press;
  }
  Measured measured = no_facts(drill, "it does not jump in the air");
  give(measured, "air_jump.count", count, count == kManyJumps);
  give(measured, "air_jump.chances", chances * stride);
  if (!first) return measured;
  const AirPress& shown = past_apex ? *past_apex : *first;
  const double top = top_of(subject, shown.delay);
  give(measured, "air_jump.height", top - shown.before.feet.y);
  give(measured, "air_jump.total_height", top - shown.rest);
  give(measured, "air_jump.earliest", first->delay);
  return measured;
}

Measured charge(Subject& subject, const Drill& drill) {
  constexpr double kLongest = 4;  // s that the button is held at most
  constexpr int kUnchanged = 3;   // heights in a row that say the gauge is full
  constexpr int kWatched = 3;     // ticks held on the ground that no plain jump would stay for
  const auto most = static_cast<int>(kLongest * subject.traits().tick_rate);
  const double same = kSame * size_of(subject);
  Series heights{"charge.height", "ticks held", 1, Dimension::length, {}};
  double largest_step = 0;
  int unchanged = 0;
  for (int held = 1; held <= most && unchanged < kUnchanged; ++held) {
    if (!prepare(subject, floor_stage(size_of(subject))))
      return no_facts(drill, "it cannot be placed again");
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    const double floor = rehearsal.now().feet.y;
    for (int i = 0; i < held; ++i) rehearsal.advance(kJump);
    if (held == kWatched && !rehearsal.now().grounded) {
      return no_facts(drill, "it jumps at the press: it does not charge");
    }
    const std::int64_t start = rehearsal.now().tick;
    for (int i = 0; i < kPatience && rehearsal.now().grounded; ++i) rehearsal.advance(kNothing);
    if (rehearsal.now().grounded) return no_facts(drill, "it does not jump on release");
    if (!fall_until_landing(rehearsal, kNothing)) return no_facts(drill, "it does not land");
    const double height = highest_from(rehearsal.trace(), start) - floor;
    if (!heights.values.empty()) {
      const double step = height - heights.values.back();
      largest_step = std::max(largest_step, std::abs(step));
      // A tap may be longer than a tick: the first heights are all that of a plain jump.
      const bool grew = std::abs(heights.values.back() - heights.values.front()) > same;
      unchanged = grew && std::abs(step) <= same ? unchanged + 1 : 0;
    }
    heights.values.push_back(height);
  }
  const auto full = std::max_element(heights.values.begin(), heights.values.end(),
                                     [same](double a, double b) { return a < b - same; });
  const auto ticks = static_cast<double>(full - heights.values.begin() + 1);
  Measured measured = facts_of(
      drill, {heights.values.front(), *full, ticks / subject.traits().tick_rate, largest_step});
  measured.series.push_back(std::move(heights));
  return measured;
}

namespace {

// Where a jump lands that is steered in the air, from its take-off; nothing if it does not.
std::optional<double> steered_distance(Subject& subject, bool running, int direction) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  if (running && !rehearsal.run_up()) return std::nullopt;
  const double start = rehearsal.now().feet.x;
  Controls held = running ? kRight : kNothing;
  if (!take_off(rehearsal, held)) return std::nullopt;
  held.x = direction > 0 ? kRight.x : kLeft.x;
  if (!fall_until_landing(rehearsal, held)) return std::nullopt;
  const auto arcs = find_arcs(rehearsal.trace());
  return arcs.empty() ? rehearsal.now().feet.x - start : arcs.back().landing.x - start;
}

}  // namespace

Measured air_control(Subject& subject, const Drill& drill) {
  const auto from_rest = steered_distance(subject, false, 1);
  const auto longest = steered_distance(subject, true, 1);
  const auto shortest = steered_distance(subject, true, -1);
  if (!from_rest || !longest || !shortest) return no_facts(drill, "it does not run, jump and land");
  return facts_of(drill, {*from_rest, *shortest, *longest - *shortest});
}

// ---- the sprint ----------------------------------------------------------------------------

namespace {

constexpr Controls kRightSprint{127, 0, false, false, true};

// Runs at the sprint until the speed no longer changes.
std::optional<Rehearsal> run_sprinting(Subject& subject) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  rehearsal.hold_until(kRightSprint, kRunSeconds, [](const Sample& before, const Sample& now) {
    return now.velocity.x > 0 && now.velocity.x == before.velocity.x;
  });
  if (!(rehearsal.now().velocity.x > 0)) return std::nullopt;
  return rehearsal;
}

// A jump from a sprint, its button held in the air or not: where and how fast it lands.
std::optional<Sample> jump_sprinting(Subject& subject, bool held_in_air, double& distance) {
  auto rehearsal = run_sprinting(subject);
  if (!rehearsal) return std::nullopt;
  Controls held = kRightSprint;
  const double start = rehearsal->now().feet.x;
  if (!take_off(*rehearsal, held)) return std::nullopt;
  held.sprint = held_in_air;
  if (!fall_until_landing(*rehearsal, held)) return std::nullopt;
  const auto arcs = find_arcs(rehearsal->trace());
  distance = arcs.empty() ? rehearsal->now().feet.x - start
                          : arcs.back().landing.x - arcs.back().take_off.x;
  return rehearsal->now();
}

}  // namespace

Measured sprint(Subject& subject, const Drill& drill) {
  const auto running = run_sprinting(subject);
  if (!running || !prepare(subject, floor_stage(size_of(subject)))) {
    return no_facts(drill, "it does not run");
  }
  Rehearsal first(subject);
  first.settle();
  first.run_up();
  const double speed = running->now().velocity.x;
  if (std::abs(speed - first.now().velocity.x) <= kSame * size_of(subject)) {
    return no_facts(drill, "its button changes no speed");
  }
  Measured measured = no_facts(drill, "it does not jump and land");
  give(measured, "sprint.top_speed", speed);
  const std::vector<Sample> samples = running->trace().samples;
  const auto rest = std::find_if(samples.rbegin(), samples.rend(),
                                 [](const Sample& sample) { return sample.velocity.x == 0; });
  const auto there = std::find_if(samples.begin(), samples.end(), [speed](const Sample& sample) {
    return sample.velocity.x == speed;
  });
  give(measured, "sprint.time",
       static_cast<double>(there->tick - rest->tick) / running->tick_rate());
  double distance = 0;
  double ignored = 0;
  const auto held = jump_sprinting(subject, true, distance);
  const auto released = jump_sprinting(subject, false, ignored);
  if (!held || !released) return measured;
  give(measured, "sprint.jump_distance", distance);
  give(measured, "sprint.landing_speed", released->velocity.x);
  return measured;
}

// ---- falling ------------------------------------------------------------------------------------

namespace {

struct Landing {
  double time = 0;   // s from the start of the fall
  double speed = 0;  // u/s
};

// A full jump whose fall begins with that press; nothing if it does not land.
std::optional<Landing> land_with(Subject& subject, const Controls& pressed) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  if (!jump_to_apex(rehearsal)) return std::nullopt;
  const std::int64_t start = rehearsal.now().tick;
  if (!fall_until_landing(rehearsal, pressed)) return std::nullopt;
  const auto arcs = find_arcs(rehearsal.trace());
  if (arcs.empty()) return std::nullopt;
  return Landing{arcs.back().landing_time - static_cast<double>(start) / rehearsal.tick_rate(),
                 arcs.back().landing_speed};
}

}  // namespace

Measured fast_fall(Subject& subject, const Drill& drill) {
  const auto plain = land_with(subject, kNothing);
  const auto fast = land_with(subject, kDown);
  if (!plain || !fast) return no_facts(drill, "it does not jump and land");
  const double saved = plain->time - fast->time;
  if (!(saved > kSame) && !(fast->speed > plain->speed + kSame * size_of(subject))) {
    return no_facts(drill, "a press of down does not speed its fall up");
  }
  return facts_of(drill, {saved, fast->speed});
}

namespace {

// Falls from a high ledge, all jumps in the air spent, then holds `held` until landing.
std::optional<Rehearsal> fall_from_high(Subject& subject, double room, const Controls& held,
                                        double& speed) {
  constexpr double kDepth = 40;  // body heights
  const double size = size_of(subject);
  if (!prepare(subject, ledge_stage(room + kRoom * size, kDepth * size, size))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const bool falls = rehearsal.hold_until(
      kRight, kRunSeconds, [](const Sample&, const Sample& now) { return !now.grounded; });
  if (!falls) return std::nullopt;
  constexpr double kFalling = 0.5;  // s: past any time of grace
  const auto ticks = static_cast<int>(kFalling * rehearsal.tick_rate());
  for (int i = 0; i < ticks; ++i) rehearsal.advance(kNothing);
  for (int i = 0; i < 2 * kManyJumps && !rehearsal.now().grounded; ++i) {
    const Sample before = rehearsal.now();
    rehearsal.advance(kJump);
    const bool jumped = rose(before, rehearsal.now());
    rehearsal.hold_until(kNothing, kAirSeconds, [](const Sample&, const Sample& now) {
      return now.grounded || !(now.velocity.y > 0);
    });
    if (!jumped) break;
  }
  rehearsal.hold_until(held, kAirSeconds, [&speed](const Sample& before, const Sample& now) {
    if (!now.grounded && now.velocity.y < 0) speed = -now.velocity.y;
    return now.grounded || now.feet.y > before.feet.y;
  });
  if (!rehearsal.now().grounded) return std::nullopt;
  return rehearsal;
}

}  // namespace

Measured glide(Subject& subject, const Drill& drill) {
  const auto room = run_up_room(subject);
  if (!room) return no_facts(drill, "it does not run");
  double plain_speed = 0;
  double speed = 0;
  const auto plain = fall_from_high(subject, *room, kNothing, plain_speed);
  const auto gliding = fall_from_high(subject, *room, kJump, speed);
  if (!plain || !gliding || !(speed < plain_speed - kSame * size_of(subject))) {
    return no_facts(drill, "a held button does not slow its fall down");
  }
  return facts_of(drill, {speed, time_from(*gliding, plain->now().tick)});
}

// ---- dash and push ------------------------------------------------------------------------------

namespace {

// A dash that was seen: the ticks that moved as far as the fastest one.
struct SeenDash {
  std::int64_t start = 0;  // the tick of the press
  std::int64_t ticks = 0;
  double distance = 0;  // u
  double speed = 0;     // u/s
  double kept = 0;      // u/s, right after it
};

std::optional<SeenDash> see_dash(Subject& subject) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  if (!rehearsal.run_up()) return std::nullopt;
  const double run_speed = rehearsal.now().velocity.x;
  rehearsal.settle();
  SeenDash dash;
  dash.start = rehearsal.now().tick;
  rehearsal.advance(kRightDash);
  constexpr double kWatch = 3;  // s
  const auto watched = static_cast<int>(kWatch * rehearsal.tick_rate());
  for (int i = 0; i < watched; ++i) rehearsal.advance(kNothing);
  const Trace trace = rehearsal.trace();
  const auto first = static_cast<std::size_t>(dash.start - trace.samples.front().tick);
  const double rate = trace.tick_rate;
  const auto step = [&](std::size_t i) {
    return (trace.samples[i + 1].feet.x - trace.samples[i].feet.x) * rate;
  };
  for (std::size_t i = first; i + 1 < trace.samples.size(); ++i) {
    dash.speed = std::max(dash.speed, step(i));
  }
  if (!(dash.speed > run_speed * (1 + kSame))) return std::nullopt;
  std::size_t i = first;
  while (i + 1 < trace.samples.size() && step(i) > dash.speed * (1 - kSame)) ++i;
  dash.ticks = static_cast<std::int64_t>(i - first);
  dash.distance = trace.samples[i].feet.x - trace.samples[first].feet.x;
  dash.kept = trace.samples[i].velocity.x;
  if (dash.ticks == 0) return std::nullopt;
  return dash;
}

// The least ticks from the end of a dash to the start of the next; nothing if none comes in time.
std::optional<int> measure_cooldown(Subject& subject, const SeenDash& dash) {
  constexpr double kLongest = 3;  // s
  const double rate = subject.traits().tick_rate;
  const auto most = static_cast<int>(kLongest * rate);
  const auto dashes_again = [&](int delay) {
    if (dash.ticks + delay < 2) return false;  // the button must come up in between
    if (!prepare(subject, floor_stage(size_of(subject)))) return false;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    rehearsal.advance(kRightDash);
    for (std::int64_t i = 1; i < dash.ticks + delay; ++i) rehearsal.advance(kNothing);
    const Sample before = rehearsal.now();
    rehearsal.advance(kRightDash);
    const double speed = (rehearsal.now().feet.x - before.feet.x) * rehearsal.tick_rate();
    return speed > dash.speed * (1 - kSame);
  };
  // Every tick where ticks are long; where they are short, strides first, then the ticks of the one
  // before the first that dashes.
  constexpr double kStridesPerSecond = 240;
  const int stride = std::max(1, static_cast<int>(rate / kStridesPerSecond));
  int first = 0;
  while (first <= most && !dashes_again(first)) first += stride;
  if (first > most) return std::nullopt;
  for (int delay = std::max(0, first - stride + 1); delay < first; ++delay) {
    if (dashes_again(delay)) return delay;
  }
  return first;
}

// How often it dashes in one fall from a high ledge.
int count_dashes_in_air(Subject& subject, double room, const SeenDash& dash) {
  constexpr double kDepth = 140;  // body heights
  const double size = size_of(subject);
  if (!prepare(subject, ledge_stage(room + kRoom * size, kDepth * size, size))) return 0;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  rehearsal.hold_until(kRight, kRunSeconds,
                       [](const Sample&, const Sample& now) { return !now.grounded; });
  int dashes = 0;
  bool dashed = false;
  bool down = true;
  rehearsal.hold_each(
      kAirSeconds,
      [&](const Sample& before, const Sample& now) {
        const double speed = (now.feet.x - before.feet.x) * rehearsal.tick_rate();
        const bool dashes_now = speed > dash.speed * (1 - kSame) && down;
        // A dash shows from its press on; without a cooldown the next may follow at once.
        if (dashes_now && !dashed) ++dashes;
        dashed = speed > dash.speed * (1 - kSame);
        return now.grounded || dashes == kManyJumps;
      },
      [&] {
        down = !dashed && !down;
        return down ? kRightDash : kNothing;
      });
  return dashes;
}

}  // namespace

Measured dash(Subject& subject, const Drill& drill) {
  const auto room = run_up_room(subject);
  const auto dash = see_dash(subject);
  Measured measured = no_facts(drill, "it does not dash");
  if (!room || !dash) {
    give(measured, "dash.in_air", 0);
    return measured;
  }
  give(measured, "dash.distance", dash->distance);
  give(measured, "dash.time", static_cast<double>(dash->ticks) / subject.traits().tick_rate);
  give(measured, "dash.speed", dash->speed);
  give(measured, "dash.kept_speed", dash->kept);
  for (Fact& fact : measured.facts) {
    if (fact.info->name == "dash.cooldown")
      fact.why_not = "it does not dash a second time within 3 s";
    if (fact.info->name == "dash.in_air") fact.why_not = "the subject cannot be put on a ledge";
  }
  if (const auto cooldown = measure_cooldown(subject, *dash)) {
    give(measured, "dash.cooldown", *cooldown);
  }
  if (subject.can_stand_on(Terrain::ledge)) {
    const int dashes = count_dashes_in_air(subject, *room, *dash);
    give(measured, "dash.in_air", dashes, dashes == kManyJumps);
  }
  return measured;
}

Measured push(Subject& subject, const Drill& drill) {
  constexpr Vec kPush{-6, 4};  // body heights a second
  const Vec velocity = kPush * size_of(subject);
  constexpr double kSeconds = 4;
  const auto pushed = [&](const Controls& held) -> std::optional<Trace> {
    if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    if (!subject.push(velocity)) return std::nullopt;
    const auto ticks = static_cast<int>(kSeconds * rehearsal.tick_rate());
    for (int i = 0; i < ticks; ++i) rehearsal.advance(held);
    return rehearsal.trace();
  };
  const auto idle = pushed(kNothing);
  const auto steering = pushed(kRight);
  if (!idle || !steering) return no_facts(drill, "the subject cannot be pushed");
  const auto& at_rest = idle->samples;
  std::size_t start = 0;  // the sample before the push shows
  while (start + 1 < at_rest.size() && at_rest[start + 1].feet == at_rest[start].feet) ++start;
  std::size_t control = start;
  while (control + 1 < at_rest.size() &&
         at_rest[control + 1].velocity == steering->samples[control + 1].velocity) {
    ++control;
  }
  if (control + 1 == at_rest.size()) return no_facts(drill, "it never has control again");
  const double distance = at_rest.front().feet.x - at_rest.back().feet.x;
  const auto locked = static_cast<double>(control - start);
  return facts_of(drill, {distance, locked / idle->tick_rate, locked});
}

}  // namespace bushbaby::detail
