// Drills across the border of a zone, and in it. The stages hold the zone of the subject, in a
// shape and a place of their own.
#include <algorithm>
#include <cmath>

#include "bushbaby/core/world/outline.h"

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

// A stage with the subject's zone in that box, body heights.
Stage zone_stage(const Subject& subject, const Box& box, std::vector<Solid> solids, Vec start) {
  const double size = size_of(subject);
  Zone zone = *subject.traits().zone;
  zone.corners.clear();
  zone.box = {box.lo * size, box.hi * size};
  Stage stage = level_stage({"zone", start * size, std::move(solids)});
  stage.terrain = Terrain::zone;
  stage.level.zones = {zone};
  return stage;
}

Solid floor_of(double size) {
  constexpr double kFar = 1e4;  // body heights
  return {"floor", {{-kFar * size, -10 * size}, {kFar * size, 0}}};
}

double speed_of(const Sample& sample) { return std::hypot(sample.velocity.x, sample.velocity.y); }

// The first tick that reports an event, if one does.
std::optional<std::int64_t> tick_of(const Trace& trace, EventKind kind) {
  for (const Event& event : trace.events) {
    if (event.kind == kind) return event.tick;
  }
  return std::nullopt;
}

const Sample& sample_of(const Trace& trace, std::int64_t tick) {
  return trace.samples[static_cast<std::size_t>(tick - trace.samples.front().tick)];
}

// How far a run-up takes the subject where the zone is far away.
std::optional<double> room_outside(Subject& subject) {
  const double size = size_of(subject);
  if (!prepare(subject, zone_stage(subject, {{-2, 9000}, {2, 9001}}, {floor_of(size)}, {0, 0}))) {
    return std::nullopt;
  }
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const double start = rehearsal.now().feet.x;
  if (!rehearsal.run_up()) return std::nullopt;
  return rehearsal.now().feet.x - start;
}

// Runs through the zone at full speed.
void run_through(Subject& subject, double room, Measured& measured) {
  const double size = size_of(subject);
  constexpr double kWide = 12;  // body heights
  if (!prepare(subject, zone_stage(subject, {{0, -1}, {kWide, 8}}, {floor_of(size)},
                                   {-room / size - 2, 0}))) {
    return;
  }
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  constexpr double kSeconds = 20;
  rehearsal.hold_until(kRight, kSeconds, [&](const Sample&, const Sample& now) {
    return now.feet.x > (kWide + 2) * size;
  });
  const Trace trace = rehearsal.trace();
  const auto in = tick_of(trace, EventKind::entered);
  if (!in) return;
  give(measured, "zone_entry.kept_in",
       speed_of(sample_of(trace, *in)) / speed_of(sample_of(trace, *in - 1)));
  const auto out = tick_of(trace, EventKind::left);
  if (!out) return;
  give(measured, "zone_entry.speed_inside", speed_of(sample_of(trace, *out - 1)));
  give(measured, "zone_entry.kept_out",
       speed_of(sample_of(trace, *out)) / speed_of(sample_of(trace, *out - 1)));
}

// Falls into it from 4 body heights above.
void fall_into(Subject& subject, Measured& measured) {
  if (!prepare(subject, zone_stage(subject, {{-50, -50}, {50, 0}}, {}, {0, 4}))) return;
  Rehearsal rehearsal(subject);
  rehearsal.hold_until(kNothing, kSettleSeconds, [&](const Sample&, const Sample& now) {
    return now.feet.y < -2 * size_of(subject);
  });
  const Trace trace = rehearsal.trace();
  const auto in = tick_of(trace, EventKind::entered);
  if (!in) return;
  give(measured, "zone_entry.fall_kept",
       speed_of(sample_of(trace, *in)) / speed_of(sample_of(trace, *in - 1)));
}

// Deep in a sea of it, with nothing else around.
bool dive_in(Subject& subject) {
  return prepare(subject, zone_stage(subject, {{-500, -1000}, {500, 0}}, {}, {0, -500}));
}

constexpr double kSwum = 3;  // s

// The velocity when something has been held for a while.
Vec swum(Subject& subject, const Controls& held) {
  if (!dive_in(subject)) return {0, 0};
  Rehearsal rehearsal(subject);
  rehearsal.hold_until(held, kSwum, [](const Sample&, const Sample&) { return false; });
  return rehearsal.now().velocity;
}

