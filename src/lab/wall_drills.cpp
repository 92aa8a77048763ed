// The drills of walls: sliding along one, leaving it, coming back to it.
#include <algorithm>
#include <cmath>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

constexpr Controls kLeftJump{-127, 0, true, false};
constexpr Controls kRightUp{127, 127, false, false};
constexpr Controls kRightDown{127, -127, false, false};

// Puts the subject in the air, far above the floor, so far from a wall on its right.
std::optional<Stage> beside_wall(Subject& subject, double distance) {
  constexpr double kWallX = 30;  // body heights
  const double size = size_of(subject);
  Stage stage = wall_stage(kWallX * size, size);
  stage.level.start = {stage.mark - subject.traits().body_width / 2 - distance, kOutOfReach * size};
  if (!prepare(subject, stage)) return std::nullopt;
  return stage;
}

constexpr double kBeside = 0.015;  // body heights

// Puts it close beside a wall and holds towards it until it is there; nothing if it cannot be or
// does not come to it.
std::optional<Rehearsal> come_to_wall(Subject& subject) {
  if (!beside_wall(subject, kBeside * size_of(subject))) return std::nullopt;
  Rehearsal rehearsal(subject);
  const bool arrives =
      rehearsal.hold_until(kRight, 1, [&](const Sample& before, const Sample& now) {
        return now.feet.x > before.feet.x && now.velocity.x == 0;
      });
  if (!arrives || rehearsal.now().grounded) return std::nullopt;
  return rehearsal;
}

// Whether the last tick has an event of that kind, and with that detail if one is asked for.
bool reports_of(const Rehearsal& rehearsal, EventKind kind, std::optional<JumpKind> jump = {}) {
  const Trace trace = rehearsal.trace();
  return std::any_of(trace.events.begin(), trace.events.end(), [&](const Event& event) {
    const bool fits = !jump || event.detail == static_cast<std::uint8_t>(*jump);
    return event.kind == kind && fits && event.tick == rehearsal.now().tick;
  });
}

bool reports_of_wall_jump(const Rehearsal& rehearsal) {
  return reports_of(rehearsal, EventKind::jumped, JumpKind::wall);
}

// The velocity after a press in the open, of a body that has fallen as long as one beside a wall.
std::optional<Vec> velocity_in_the_open(Subject& subject, std::int64_t ticks, Controls held) {
  Stage open = floor_stage(size_of(subject));
  open.level.start = {0, kOutOfReach * size_of(subject)};
  if (!prepare(subject, open)) return std::nullopt;
  Rehearsal rehearsal(subject);
  held.jump = false;
  for (std::int64_t i = 0; i < ticks; ++i) rehearsal.advance(held);
  const Sample before = rehearsal.now();
  held.jump = true;
  rehearsal.advance(held);
  if (!rose(before, rehearsal.now())) return std::nullopt;
  return rehearsal.now().velocity;
}

// How fast it falls after N seconds, away from any wall.
double falling_speed(Subject& subject, double seconds) {
  Stage open = floor_stage(size_of(subject));
  open.level.start = {0, kOutOfReach * size_of(subject)};
  if (!prepare(subject, open)) return 0;
  Rehearsal free(subject);
  free.hold_until(kNothing, seconds, [](const Sample&, const Sample& now) { return now.grounded; });
  return -free.now().velocity.y;
}

// Whether a press at a wall jumps from it. By its events, if it gives any; else a jump that the
// open air gives as well is none from the wall.
bool jumps_from_wall(Subject& subject, const Controls& pressed) {
  auto rehearsal = come_to_wall(subject);
  if (!rehearsal) return false;
  const Sample before = rehearsal->now();
  rehearsal->advance(pressed);
  const Sample after = rehearsal->now();
  if (subject.traits().gives_events) return reports_of_wall_jump(*rehearsal);
  if (!rose(before, after)) return false;
  const auto open = velocity_in_the_open(subject, before.tick, pressed);
  return !open || open->y != after.velocity.y || after.velocity.x * pressed.x < 0;
}

// Steers away until the wall is lost: its events say so, or else it is farther away than a body
// that rests at a wall can be.
void leave_wall_by_steering(Rehearsal& rehearsal, const SubjectTraits& traits) {
  const double touch = rehearsal.now().feet.x - 0.0015 * traits.body_width;
  rehearsal.hold_until(kLeft, 1, [&](const Sample&, const Sample& now) {
    if (!traits.gives_events) return now.feet.x < touch;
    return reports_of(rehearsal, EventKind::wall_lost);
  });
}

}  // namespace

