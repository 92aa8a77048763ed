#include "bushbaby/lab/windows.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

#include "bushbaby/lab/playing.h"

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby {
namespace {

using namespace detail;  // what drills are made of

// What is done up to a moment and a while beyond it, without a press near it.
struct Approach {
  Stage stage;
  std::vector<Controls> held{};  // from the subject's being placed on
  int moment = 0;                // the tick in which it comes, counted from 1
  int earliest = 1;              // a press may come in this tick or later
};

constexpr double kBeyond = 2;  // s that an approach goes on behind its moment

int ticks_done(const Rehearsal& rehearsal) { return static_cast<int>(rehearsal.now().tick); }

Approach finished(Rehearsal& rehearsal, Stage stage, int moment, int earliest,
                  const Controls& behind) {
  for (double i = 0; i < kBeyond * rehearsal.tick_rate(); ++i) rehearsal.advance(behind);
  return {std::move(stage), controls_of(rehearsal.trace()), moment, earliest};
}

std::optional<Approach> walk_off(Subject& subject) {
  const auto room = run_up_room(subject);
  if (!room) return std::nullopt;
  const double size = size_of(subject);
  Stage stage = ledge_stage(*room + kRoom * size, kOutOfReach * size, size);
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const int earliest = ticks_done(rehearsal) + 1;
  const bool off = rehearsal.hold_until(
      kRight, kRunSeconds, [](const Sample&, const Sample& now) { return !now.grounded; });
  if (!off) return std::nullopt;
  const int moment = ticks_done(rehearsal);
  return finished(rehearsal, std::move(stage), moment, earliest, kRight);
}

std::optional<Approach> come_down(Subject& subject) {
  Stage stage = floor_stage(size_of(subject));
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  Controls held;
  if (!take_off(rehearsal, held)) return std::nullopt;
  const auto falls = [](const Sample&, const Sample& now) { return !(now.velocity.y > 0); };
  if (!rehearsal.hold_until(held, kAirSeconds, falls)) return std::nullopt;
  rehearsal.advance(kNothing);
  const int earliest = ticks_done(rehearsal) + 1;
  const bool down = rehearsal.hold_until(
      kNothing, kAirSeconds, [](const Sample&, const Sample& now) { return now.grounded; });
  if (!down) return std::nullopt;
  const int moment = ticks_done(rehearsal);
  return finished(rehearsal, std::move(stage), moment, earliest, kNothing);
}

// A ledge, and beyond a gap a wall from far below to far above, which a body that walks off meets
// in its fall.
Stage gap_stage(double edge_x, double gap, double size) {
  const double far = kOutOfReach * size;
  Level level;
  level.solids.push_back({"ledge", {{-far, -size}, {edge_x, 0}}});
  level.solids.push_back({"wall", {{edge_x + gap, -far}, {edge_x + gap + size, far}}});
  return level_stage(std::move(level));
}

bool meets_wall(const Trace& trace) {
  return !trace.events.empty() &&
         std::any_of(trace.events.begin(), trace.events.end(), [&trace](const Event& event) {
           return event.kind == EventKind::wall_touched && event.tick == trace.samples.back().tick;
         });
}

// Falls against a wall: up to the meeting, or on to the loss of the wall by turning away from it.
std::optional<Approach> fall_to_wall(Subject& subject, bool leaves) {
  const auto room = run_up_room(subject);
  if (!room) return std::nullopt;
  const double size = size_of(subject);
  const double rate = subject.traits().tick_rate;
  constexpr double kFall = 0.8;   // s before the wall: more than a time of grace
  constexpr double kSlide = 0.1;  // s at it
  double speed = 0;
  {
    if (!prepare(subject, floor_stage(size))) return std::nullopt;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    if (!rehearsal.run_up()) return std::nullopt;
    speed = rehearsal.now().velocity.x;
  }
  Stage stage = gap_stage(*room + kRoom * size, speed * kFall + subject.traits().body_width, size);
  if (!prepare(subject, stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  rehearsal.hold_until(kRight, kRunSeconds,
                       [](const Sample&, const Sample& now) { return !now.grounded; });
  int earliest = ticks_done(rehearsal) + 1;
  bool met = false;
  for (double i = 0; i < kSettleSeconds * rate && !met; ++i) {
    rehearsal.advance(kRight);
    met = meets_wall(rehearsal.trace());
  }
  if (!met) return std::nullopt;
  int moment = ticks_done(rehearsal);
  if (leaves) {
    for (double i = 0; i < kSlide * rate; ++i) rehearsal.advance(kRight);
    earliest = ticks_done(rehearsal) + 1;
    rehearsal.advance(kLeft);
    moment = ticks_done(rehearsal);
  }
  return finished(rehearsal, std::move(stage), moment, earliest, leaves ? kLeft : kRight);
}

// The first jump of a trace in that tick or a later one. One that charged jumps when it is
// released, and has not waited.
PressOutcome outcome_of(const Trace& trace, std::int64_t pressed) {
  const auto has = [&trace](std::int64_t tick, EventKind kind) {
    return std::any_of(trace.events.begin(), trace.events.end(), [&](const Event& event) {
      return event.tick == tick && event.kind == kind;
    });
  };
  for (const Event& event : trace.events) {
    if (event.tick < pressed || event.kind != EventKind::jumped) continue;
    PressOutcome outcome{chance_of(static_cast<JumpKind>(event.detail)), 0};
    if (has(event.tick, EventKind::coyote_used)) outcome.jump = Chance::coyote;
    if (has(event.tick, EventKind::buffer_used)) {
      outcome.waited = static_cast<int>(event.tick - pressed);
    }
    return outcome;
  }
  return {};
}

// The approach again, with a press in that tick.
PressOutcome press_in(Subject& subject, const Approach& approach, int tick) {
  constexpr int kPressed = 1;       // tick
  constexpr double kWatched = 0.5;  // s
  if (!prepare(subject, approach.stage)) return {};
  Recorder recorder(subject);
  const auto most = static_cast<int>(approach.held.size());
  const double rate = subject.traits().tick_rate;
  const int last = std::min(
      most, std::max(tick, approach.moment) + static_cast<int>(kWatched * rate) + kPressed);
  for (int i = 1; i <= last; ++i) {
    Controls held = approach.held[static_cast<std::size_t>(i) - 1];
    if (i >= tick && i < tick + kPressed) held.jump = true;
    recorder.advance(held);
  }
  return outcome_of(recorder.trace(), tick);
}

bool is_alike(const PressOutcome& a, const PressOutcome& b) {
  return a.jump == b.jump && (a.waited > 0) == (b.waited > 0);
}

// Presses on one side of a moment, from it on.
struct Side {
  std::vector<PressOutcome> presses;
  bool open = false;  // those farther off do as the last one
};

// Goes on until this many did alike.
Side look(Subject& subject, const Approach& approach, int step) {
  constexpr std::size_t kAlike = 14;
  constexpr std::size_t kShown = 5;
  Side side;
  std::vector<PressOutcome>& found = side.presses;
  std::size_t alike = 0;
  const auto end = static_cast<int>(approach.held.size());
  for (int tick = approach.moment + (step < 0 ? -1 : 0);
       tick >= approach.earliest && tick <= end && alike < kAlike; tick += step) {
    found.push_back(press_in(subject, approach, tick));
    const bool same = found.size() > 1 && is_alike(found.back(), found[found.size() - 2]);
    alike = same ? alike + 1 : 1;
  }
  side.open = alike == kAlike;
  if (side.open) found.resize(found.size() - (kAlike - kShown));
  return side;
}

WindowStrip measure(Subject& subject, WindowStrip strip, const std::optional<Approach>& approach,
                    const char* why_not) {
  strip.tick_rate = subject.traits().tick_rate;
  if (!approach) {
    strip.why_not = why_not;
    return strip;
  }
  const Side before = look(subject, *approach, -1);
  const Side after = look(subject, *approach, 1);
  strip.first = -static_cast<int>(before.presses.size());
  strip.presses.assign(before.presses.rbegin(), before.presses.rend());
  strip.presses.insert(strip.presses.end(), after.presses.begin(), after.presses.end());
  strip.open_before = before.open;
  strip.open_after = after.open;
  return strip;
}

bool is_same_height(double a, double b) {
  constexpr double kSameHeight = 1e-9;  // u
  return std::abs(a - b) < kSameHeight;
}

bool is_alike(const ReleaseOutcome& a, const ReleaseOutcome& b) {
  return a.effect == b.effect && (a.waited > 0) == (b.waited > 0);
}

// The ticks between releasing and the first tick of the rise that is not as if the button were
// held on; nothing if there is none.
std::optional<int> ticks_to_cut(const Trace& full, const Trace& shorter) {
  std::size_t released = 0;
  const std::size_t most = std::min(full.samples.size(), shorter.samples.size());
  for (std::size_t i = 1; i < most; ++i) {
    const Sample& on = full.samples[i];
    const Sample& now = shorter.samples[i];
    if (released == 0 && on.held.jump && !now.held.jump) released = i;
    if (released == 0) continue;
    if (!(on.feet == now.feet && on.velocity == now.velocity))
      return static_cast<int>(i - released);
    if (!on.grounded && !(on.velocity.y > 0)) break;
  }
  return std::nullopt;
}

// Which of the jumps of a strip were cut, and when.
void report_cuts(Subject& subject, ReleaseStrip& strip) {
  const auto full = record_standing_jump(subject, kHeldThroughout);
  if (!full) return;
  for (std::size_t i = 0; i < strip.releases.size(); ++i) {
    ReleaseOutcome& release = strip.releases[i];
    release.effect = ReleaseEffect::nothing;
    const auto jump = record_standing_jump(subject, strip.held_for(i));
    if (!jump) continue;
    const auto waited = ticks_to_cut(full->trace, jump->trace);
    if (!waited) continue;
    release.effect = ReleaseEffect::cuts;
    release.waited = *waited;
  }
}

}  // namespace

std::vector<WindowStretch> stretches_of(const WindowStrip& strip) {
  std::vector<WindowStretch> stretches;
  for (std::size_t i = 0; i < strip.presses.size(); ++i) {
    const PressOutcome& press = strip.presses[i];
    const int tick = strip.first + static_cast<int>(i);
    if (i > 0 && is_alike(press, strip.presses[i - 1])) {
      stretches.back().last = tick;
    } else {
      stretches.push_back({tick, tick, press.jump, 0});
    }
    int& longest = stretches.back().longest_wait;
    longest = std::max(longest, press.waited);
  }
  return stretches;
}

std::vector<WindowStrip> measure_windows(Subject& subject) {
  return {measure(subject, {"edge", "after the tick in which the ground ended"}, walk_off(subject),
                  "it does not run off a ledge"),
          measure(subject, {"landing", "after the tick of the landing"}, come_down(subject),
                  "it does not jump and land"),
          measure(subject, {"wall met", "after the tick in which it meets a wall"},
                  fall_to_wall(subject, false), "it meets no wall"),
          measure(subject, {"wall left", "after the tick in which it turns away from a wall"},
                  fall_to_wall(subject, true), "it meets no wall")};
}

std::string_view name_of(ReleaseEffect effect) noexcept {
  switch (effect) {
    case ReleaseEffect::cuts: return "cuts";
    case ReleaseEffect::jumps: return "jumps";
    case ReleaseEffect::nothing: break;
  }
  return "nothing";
}

bool ReleaseStretch::is_level() const { return is_same_height(first_height, last_height); }

std::vector<ReleaseStretch> stretches_of(const ReleaseStrip& strip) {
  std::vector<ReleaseStretch> stretches;
  const auto begin = [&](std::size_t i) {
    const ReleaseOutcome& one = strip.releases[i];
    const int held = strip.held_for(i);
    const double step = i == 0 ? 0 : std::abs(one.height - strip.releases[i - 1].height);
    stretches.push_back({held, held, one.effect, one.waited, one.height, one.height, step});
  };
  for (std::size_t i = 0; i < strip.releases.size(); ++i) {
    const ReleaseOutcome& now = strip.releases[i];
    if (i == 0 || !is_alike(now, strip.releases[i - 1])) {
      begin(i);
      continue;
    }
    const bool level = is_same_height(now.height, strip.releases[i - 1].height);
    ReleaseStretch& stretch = stretches.back();
    const bool single = stretch.first == stretch.last;
    if (!single && level != stretch.is_level()) {
      if (level) {  // what the heights grew up to is the first that is level
        stretch.last -= strip.rung;
        stretch.last_height = strip.releases[i - 2].height;
        begin(i - 1);
      } else {
        begin(i);
        continue;
      }
    }
    ReleaseStretch& longer = stretches.back();
    longer.last = strip.held_for(i);
    longer.largest_step = std::max(longer.largest_step, std::abs(now.height - longer.last_height));
    longer.last_height = now.height;
    longer.longest_wait = std::max(longer.longest_wait, now.waited);
  }
  return stretches;
}

ReleaseStrip measure_releases(Subject& subject) {
  ReleaseStrip strip;
  strip.tick_rate = subject.traits().tick_rate;
  // Whoever charges leaves the ground on release.
  for (const std::string_view drill : {"charge", "hold_heights"}) {
    for (const DrillReport& report : run_drills(subject, {std::string(drill)})) {
      strip.why_not = report.facts.empty() ? report.skipped : report.facts.front().why_not;
      for (const Series& series : report.series) {
        strip.rung = series.step;
        for (const double height : series.values) {
          strip.releases.push_back({ReleaseEffect::jumps, 0, height});
        }
      }
    }
    if (strip.releases.empty()) continue;
    strip.why_not.clear();
    if (drill == "hold_heights") report_cuts(subject, strip);
    break;
  }
  return strip;
}

WindowsOf windows_of(Subject& subject, std::string name) {
  return {std::move(name), measure_windows(subject), measure_releases(subject)};
}

}  // namespace bushbaby