// How high one press rises, and how many ticks lie between two of them at least.
void stroke(Subject& subject, Measured& measured) {
  if (!dive_in(subject)) return;
  Rehearsal rehearsal(subject);
  rehearsal.advance(kNothing);
  const double from = rehearsal.now().feet.y;
  rehearsal.advance(kJump);
  const double rises = rehearsal.now().velocity.y;
  double top = rehearsal.now().feet.y;
  rehearsal.hold_until(kNothing, kSwum, [&](const Sample&, const Sample& now) {
    top = std::max(top, now.feet.y);
    return now.velocity.y <= 0;
  });
  if (!tick_of(rehearsal.trace(), EventKind::jumped) || !(rises > 0)) return;
  give(measured, "swim.stroke", top - from);
  if (!dive_in(subject)) return;
  Rehearsal again(subject);
  for (int i = 0; i < 2 * kMostWindowTicks; ++i) again.advance(i % 2 == 0 ? kJump : kNothing);
  std::vector<std::int64_t> presses;
  for (const Event& event : again.trace().events) {
    if (event.kind == EventKind::jumped) presses.push_back(event.tick);
  }
  if (presses.size() > 1) {
    give(measured, "swim.stroke_every", static_cast<double>(presses[1] - presses[0]));
  }
}

// A press with the head out of it.
void exit_jump(Subject& subject, Measured& measured) {
  constexpr double kDeep = 0.6;  // body heights: the centre is in, the head out
  if (!prepare(subject, zone_stage(subject, {{-50, -50}, {50, 0}}, {}, {0, -kDeep}))) return;
  Rehearsal rehearsal(subject);
  const double from = rehearsal.now().feet.y;
  double top = from;
  rehearsal.hold_until(kJump, kSwum, [&](const Sample&, const Sample& now) {
    top = std::max(top, now.feet.y);
    return now.velocity.y <= 0;
  });
  for (const Event& event : rehearsal.trace().events) {
    if (event.kind == EventKind::jumped && event.detail == static_cast<int>(JumpKind::exit_jump)) {
      give(measured, "swim.exit_jump", std::max(top, highest_from(rehearsal.trace(), 0)) - from);
      return;
    }
  }
}

constexpr double kRadius = 2;  // body heights, of the ball

// A ball in the middle of the zone, which pulls towards it.
Stage ball_stage(const Subject& subject) {
  const double size = size_of(subject);
  Solid round_walk;
  round_walk.name = "round_walk";
  for (const Vec corner : circle_corners()) round_walk.corners.push_back(corner * (kRadius * size));
  return zone_stage(subject, {{-20, -20}, {20, 20}}, {round_walk}, {0, kRadius});
}

double distance_of(const Sample& sample) { return std::hypot(sample.feet.x, sample.feet.y); }

}  // namespace

Measured zone_entry(Subject& subject, const Drill& drill) {
  Measured measured = no_facts(drill, "it does not come into the zone, or out of it");
  if (const auto room = room_outside(subject)) run_through(subject, *room, measured);
  fall_into(subject, measured);
  return measured;
}

Measured swim(Subject& subject, const Drill& drill) {
  Measured measured = no_facts(drill, "there is nothing like it in the zone");
  if (!subject.traits().zone->fluid) return measured;
  give(measured, "swim.drift", swum(subject, kNothing).y);
  give(measured, "swim.top_speed", std::abs(swum(subject, kRight).x));
  if (subject.traits().zone->fluid->dive > 0) {
    give(measured, "swim.dive", -swum(subject, kDown).y);
  }
  stroke(subject, measured);
  exit_jump(subject, measured);
  return measured;
}

Measured round_walk(Subject& subject, const Drill& drill) {
  Measured measured = no_facts(drill, "the zone has no down towards a point");
  if (subject.traits().zone->turning.to != Turning::To::point) return measured;
  if (!prepare(subject, ball_stage(subject))) return measured;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return measured;
  const std::int64_t start = rehearsal.now().tick;
  double turned = 0;
  int in_air = 0;
  const bool comes_round =
      rehearsal.hold_until(kRight, kRunSeconds, [&](const Sample& before, const Sample& now) {
        const double cross = before.feet.x * now.feet.y - before.feet.y * now.feet.x;
        const double dot = before.feet.x * now.feet.x + before.feet.y * now.feet.y;
        turned += std::abs(std::atan2(cross, dot));
        in_air += now.grounded ? 0 : 1;
        return turned >= 2 * kPi;
      });
  if (comes_round) {
    give(measured, "round_walk.time", time_from(rehearsal, start));
    give(measured, "round_walk.in_air", in_air);
  }
  if (!prepare(subject, ball_stage(subject))) return measured;
  Rehearsal again(subject);
  if (!again.settle()) return measured;
  const double ground = distance_of(again.now());
  double top = ground;
  Controls held = kJump;
  if (!take_off(again, held)) return measured;
  again.hold_until(held, kAirSeconds, [&](const Sample& before, const Sample& now) {
    top = std::max(top, distance_of(now));
    return now.grounded || distance_of(now) < distance_of(before);
  });
  give(measured, "round_walk.jump", top - ground);
  return measured;
}

}  // namespace bushbaby::detail