Measured wall_slide(Subject& subject, const Drill& drill) {
  auto rehearsal = come_to_wall(subject);
  if (!rehearsal) return no_facts(drill, "it cannot be put in the air beside a wall");
  const double same = kSame * size_of(subject);
  const int most = longest_window(rehearsal->tick_rate());
  int cling = 0;
  bool clings = true;
  while (clings && cling < most) {
    const Sample before = rehearsal->now();
    rehearsal->advance(kRight);
    clings = rehearsal->now().feet.y == before.feet.y;
    if (clings) ++cling;
  }
  if (clings) {
    Measured measured = facts_of(drill, {0, static_cast<double>(cling)});
    give(measured, "wall_slide.cling", cling, true);
    return measured;
  }
  // Then it slides, if its speed comes to rest below that of the same fall away from any wall.
  constexpr double kWatch = 3;  // s
  const auto watched = static_cast<int>(kWatch * rehearsal->tick_rate());
  double change = 0;
  for (int i = 0; i < watched && !rehearsal->now().grounded; ++i) {
    const Sample before = rehearsal->now();
    rehearsal->advance(kRight);
    change = rehearsal->now().velocity.y - before.velocity.y;
  }
  const double speed = -rehearsal->now().velocity.y;
  const bool slides = std::abs(change) <= same && speed < falling_speed(subject, kWatch) - same;
  if (!slides && cling == 0) return no_facts(drill, "it falls freely along a wall");
  Measured measured = no_facts(drill, "it falls freely once it no longer clings");
  if (slides) give(measured, "wall_slide.speed", speed);
  give(measured, "wall_slide.cling", cling);
  return measured;
}

namespace {

// Spends the jumps in the air and steers to the wall, the button down in that tick only (none if
// negative); true if it comes to it.
bool approach_wall(Rehearsal& rehearsal, int air_jumps, std::int64_t pressed) {
  bool down = false;
  rehearsal.hold_each(
      kRunSeconds,
      [&](const Sample& before, const Sample& now) {
        if (down && rose(before, now)) --air_jumps;
        return air_jumps <= 0 && !down && !(now.velocity.y > 0);
      },
      [&] {
        down = air_jumps > 0 && !down && !(rehearsal.now().velocity.y > 0);
        return down ? kJump : kNothing;
      });
  return rehearsal.hold_each(
      2,
      [&](const Sample& before, const Sample& now) {
        return now.feet.x > before.feet.x && now.velocity.x == 0;
      },
      [&] { return rehearsal.now().tick == pressed ? kRightJump : kRight; });
}

// The most ticks before the first one at a wall at which a press jumps there; -1 if it does not
// come to one.
int measure_early_at_wall(Subject& subject, int air_jumps) {
  constexpr double kApproach = 1.07;  // body heights
  constexpr int kBeyond = 8;
  constexpr int kNever = -1;
  std::int64_t arrival = 0;
  for (int early = 0, lead = 0;; ++lead) {
    if (!beside_wall(subject, kApproach * size_of(subject))) return kNever;
    Rehearsal rehearsal(subject);
    if (!approach_wall(rehearsal, air_jumps, lead == 0 ? kNever : arrival - lead)) return kNever;
    if (lead == 0) {
      arrival = rehearsal.now().tick;
      continue;
    }
    bool jumped = false;
    for (int i = 0; i < kPatience && !jumped; ++i) {
      const Sample before = rehearsal.now();
      rehearsal.advance(kRight);
      jumped = rose(before, rehearsal.now());
    }
    if (jumped && lead == early + 1) early = lead;
    if (lead >= early + kBeyond || lead >= arrival) return early;
  }
}

}  // namespace

namespace {

// Runs to the wall on the floor and stands there; nothing if it does not come to it.
std::optional<Rehearsal> stand_at_wall(Subject& subject, const Stage& stage) {
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const double touch = stage.mark - subject.traits().body_width * (0.5 + 0.0015);
  const bool arrives = rehearsal.hold_until(
      kRight, kRunSeconds,
      [&](const Sample&, const Sample& now) { return now.feet.x >= touch && now.velocity.x == 0; });
  if (!arrives || !rehearsal.now().grounded) return std::nullopt;
  return rehearsal;
}

// Whether a press at the foot of a wall, held towards it, jumps away from it.
bool jumps_from_foot(Subject& subject) {
  const double size = size_of(subject);
  auto rehearsal = stand_at_wall(subject, wall_stage(2 * size, size));
  if (!rehearsal) return false;
  const Sample before = rehearsal->now();
  rehearsal->advance(kRightJump);
  if (subject.traits().gives_events) return reports_of_wall_jump(*rehearsal);
  return rose(before, rehearsal->now()) && rehearsal->now().velocity.x < 0;
}

}  // namespace

