#include "bushbaby/lab/drills.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <initializer_list>
#include <utility>

namespace bushbaby {
namespace {

// What a drill waits for comes within these times or not at all.
constexpr double kSettleSeconds = 5;
constexpr double kRunSeconds = 60;
constexpr double kAirSeconds = 60;
constexpr int kPatience = 8;  // ticks in which a press must have made it leave the ground

constexpr Controls kNothing{};
constexpr Controls kLeft{-127, 0, false, false};
constexpr Controls kRight{127, 0, false, false};
constexpr Controls kJump{0, 0, true, false};
constexpr Controls kRightJump{127, 0, true, false};

// A subject on a stage, driven until something holds.
class Rehearsal {
 public:
  explicit Rehearsal(Subject& subject)
      : recorder_(subject), tick_rate_(subject.traits().tick_rate) {}

  [[nodiscard]] const Sample& now() const { return recorder_.now(); }
  [[nodiscard]] Trace trace() const { return recorder_.trace(); }
  [[nodiscard]] double tick_rate() const { return tick_rate_; }

  void advance(const Controls& controls) { recorder_.advance(controls); }

  // Holds `controls` until `done(before, now)`; false if that does not come in time.
  template <class Done>
  bool hold_until(const Controls& controls, double seconds, const Done& done) {
    const auto ticks = static_cast<std::int64_t>(std::ceil(seconds * tick_rate_));
    for (std::int64_t i = 0; i < ticks; ++i) {
      const Sample before = now();
      advance(controls);
      if (done(before, now())) return true;
    }
    return false;
  }

  // Waits until the subject stands still.
  bool settle() {
    return hold_until(kNothing, kSettleSeconds, [](const Sample& before, const Sample& sample) {
      return sample.grounded && sample.feet == before.feet;
    });
  }

  // Runs to the right until the speed no longer grows; false if it does not run at all.
  bool run_up() {
    hold_until(kRight, kRunSeconds, [](const Sample& before, const Sample& sample) {
      return sample.velocity.x > 0 && sample.velocity.x == before.velocity.x;
    });
    return now().velocity.x > 0;
  }

