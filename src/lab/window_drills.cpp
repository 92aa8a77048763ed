// The drills that measure windows, by trying every tick.
#include <algorithm>
#include <utility>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby::detail {
namespace {

// A window that was looked for, in ticks.
struct Window {
  int ticks = 0;
  bool or_more = false;  // it goes on where looking was given up
};

// The longest delay, in ticks from 1 on, at which `works` holds, all shorter ones included. Tries
// every tick, some beyond the last that works, and no more than `most`. Nothing if there is a gap.
template <class Works>
std::optional<Window> measure_window(int most, const Works& works) {
  constexpr int kBeyond = 8;
  Window window;
  for (int delay = 1; delay <= most && delay <= window.ticks + kBeyond; ++delay) {
    if (!works(delay)) continue;
    if (delay != window.ticks + 1) return std::nullopt;
    window.ticks = delay;
  }
  window.or_more = window.ticks == most;
  return window;
}

// Whether the events of a subject that gives them say that it jumped in the air after that tick.
bool says_in_air(const Trace& trace, std::int64_t tick) {
  return std::any_of(trace.events.begin(), trace.events.end(), [tick](const Event& event) {
    return event.kind == EventKind::jumped && event.tick > tick &&
           static_cast<JumpKind>(event.detail) == JumpKind::air;
  });
}

// The facts of a window: in ticks, in ms, and as a length.
Measured window_facts(const Drill& drill, const Window& window, double tick_rate, double length) {
  Measured measured =
      facts_of(drill, {static_cast<double>(window.ticks), 1000 * window.ticks / tick_rate, length});
  for (Fact& fact : measured.facts) fact.or_more = window.or_more;
  return measured;
}

}  // namespace

Measured coyote(Subject& subject, const Drill& drill) {
  const auto room = run_up_room(subject);
  if (!room) return no_facts(drill, "it does not run");
  const double size = size_of(subject);
  const Stage stage = ledge_stage(*room + kRoom * size, kOutOfReach * size, size);
  const SubjectTraits traits = subject.traits();
  const int air_jumps = count_air_jumps(subject);
  const bool endless = air_jumps == kManyJumps;
  if (endless && !traits.gives_events) {
    return no_facts(drill, "its jumps in the air never end, and it gives no events");
  }
  double past_edge = 0;
  bool walks_off = true;
  const auto window = measure_window(longest_window(traits.tick_rate), [&](int delay) {
    if (!prepare(subject, stage)) return false;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    walks_off = walks_off && rehearsal.hold_until(
                                 kRight, kRunSeconds,
                                 [](const Sample&, const Sample& now) { return !now.grounded; });
    for (int i = 1; i < delay; ++i) rehearsal.advance(kRight);
    const Sample before = rehearsal.now();
    for (int i = 0; i < kPatience && !(rehearsal.now().feet.y > before.feet.y); ++i) {
      rehearsal.advance(kRightJump);
    }
    const bool jumped = rehearsal.now().feet.y > before.feet.y;
    if (!jumped) return false;
    // Jumps in the air must not pass for one in the time of grace: that one leaves them all.
    if (traits.gives_events) {
      if (says_in_air(rehearsal.trace(), before.tick)) return false;
    } else if (air_jumps > 0 && count_jumps(rehearsal, kRight, air_jumps) < air_jumps) {
      return false;
    }
    past_edge = before.feet.x - traits.body_width / 2 - stage.mark;
    return true;
  });
  if (!walks_off) return no_facts(drill, "it does not run off a ledge");
  if (!window) return no_facts(drill, "later presses jump where earlier ones do not");
  return window_facts(drill, *window, traits.tick_rate, past_edge);
}

namespace {

// A fall whose landing an early press is for: what is held in each of its ticks, from the moment at
// which the subject stands settled on the stage, up to the first tick that ends on the ground.
struct Approach {
  Stage stage;
  std::vector<Controls> held;
  int earliest = 0;  // a press may come in this tick or later
};

// Drives a settled subject until it has left the ground and stands again.
template <class Choose>
std::optional<Approach> record_approach(Subject& subject, Stage stage, Choose&& choose) {
  Approach approach{std::move(stage), {}, 0};
  if (!prepare(subject, approach.stage)) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  bool left = false;
  const auto most = static_cast<std::size_t>(kAirSeconds * rehearsal.tick_rate());
  while (approach.held.size() < most) {
    approach.held.push_back(choose(left, rehearsal.now()));
    rehearsal.advance(approach.held.back());
    if (left && rehearsal.now().grounded) return approach;
    left = left || !rehearsal.now().grounded;
    // At least one tick must lie between the button's going up and its going down again.
    const bool down = approach.held.back().jump || !left;
    if (down) approach.earliest = static_cast<int>(approach.held.size()) + 1;
  }
  return std::nullopt;
}

struct BufferPress {
  Window window;      // open as well if the approach was too short to see its end
  double height = 0;  // of the feet over the landing, at the earliest press that jumps
};

// What a jump with its jumps in the air spent holds: the button until the apex, then, while there
// are jumps left, presses on every other tick of the fall. A body that charges is released at once.
class Spender {
 public:
  explicit Spender(int air_jumps) : left_(air_jumps) {}