Measured wall_press(Subject& subject, const Drill& drill) {
  const int most = longest_window(subject.traits().tick_rate);
  const int air_jumps = count_air_jumps(subject);
  if (air_jumps == kManyJumps) return no_facts(drill, "its jumps in the air never end");
  const auto counts = [&](Rehearsal& rehearsal, const Sample& before, const Controls& held) {
    if (!rose(before, rehearsal.now())) return false;
    return air_jumps == 0 || count_jumps(rehearsal, held) >= air_jumps;
  };
  if (!come_to_wall(subject)) return no_facts(drill, "it cannot be put in the air beside a wall");
  if (!jumps_from_wall(subject, kRightJump)) return no_facts(drill, "it does not jump from a wall");
  int late = 0;
  constexpr int kBeyond = 8;
  for (int delay = 1; delay <= most && delay <= late + kBeyond; ++delay) {
    auto rehearsal = come_to_wall(subject);
    leave_wall_by_steering(*rehearsal, subject.traits());
    for (int i = 1; i < delay; ++i) rehearsal->advance(kLeft);
    const Sample before = rehearsal->now();
    rehearsal->advance(kLeftJump);
    if (!counts(*rehearsal, before, kLeft)) continue;
    if (delay != late + 1) return no_facts(drill, "later presses jump where earlier ones do not");
    late = delay;
  }
  const int early = measure_early_at_wall(subject, air_jumps);
  if (early < 0) return no_facts(drill, "it does not steer to a wall in the air");
  const double standing = jumps_from_foot(subject) ? 1 : 0;
  Measured measured =
      facts_of(drill, {static_cast<double>(late), static_cast<double>(early), standing});
  give(measured, "wall_press.late", late, late == most);
  return measured;
}

namespace {

// Holds the button and towards the wall until it is touched again; of a jump that never leaves the
// wall, until the body no longer rises. False if it lands first, or does not come back.
bool come_back(Rehearsal& rehearsal, const SubjectTraits& traits) {
  const Sample start = rehearsal.now();
  const double clear = 0.005 * traits.body_width;
  bool away = false;
  bool back = false;
  rehearsal.hold_until(kRightJump, kAirSeconds, [&](const Sample& before, const Sample& now) {
    away = away || now.feet.x < start.feet.x - clear;
    back = away ? now.feet.x >= before.feet.x && now.velocity.x == 0 &&
                      now.feet.x > start.feet.x - clear
                : !(now.velocity.y > 0);
    return now.grounded || back;
  });
  return back && !rehearsal.now().grounded;
}

}  // namespace

Measured wall_gain(Subject& subject, const Drill& drill) {
  if (!come_to_wall(subject)) return no_facts(drill, "it cannot be put in the air beside a wall");
  Measured measured = no_facts(drill, "it does not jump from a wall");
  give(measured, "wall_gain.jumps", 0);
  if (!jumps_from_wall(subject, kRightJump)) return measured;
  const SubjectTraits traits = subject.traits();
  auto rehearsal = come_to_wall(subject);
  const Sample start = rehearsal->now();
  for (Fact& fact : measured.facts) fact.why_not = "it does not come back to the wall";
  int jumps = 0;
  while (jumps < kManyJumps) {
    const Sample before = rehearsal->now();
    rehearsal->advance(kRightJump);
    const bool jumped =
        traits.gives_events ? reports_of_wall_jump(*rehearsal) : rose(before, rehearsal->now());
    if (!jumped) break;
    ++jumps;
    if (!come_back(*rehearsal, traits)) break;
    if (jumps == 1) {
      give(measured, "wall_gain.height", rehearsal->now().feet.y - start.feet.y);
      give(measured, "wall_gain.time", time_from(*rehearsal, start.tick));
    }
    rehearsal->advance(kRight);  // releases the button
  }
  give(measured, "wall_gain.jumps", jumps, jumps == kManyJumps);
  return measured;
}

namespace {

// The horizontal speeds of a jump from a wall, in its first second: what is held at the press, and
// after it.
std::vector<Sample> leave_wall(Subject& subject, const Controls& pressed, const Controls& after) {
  auto rehearsal = come_to_wall(subject);
  if (!rehearsal) return {};
  std::vector<Sample> samples{rehearsal->now()};
  rehearsal->advance(pressed);
  samples.push_back(rehearsal->now());
  for (int i = 1; i < static_cast<int>(rehearsal->tick_rate()); ++i) {
    rehearsal->advance(after);
    samples.push_back(rehearsal->now());
  }
  return samples;
}

}  // namespace

namespace {

// The highest place of the feet after a press at a wall, button and direction towards it held until
// the body no longer rises.
double highest_of_wall_jump(Subject& subject) {
  auto rehearsal = come_to_wall(subject);
  const std::int64_t pressed = rehearsal->now().tick;
  rehearsal->advance(kRightJump);
  rehearsal->hold_until(kRightJump, kAirSeconds,
                        [](const Sample&, const Sample& now) { return !(now.velocity.y > 0); });
  return highest_from(rehearsal->trace(), pressed);
}

}  // namespace