 private:
  Recorder recorder_;
  double tick_rate_;
};

bool prepare(Subject& subject, const Stage& stage) {
  return subject.can_stand_on(stage.terrain) && subject.place(stage);
}

Measured facts_of(const Drill& drill, std::initializer_list<double> values) {
  assert(values.size() == drill.facts.size());
  Measured measured;
  const double* value = values.begin();
  for (const FactInfo& info : drill.facts) measured.facts.push_back({&info, *value++, ""});
  return measured;
}

Measured no_facts(const Drill& drill, const std::string& why_not) {
  Measured measured;
  for (const FactInfo& info : drill.facts) measured.facts.push_back({&info, std::nullopt, why_not});
  return measured;
}

// Presses jump from the state now, `held` in every tick, the button for `held_ticks` of them, and
// records until the landing.
std::optional<RecordedJump> record_jump(Rehearsal& rehearsal, Controls held, int held_ticks) {
  const std::int64_t start = rehearsal.now().tick;
  bool left = false;
  const auto controls = [&] {
    const std::int64_t done = rehearsal.now().tick - start;
    held.jump = held_ticks == kHeldThroughout || done < held_ticks;
    return held;
  };
  const auto most = static_cast<std::int64_t>(kAirSeconds * rehearsal.tick_rate());
  for (std::int64_t i = 0; i < most; ++i) {
    rehearsal.advance(controls());
    const bool grounded = rehearsal.now().grounded;
    if (left && grounded) break;
    left = left || !grounded;
    if (!left && i > kPatience) return std::nullopt;
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

// ---- the drills ---------------------------------------------------------------------------------

// Ticks that pass between the press of a jump and the tick in which the feet rise.
double response_ticks(const RecordedJump& jump) {
  const auto& samples = jump.trace.samples;
  std::size_t pressed = 0;
  while (pressed < samples.size() && !samples[pressed].held.jump) ++pressed;
  std::size_t risen = pressed;
  while (risen < samples.size() && !(samples[risen].feet.y > jump.arc.take_off.y)) ++risen;
  return static_cast<double>(risen - pressed);
}

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

Measured tap_jump(Subject& subject, const Drill& drill) {
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

// Room that is left beyond a run-up; no whole number of anything.
constexpr double kRoom = 1.23;

// How far a run-up takes the subject from its start, on a floor; nothing if it does not run.
std::optional<double> run_up_room(Subject& subject) {
  if (!prepare(subject, floor_stage())) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const double start = rehearsal.now().feet.x;
  if (!rehearsal.run_up()) return std::nullopt;
  return rehearsal.now().feet.x - start;
}

Measured hold_ladder(Subject& subject, const Drill& drill) {
  const auto full = record_standing_jump(subject, kHeldThroughout);
  if (!full) return no_facts(drill, "it does not jump and land");
  const auto rungs = static_cast<int>(std::ceil(full->arc.rise_time() * full->trace.tick_rate));
  Series heights{"hold_ladder.height", "ticks held", Dimension::length, {}};
  double largest_step = 0;
  double distinct = 0;
  for (int held = 1; held <= rungs; ++held) {
    const auto jump = record_standing_jump(subject, held);
    if (!jump) return no_facts(drill, "it does not jump and land when the button is let go");
    const double height = jump->arc.height();
    constexpr double kSame = 1e-6;
    const double step = heights.values.empty() ? 1 : std::abs(height - heights.values.back());
    if (step > kSame) distinct += 1;
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
  constexpr double kDepth = 5;
  if (!prepare(subject, ledge_stage(*room + kRoom, kDepth))) {
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

// The longest delay, in ticks from 1 on, at which `works` holds, all shorter ones included. Tries
// every tick, up to a second's worth, and some beyond the last that works.
template <class Works>
std::optional<int> measure_window(double tick_rate, int most, const Works& works) {
  constexpr int kBeyond = 8;
  const int limit = std::min(most, static_cast<int>(tick_rate));
  int window = 0;
  for (int delay = 1; delay <= limit && delay <= window + kBeyond; ++delay) {
    if (!works(delay)) continue;
    if (delay != window + 1) return std::nullopt;  // a gap: no window at all
    window = delay;
  }
  return window;
}

Measured late_press(Subject& subject, const Drill& drill) {
  const auto room = run_up_room(subject);
  if (!room) return no_facts(drill, "it does not run");
  constexpr double kDepth = 200;  // no landing within the time that is tried
  const Stage stage = ledge_stage(*room + kRoom, kDepth);
  const double half_width = subject.traits().body_width / 2;
  const double rate = subject.traits().tick_rate;
  double past_edge = 0;
  bool walks_off = true;
  const auto window = measure_window(rate, static_cast<int>(rate), [&](int delay) {
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
    if (jumped) past_edge = before.feet.x - half_width - stage.mark;
    return jumped;
  });
  if (!walks_off) return no_facts(drill, "it does not run off a ledge");
  if (!window) return no_facts(drill, "later presses jump where earlier ones do not");
  return facts_of(drill, {static_cast<double>(*window), 1000 * *window / rate, past_edge});
}

// A fall whose landing an early press is for: what is held in each of its ticks, from the moment at
// which the subject stands settled on the stage, up to the first tick that ends on the ground.
struct Approach {
  Stage stage;
  std::vector<Controls> held;
  int earliest = 0;  // a press may come in this tick or later
};

// Drives a settled subject until it has left the ground and stands again.
template <class Choose>
std::optional<Approach> record_approach(Subject& subject, Stage stage, const Choose& choose) {
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

struct EarlyPress {
  int window = 0;
  double height = 0;       // of the feet over the landing, at the earliest press that jumps
  bool truncated = false;  // the approach was too short to see where the window ends
};

std::optional<EarlyPress> measure_early_press(Subject& subject, const Approach& approach) {
  const auto landing = static_cast<int>(approach.held.size());
  const int most = landing - approach.earliest;
  const double rate = subject.traits().tick_rate;
  EarlyPress result;
  const auto window = measure_window(rate, most, [&](int early) {
    if (!prepare(subject, approach.stage)) return false;
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    double pressed_at = 0;
    for (int tick = 0; tick < landing; ++tick) {
      Controls held = approach.held[static_cast<std::size_t>(tick)];
      if (tick == landing - early) {
        pressed_at = rehearsal.now().feet.y;
        held.jump = true;
      }
      rehearsal.advance(held);
    }
    const Sample landed = rehearsal.now();
    if (!landed.grounded) return false;  // the press did something in the air already
    for (int i = 0; i < kPatience && !(rehearsal.now().feet.y > landed.feet.y); ++i) {
      rehearsal.advance(kNothing);
    }
    const bool jumped = rehearsal.now().feet.y > landed.feet.y;
    if (jumped) result.height = pressed_at - landed.feet.y;
    return jumped;
  });
  if (!window) return std::nullopt;
  result.window = *window;
  result.truncated = *window == most;
  return result;
}

Measured early_press(Subject& subject, const Drill& drill) {
  // The fall of a full jump, if that is long enough; else a long one from a ledge.
  const auto jump = record_approach(subject, floor_stage(), [](bool left, const Sample& now) {
    return !left || now.velocity.y > 0 ? kJump : kNothing;
  });
  if (!jump) return no_facts(drill, "it does not jump and land");
  auto result = measure_early_press(subject, *jump);
  const auto room = result && result->truncated && subject.can_stand_on(Terrain::ledge)
                        ? run_up_room(subject)
                        : std::nullopt;
  if (room) {
    constexpr double kDepth = 20;
    const auto fall = record_approach(subject, ledge_stage(*room + kRoom, kDepth),
                                      [](bool, const Sample&) { return kRight; });
    if (fall) result = measure_early_press(subject, *fall);
  }
  if (!result) return no_facts(drill, "earlier presses jump where later ones do not");
  return facts_of(drill, {static_cast<double>(result->window),
                          1000 * result->window / subject.traits().tick_rate, result->height});
}

Measured impact(Subject& subject, const Drill& drill) {
  const auto run_up_distance = run_up_room(subject);
  if (!run_up_distance) return no_facts(drill, "it does not run");
  const double half_width = subject.traits().body_width / 2;
  const Stage stage = wall_stage(*run_up_distance + half_width + kRoom);
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
  return facts_of(drill, {gap, speed, rebound});
}

std::vector<Drill> make_table() {
  using D = Dimension;
  return {
      {"stand_jump",
       "From rest, jump and hold the button until landing.",
       Terrain::floor,
       {{"stand_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"stand_jump.apex_time", D::time, "Take-off to the highest place."},
        {"stand_jump.air_time", D::time, "Take-off to landing."},
        {"stand_jump.launch_speed", D::speed, "Speed along up right after launch."},
        {"stand_jump.landing_speed", D::speed, "Speed into the floor at landing."},
        {"stand_jump.response", D::ticks,
         "From the tick of the press to the one in which the feet rise; 0 is the same."}},
       stand_jump,
       record_full_jump},
      {"tap_jump",
       "From rest, jump and hold the button for one tick.",
       Terrain::floor,
       {{"tap_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"tap_jump.apex_time", D::time, "Take-off to the highest place."},
        {"tap_jump.air_time", D::time, "Take-off to landing."}},
       tap_jump,
       record_tap},
      {"running_jump",
       "At full run, jump and hold button and direction until landing.",
       Terrain::floor,
       {{"running_jump.distance", D::length, "Way along the floor, take-off to landing."},
        {"running_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"running_jump.air_time", D::time, "Take-off to landing."},
        {"running_jump.mean_speed", D::speed, "The distance over the air time."}},
       running_jump,
       record_leap},
      {"run_up",
       "From rest, hold a direction until the speed no longer changes.",
       Terrain::floor,
       {{"run_up.time", D::time, "From the first held tick until top speed is reached."},
        {"run_up.distance", D::length, "Way covered in that time."},
        {"run_up.top_speed", D::speed, "The speed that no longer changes."}},
       run_up},
      {"stop",
       "At full run, let go of everything.",
       Terrain::floor,
       {{"stop.time", D::time, "From the first free tick until the speed is 0."},
        {"stop.distance", D::length, "Way covered in that time."}},
       stop},
      {"turn",
       "At full run, hold the other direction until the speed no longer changes.",
       Terrain::floor,
       {{"turn.time", D::time, "Until full speed the other way, in whole ticks."},
        {"turn.reversal_time", D::time, "Until the speed points the other way, in whole ticks."},
        {"turn.overshoot", D::length, "How far the farthest sample lies beyond the start."}},
       turn},
      {"hold_ladder",
       "From rest, jump once for each number of ticks that the button can be held while rising.",
       Terrain::floor,
       {{"hold_ladder.lowest", D::length, "The lowest of the heights."},
        {"hold_ladder.highest", D::length, "The highest of the heights."},
        {"hold_ladder.distinct", D::number,
         "How many heights differ from their neighbour's by more than 1e-6 u."},
        {"hold_ladder.largest_step", D::length, "The most that one tick of holding changes."}},
       hold_ladder},
      {"drop",
       "Run off a ledge 5 u above a floor and keep holding.",
       Terrain::ledge,
       {{"drop.time", D::time, "From losing the ground to landing."},
        {"drop.landing_speed", D::speed, "Speed into the floor at landing."},
        {"drop.distance", D::length, "Way covered in that time."}},
       drop},
      {"late_press",
       "Run off a ledge and press jump after it, once for each delay.",
       Terrain::ledge,
       {{"late_press.window_ticks", D::ticks,
         "The latest tick in the air, counted from 1, in which a press still jumps."},
        {"late_press.window_ms", D::milliseconds, "The same in ms."},
        {"late_press.past_edge", D::length,
         "How far the body's rear is past the edge at that press; 0 without a window."}},
       late_press},
      {"early_press",
       "Jump, let go at the apex, and press again before landing, once for each lead; from a ledge "
       "20 u high if the jump is too short to tell.",
       Terrain::floor,
       {{"early_press.window_ticks", D::ticks,
         "The most ticks before the first one on the ground at which a press still jumps there."},
        {"early_press.window_ms", D::milliseconds, "The same in ms."},
        {"early_press.height", D::length,
         "How high the feet are above the floor at that press; 0 without a window."}},
       early_press},
      {"impact",
       "Run into a high wall at full speed and keep holding.",
       Terrain::wall,
       {{"impact.gap", D::length, "Between body and wall on the tick of the impact."},
        {"impact.speed", D::speed, "Run speed on the tick before the impact."},
        {"impact.rebound", D::speed, "Fastest speed away from the wall in the 10 ticks after it."}},
       impact},
  };
}

}  // namespace

const std::vector<Drill>& drills() {
  static const std::vector<Drill> table = make_table();
  return table;
}

const Drill* find_drill(std::string_view name) {
  const auto& table = drills();
  const auto at = std::find_if(table.begin(), table.end(),
                               [name](const Drill& drill) { return drill.name == name; });
  return at == table.end() ? nullptr : &*at;
}

DrillReport run_drill(const Drill& drill, Subject& subject) {
  DrillReport report;
  report.drill = &drill;
  if (!subject.can_stand_on(drill.needs)) {
    report.skipped = "the subject cannot be put on a " + std::string(name_of(drill.needs));
  } else if (!prepare(subject, floor_stage())) {
    report.skipped = "the subject could not be placed";
  } else {
    Measured measured = drill.run(subject, drill);
    report.facts = std::move(measured.facts);
    report.series = std::move(measured.series);
  }
  return report;
}

std::vector<DrillReport> run_drills(Subject& subject, const std::vector<std::string>& only) {
  std::vector<DrillReport> reports;
  for (const Drill& drill : drills()) {
    const bool wanted =
        only.empty() || std::find(only.begin(), only.end(), drill.name) != only.end();
    if (wanted) reports.push_back(run_drill(drill, subject));
  }
  return reports;
}

const Drill* drill_of_fact(std::string_view fact) {
  for (const Drill& drill : drills()) {
    for (const FactInfo& info : drill.facts) {
      if (info.name == fact) return &drill;
    }
  }
  return nullptr;
}

std::optional<double> value_of(const std::vector<DrillReport>& reports, std::string_view fact) {
  for (const DrillReport& report : reports) {
    for (const Fact& measured : report.facts) {
      if (measured.info->name == fact) return measured.value;
    }
  }
  return std::nullopt;
}

std::optional<RecordedJump> record_standing_jump(Subject& subject, int held_ticks) {
  if (!prepare(subject, floor_stage())) return std::nullopt;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle()) return std::nullopt;
  return record_jump(rehearsal, kNothing, held_ticks);
}

std::optional<RecordedJump> record_running_jump(Subject& subject, int held_ticks) {
  if (!prepare(subject, floor_stage())) return std::nullopt;
  Rehearsal rehearsal(subject);
  if (!rehearsal.settle() || !rehearsal.run_up()) return std::nullopt;
  return record_jump(rehearsal, kRight, held_ticks);
}

}  // namespace bushbaby