  Controls operator()(bool left_ground, const Sample& now) {
    const bool rising = now.velocity.y > 0;
    if (down_ && left_ground && !holding_ && rose(before_, now)) --left_;
    before_ = now;
    if (!left_ground) {
      holding_ = !pressed_;
      pressed_ = true;
    } else if (!rising) {
      holding_ = false;
    }
    down_ = holding_ || (left_ground && left_ > 0 && !rising && !down_);
    return down_ ? kJump : kNothing;
  }

 private:
  int left_;
  bool pressed_ = false;
  bool holding_ = false;  // still in the jump from the ground
  bool down_ = false;
  Sample before_;
};

std::optional<BufferPress> measure_buffer_press(Subject& subject, const Approach& approach) {
  const auto landing = static_cast<int>(approach.held.size());
  const int most =
      std::min(landing - approach.earliest, longest_window(subject.traits().tick_rate));
  BufferPress result;
  int widest = 0;
  const auto window = measure_window(most, [&](int early) {
    if (!prepare(subject, approach.stage)) return false;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    double pressed_at = 0;
    int lead = early;
    for (int tick = 0; tick < landing; ++tick) {
      Controls held = approach.held[static_cast<std::size_t>(tick)];
      if (tick == landing - early) {
        pressed_at = rehearsal.now().feet.y;
        held.jump = true;
      }
      rehearsal.advance(held);
    }
    // A press may have turned the fall into a glide, until it was released: it lands a little
    // later.
    for (int i = 0; i < 2 && !rehearsal.now().grounded; ++i, ++lead) rehearsal.advance(kNothing);
    const Sample landed = rehearsal.now();
    if (!landed.grounded) return false;  // the press did something in the air already
    for (int i = 0; i < kPatience && !(rehearsal.now().feet.y > landed.feet.y); ++i) {
      rehearsal.advance(kNothing);
    }
    const bool jumped = rehearsal.now().feet.y > landed.feet.y;
    if (jumped) {
      result.height = pressed_at - landed.feet.y;
      widest = lead;
    }
    return jumped;
  });
  if (!window) return std::nullopt;
  result.window = {widest, window->or_more};
  return result;
}

}  // namespace

Measured buffer(Subject& subject, const Drill& drill) {
  // The fall of a full jump, if that is long enough; else a long one from a ledge.
  const int air_jumps = count_air_jumps(subject);
  if (air_jumps == kManyJumps) return no_facts(drill, "its jumps in the air never end");
  Spender spender(air_jumps);
  const auto jump = record_approach(subject, floor_stage(size_of(subject)), spender);
  if (!jump) return no_facts(drill, "it does not jump and land");
  auto result = measure_buffer_press(subject, *jump);
  // With jumps in the air a fall from a ledge would meet them again.
  const bool may_fall = air_jumps == 0 && subject.can_stand_on(Terrain::ledge);
  const double rate = subject.traits().tick_rate;
  const double size = size_of(subject);
  const auto is_open = [&] {
    return result && result->window.or_more && result->window.ticks < longest_window(rate);
  };
  for (const double depth : {14.0, 140.0, 1400.0, 14000.0}) {  // body heights
    if (!may_fall || !is_open()) break;
    const auto room = run_up_room(subject);
    if (!room) break;
    const auto fall =
        record_approach(subject, ledge_stage(*room + kRoom * size, depth * size, size),
                        [](bool, const Sample&) { return kRight; });
    if (!fall) continue;
    // A press soon after the edge may jump in the time of grace: then the ledge reports less.
    const auto deeper = measure_buffer_press(subject, *fall);
    if (deeper && deeper->window.ticks >= result->window.ticks) result = deeper;
  }
  if (!result) return no_facts(drill, "earlier presses jump where later ones do not");
  return window_facts(drill, result->window, rate, result->height);
}

}  // namespace bushbaby::detail