Measured wall_push_off(Subject& subject, const Drill& drill) {
  const auto towards = leave_wall(subject, kRightJump, kRightJump);
  if (towards.empty()) return no_facts(drill, "it cannot be put in the air beside a wall");
  if (!jumps_from_wall(subject, kRightJump)) return no_facts(drill, "it does not jump from a wall");
  // Another hold at the press shows a lock from its first tick on, unless it jumps in another way.
  auto nothing = leave_wall(subject, kJump, kJump);
  if (nothing[1].velocity.y != towards[1].velocity.y) {
    nothing = leave_wall(subject, kRightJump, kJump);
  }
  std::size_t locked = 0;
  while (locked + 1 < towards.size() &&
         towards[locked + 1].velocity.x == nothing[locked + 1].velocity.x) {
    ++locked;
  }
  const double top = highest_of_wall_jump(subject);
  double farthest = towards[0].feet.x;
  for (const Sample& sample : towards) farthest = std::min(farthest, sample.feet.x);
  return facts_of(
      drill, {top - towards[0].feet.y, towards[0].feet.x - farthest, static_cast<double>(locked),
              static_cast<double>(locked) / subject.traits().tick_rate});
}

namespace {

// Climbs with up held until it no longer rises, or for so long; nothing if it does not rise at
// all. `speed` becomes the last speed that two ticks in a row had.
std::optional<Rehearsal> climb_up(Subject& subject, double seconds, double& speed) {
  auto rehearsal = come_to_wall(subject);
  if (!rehearsal) return std::nullopt;
  constexpr double kToTurn = 1;  // s in which a fall must have become a climb
  const auto rises = [](const Sample&, const Sample& now) { return now.velocity.y > 0; };
  if (!rehearsal->hold_until(kRightUp, kToTurn, rises)) return std::nullopt;
  rehearsal->hold_until(kRightUp, seconds, [&speed](const Sample& before, const Sample& now) {
    if (now.velocity.y > 0 && now.velocity.y == before.velocity.y) speed = now.velocity.y;
    return !(now.velocity.y > 0);
  });
  return rehearsal;
}

// The falling speed that no longer changes, with down held after a little climb; nothing if that
// is no less than of a fall in the open.
std::optional<double> climb_down(Subject& subject) {
  constexpr double kLittle = 0.5;  // s
  constexpr double kWatch = 3;     // s
  double ignored = 0;
  auto rehearsal = climb_up(subject, kLittle, ignored);
  const auto steady = [](const Sample& before, const Sample& now) {
    return now.velocity.y < 0 && now.velocity.y == before.velocity.y;
  };
  if (!rehearsal->hold_until(kRightDown, kWatch, steady)) return std::nullopt;
  const double speed = -rehearsal->now().velocity.y;
  if (!(speed < falling_speed(subject, kWatch) * (1 - kSame))) return std::nullopt;
  return speed;
}

// Whether it comes to stand on the top of a wall that is not high.
bool climbs_over(Subject& subject) {
  constexpr double kHigh = 2;  // body heights
  const double size = size_of(subject);
  Stage stage = wall_stage(2 * size, size);
  stage.level.solids.back().box.hi.y = kHigh * size;
  auto rehearsal = stand_at_wall(subject, stage);
  if (!rehearsal) return false;
  return rehearsal->hold_until(kRightUp, kLongestWindow, [&](const Sample&, const Sample& now) {
    return now.grounded && now.feet.y > (kHigh - 0.5) * size;
  });
}

}  // namespace

Measured climb(Subject& subject, const Drill& drill) {
  double up_speed = 0;
  const auto rehearsal = climb_up(subject, kLongestWindow, up_speed);
  Measured measured = no_facts(drill, "it does not climb along a wall");
  give(measured, "climb.over", 0);
  if (!rehearsal || up_speed == 0) return measured;
  const Trace trace = rehearsal->trace();
  const auto first = std::find_if(trace.samples.begin(), trace.samples.end(),
                                  [](const Sample& sample) { return sample.velocity.y > 0; });
  const bool endless = rehearsal->now().velocity.y > 0;
  const Sample start = first == trace.samples.begin() ? *first : *std::prev(first);
  give(measured, "climb.up_speed", up_speed);
  give(measured, "climb.time", time_from(*rehearsal, start.tick), endless);
  give(measured, "climb.height", rehearsal->now().feet.y - start.feet.y, endless);
  for (Fact& fact : measured.facts) fact.why_not = "with down held it falls";
  if (const auto down_speed = climb_down(subject)) give(measured, "climb.down_speed", *down_speed);
  give(measured, "climb.over", climbs_over(subject) ? 1 : 0);
  return measured;
}

}  // namespace bushbaby::detail
