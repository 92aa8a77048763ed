// The drills of running, jumping and falling.
#include <algorithm>
#include <cmath>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby {
namespace detail {
namespace {

// Presses jump from the state now, `held` in every tick, the button for `held_ticks` of them, and
// records until the landing.
std::optional<RecordedJump> record_jump(Rehearsal& rehearsal, Controls held, int held_ticks) {
  const std::int64_t start = rehearsal.now().tick;
  bool left = false;
  // A body that charges leaves the ground when the button is released.
  constexpr double kLongestCharge = 2;  // s
  const auto charge_ticks = static_cast<std::int64_t>(kLongestCharge * rehearsal.tick_rate());
  bool charges = false;
  const auto controls = [&] {
    const std::int64_t done = rehearsal.now().tick - start;
    charges = charges || (!left && done >= charge_ticks);
    held.jump = !charges && (held_ticks == kHeldThroughout || done < held_ticks);
    return held;
  };
  const auto most = static_cast<std::int64_t>(kAirSeconds * rehearsal.tick_rate());
  for (std::int64_t i = 0; i < most; ++i) {
    rehearsal.advance(controls());
    const bool grounded = rehearsal.now().grounded;
    if (left && grounded) break;
    left = left || !grounded;
    if (!left && i > charge_ticks + kPatience) return std::nullopt;
  }
  RecordedJump jump{rehearsal.trace(), {}};
  for (const Arc& arc : find_arcs(jump.trace)) {
    if (!arc.from_jump || !arc.landed) continue;
    jump.arc = arc;
    return jump;
  }
  return std::nullopt;
}

// The time within the tick from `before` to `after` at which the run speed stopped changing, from
// the way covered: the speed changed at a constant rate, then stayed.
double time_of_change(const Sample& before, const Sample& after, double dt) {
  const double change = after.velocity.x - before.velocity.x;
  const double covered = after.feet.x - before.feet.x;
  if (change == 0) return dt;
  const double time = 2 * (after.velocity.x * dt - covered) / change;
  return std::min(std::max(time, 0.0), dt);
}

// Ticks that pass between the press of a jump, or its release, and the tick in which the feet
// rise.
double response_ticks(const RecordedJump& jump) {
  const auto& samples = jump.trace.samples;
  std::size_t risen = 1;
  while (risen < samples.size() && !(samples[risen].feet.y > jump.arc.take_off.y)) ++risen;
  // The last time before that at which the button went down or up.
  std::size_t changed = std::min(risen, samples.size() - 1);
  while (changed > 1 && samples[changed].held.jump == samples[changed - 1].held.jump) --changed;
  return static_cast<double>(risen - changed);
}

// Whether the button was up in the first tick in the air.
bool left_by_releasing(const RecordedJump& jump) {
  const auto& samples = jump.trace.samples;
  const auto off = std::find_if(samples.begin() + 1, samples.end(),
                                [](const Sample& sample) { return !sample.grounded; });
  return off != samples.end() && !off->held.jump;
}

}  // namespace

std::optional<RecordedJump> record_full_jump(Subject& subject) {
  return record_standing_jump(subject, kHeldThroughout);
}

std::optional<RecordedJump> record_tap(Subject& subject) {
  return record_standing_jump(subject, 1);
}

std::optional<RecordedJump> record_leap(Subject& subject) {
  return record_running_jump(subject, kHeldThroughout);
}

Measured stand_jump(Subject& subject, const Drill& drill) {
  const auto jump = drill.record(subject);
  if (!jump) return no_facts(drill, "it does not jump and land");
  const Arc& arc = jump->arc;
  return facts_of(drill, {arc.height(), arc.rise_time(), arc.air_time(), arc.launch_speed,
                          arc.landing_speed, response_ticks(*jump)});
}

Measured hop(Subject& subject, const Drill& drill) {
  const auto jump = drill.record(subject);
  if (!jump) return no_facts(drill, "it does not jump and land");
  return facts_of(drill, {jump->arc.height(), jump->arc.rise_time(), jump->arc.air_time()});
}

Measured running_jump(Subject& subject, const Drill& drill) {
  const auto jump = drill.record(subject);
  if (!jump) return no_facts(drill, "it does not run, jump and land");
  const Arc& arc = jump->arc;
  return facts_of(drill, {arc.distance(), arc.height(), arc.air_time(),
                          arc.air_time() > 0 ? arc.distance() / arc.air_time() : 0});
}

Measured run_up(Subject& subject, const Drill& drill) {
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const std::size_t first = rehearsal.trace().samples.size() - 1;
  if (!rehearsal.run_up()) return no_facts(drill, "it does not run");
  const Trace trace = rehearsal.trace();
  const double dt = 1 / trace.tick_rate;
  const double top_speed = trace.samples.back().velocity.x;
  // The first sample at top speed; the change ended within the tick before it.
  std::size_t at = trace.samples.size() - 1;
  while (at > first && trace.samples[at - 1].velocity.x == top_speed) --at;
  const Sample& before = trace.samples[at - 1];
  const Sample& there = trace.samples[at];
  const double within = trace.true_curve ? time_of_change(before, there, dt) : dt;
  const double time = static_cast<double>(before.tick - trace.samples[first].tick) * dt + within;
  const double distance = there.feet.x - trace.samples[first].feet.x - top_speed * (dt - within);
  return facts_of(drill, {time, distance, top_speed});
}

Measured stop(Subject& subject, const Drill& drill) {
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  if (!rehearsal.run_up()) return no_facts(drill, "it does not run");
  const Sample released = rehearsal.now();
  const bool stops = rehearsal.hold_until(
      kNothing, kRunSeconds,
      [](const Sample&, const Sample& sample) { return sample.velocity.x == 0; });
  if (!stops) return no_facts(drill, "it does not stop");
  const Trace trace = rehearsal.trace();
  const double dt = 1 / trace.tick_rate;
  const Sample& before = trace.samples[trace.samples.size() - 2];
  const Sample& stopped = trace.samples.back();
  const double within = trace.true_curve ? time_of_change(before, stopped, dt) : dt;
  return facts_of(drill, {static_cast<double>(before.tick - released.tick) * dt + within,
                          stopped.feet.x - released.feet.x});
}

Measured hold_heights(Subject& subject, const Drill& drill) {
  const auto full = record_standing_jump(subject, kHeldThroughout);
  if (!full) return no_facts(drill, "it does not jump and land");
  if (left_by_releasing(*full)) {
    return no_facts(drill, "it leaves the ground on release: see the drill \"charge\"");
  }
  // No hand releases more finely than this; with shorter ticks a rung is several of them.
  constexpr double kRungsPerSecond = 240;
  const double rate = full->trace.tick_rate;
  const int rung = std::max(1, static_cast<int>(rate / kRungsPerSecond));
  const auto rise = static_cast<int>(std::ceil(full->arc.rise_time() * rate));
  Series heights{"hold_heights.height", "ticks held", rung, Dimension::length, {}};
  double largest_step = 0;
  double distinct = 0;
  for (int held = rung; held < rise + rung; held += rung) {
    const auto jump = record_standing_jump(subject, held);
    if (!jump) return no_facts(drill, "it does not jump and land when the button is released");
    const double height = jump->arc.height();
    const double same = 1e-6 * size_of(subject);
    const double step =
        heights.values.empty() ? size_of(subject) : std::abs(height - heights.values.back());
    if (step > same) distinct += 1;
    if (!heights.values.empty()) largest_step = std::max(largest_step, step);
    heights.values.push_back(height);
  }
  if (heights.values.empty()) return no_facts(drill, "its jump has no rise");
  const auto [lowest, highest] = std::minmax_element(heights.values.begin(), heights.values.end());
  Measured measured = facts_of(drill, {*lowest, *highest, distinct, largest_step});
  measured.series.push_back(std::move(heights));
  return measured;
}

Measured drop(Subject& subject, const Drill& drill) {
  const auto room = run_up_room(subject);
  if (!room) return no_facts(drill, "it does not run");
  constexpr double kDepth = 4;  // body heights
  const double size = size_of(subject);
  if (!prepare(subject, ledge_stage(*room + kRoom * size, kDepth * size, size))) {
    return no_facts(drill, "it cannot be put on a ledge");
  }
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  rehearsal.hold_until(kRight, kRunSeconds, [](const Sample& before, const Sample& sample) {
    return sample.grounded && sample.feet.y < before.feet.y;
  });
  for (const Arc& arc : find_arcs(rehearsal.trace())) {
    if (arc.landed) {
      return facts_of(drill, {arc.air_time(), arc.landing_speed, arc.distance()});
    }
  }
  return no_facts(drill, "it does not land on the floor below");
}

Measured turn(Subject& subject, const Drill& drill) {
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  if (!rehearsal.run_up()) return no_facts(drill, "it does not run");
  const Sample start = rehearsal.now();
  const double dt = 1 / rehearsal.tick_rate();
  double farthest = start.feet.x;
  double reversal = 0;
  const bool turned =
      rehearsal.hold_until(kLeft, kRunSeconds, [&](const Sample& before, const Sample& sample) {
        farthest = std::max(farthest, sample.feet.x);
        if (reversal == 0 && sample.velocity.x < 0) {
          reversal = static_cast<double>(sample.tick - start.tick) * dt;
        }
        return sample.velocity.x < 0 && sample.velocity.x == before.velocity.x;
      });
  if (!turned) return no_facts(drill, "it does not run the other way");
  // The last sample repeats the speed of the one before it, where the turn was done.
  const double time = static_cast<double>(rehearsal.now().tick - 1 - start.tick) * dt;
  return facts_of(drill, {time, reversal, farthest - start.feet.x});
}

namespace {

// The widest gap that is left at a wall over angles of approach, in the air; nothing if the subject
// takes no pushes, or does not come to the wall.
std::optional<double> widest_gap(Subject& subject) {
  constexpr double kSpeed = 20;      // body heights a second
  constexpr double kDistance = 1.3;  // body heights
  constexpr double kSeconds = 5;
  const double size = size_of(subject);
  const double half_width = subject.traits().body_width / 2;
  double widest = 0;
  for (int degrees = -75; degrees <= 75; degrees += 15) {
    Stage stage = wall_stage(kOutOfReach * size, size);
    stage.level.start = {stage.mark - half_width - kDistance * size, kOutOfReach * size};
    if (!prepare(subject, stage)) return std::nullopt;
    Rehearsal rehearsal(subject);
    const double angle = degrees * kPi / 180;
    if (!subject.push(Vec{std::cos(angle), std::sin(angle)} * (kSpeed * size))) return std::nullopt;
    const bool arrives =
        rehearsal.hold_until(kRight, kSeconds, [](const Sample& before, const Sample& now) {
          return before.velocity.x > 0 && !(now.velocity.x > 0);
        });
    if (!arrives) return std::nullopt;
    widest = std::max(widest, stage.mark - half_width - rehearsal.now().feet.x);
  }
  return widest;
}

}  // namespace

Measured impact(Subject& subject, const Drill& drill) {
  const auto run_up_distance = run_up_room(subject);
  if (!run_up_distance) return no_facts(drill, "it does not run");
  const double half_width = subject.traits().body_width / 2;
  const double size = size_of(subject);
  const Stage stage = wall_stage(*run_up_distance + half_width + kRoom * size, size);
  if (!prepare(subject, stage)) return no_facts(drill, "it cannot be put before a wall");
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const bool arrives =
      rehearsal.hold_until(kRight, kRunSeconds, [&](const Sample& before, const Sample& sample) {
        return before.feet.x > *run_up_distance && sample.velocity.x < before.velocity.x;
      });
  if (!arrives) return no_facts(drill, "it does not reach the wall");
  const Trace approach = rehearsal.trace();
  const double speed = approach.samples[approach.samples.size() - 2].velocity.x;
  const double gap = stage.mark - half_width - rehearsal.now().feet.x;
  double rebound = 0;
  constexpr int kWatch = 10;
  for (int i = 0; i < kWatch; ++i) {
    rebound = std::max(rebound, -rehearsal.now().velocity.x);
    rehearsal.advance(kRight);
  }
  Measured measured = no_facts(drill, "the subject cannot be pushed");
  give(measured, "impact.gap", gap);
  give(measured, "impact.speed", speed);
  give(measured, "impact.rebound", rebound);
  if (const auto widest = widest_gap(subject)) give(measured, "impact.widest_gap", *widest);
  return measured;
}

}  // namespace detail

std::optional<RecordedJump> record_standing_jump(Subject& subject, int held_ticks) {
  if (!detail::prepare(subject, floor_stage(detail::size_of(subject)))) return std::nullopt;
  detail::Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return std::nullopt;
  return detail::record_jump(rehearsal, detail::kNothing, held_ticks);
}

std::optional<RecordedJump> record_running_jump(Subject& subject, int held_ticks) {
  if (!detail::prepare(subject, floor_stage(detail::size_of(subject)))) return std::nullopt;
  detail::Rehearsal rehearsal(subject);
  if (!rehearsal.settle() || !rehearsal.run_up()) return std::nullopt;
  return detail::record_jump(rehearsal, detail::kRight, held_ticks);
}

}  // namespace bushbaby
