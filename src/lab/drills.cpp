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

constexpr Controls kNothing{};
constexpr Controls kRight{127, 0, false, false};

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

std::vector<Fact> facts_of(const Drill& drill, std::initializer_list<double> values) {
  assert(values.size() == drill.facts.size());
  std::vector<Fact> facts;
  const double* value = values.begin();
  for (const FactInfo& info : drill.facts) facts.push_back({&info, *value++, ""});
  return facts;
}

std::vector<Fact> no_facts(const Drill& drill, const std::string& why_not) {
  std::vector<Fact> facts;
  for (const FactInfo& info : drill.facts) facts.push_back({&info, std::nullopt, why_not});
  return facts;
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
    constexpr int kPatience = 8;  // ticks in which a press must have made it leave the ground
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

std::vector<Fact> stand_jump(Subject& subject, const Drill& drill) {
  const auto jump = record_standing_jump(subject, kHeldThroughout);
  if (!jump) return no_facts(drill, "it does not jump and land");
  const Arc& arc = jump->arc;
  return facts_of(
      drill, {arc.height(), arc.rise_time(), arc.air_time(), arc.launch_speed, arc.landing_speed});
}

std::vector<Fact> tap_jump(Subject& subject, const Drill& drill) {
  const auto jump = record_standing_jump(subject, 1);
  if (!jump) return no_facts(drill, "it does not jump and land");
  return facts_of(drill, {jump->arc.height(), jump->arc.rise_time(), jump->arc.air_time()});
}

std::vector<Fact> running_jump(Subject& subject, const Drill& drill) {
  const auto jump = record_running_jump(subject, kHeldThroughout);
  if (!jump) return no_facts(drill, "it does not run, jump and land");
  const Arc& arc = jump->arc;
  return facts_of(drill, {arc.distance(), arc.height(), arc.air_time(),
                          arc.air_time() > 0 ? arc.distance() / arc.air_time() : 0});
}

std::vector<Fact> run_up(Subject& subject, const Drill& drill) {
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

std::vector<Fact> stop(Subject& subject, const Drill& drill) {
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

std::vector<Fact> impact(Subject& subject, const Drill& drill) {
  // First without the wall, to learn how much room a run-up takes.
  double run_up_distance = 0;
  {
    if (!prepare(subject, floor_stage())) return no_facts(drill, "it cannot stand on a floor");
    Rehearsal rehearsal(subject);
    rehearsal.settle();
    const double start = rehearsal.now().feet.x;
    if (!rehearsal.run_up()) return no_facts(drill, "it does not run");
    run_up_distance = rehearsal.now().feet.x - start;
  }
  const double half_width = subject.traits().body_width / 2;
  constexpr double kRoom = 1.23;  // no whole number of anything
  const Stage stage = wall_stage(run_up_distance + half_width + kRoom);
  if (!prepare(subject, stage)) return no_facts(drill, "it cannot be put before a wall");
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const bool arrives =
      rehearsal.hold_until(kRight, kRunSeconds, [&](const Sample& before, const Sample& sample) {
        return before.feet.x > run_up_distance && sample.velocity.x < before.velocity.x;
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
        {"stand_jump.landing_speed", D::speed, "Speed into the floor at landing."}},
       stand_jump},
      {"tap_jump",
       "From rest, jump and hold the button for one tick.",
       Terrain::floor,
       {{"tap_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"tap_jump.apex_time", D::time, "Take-off to the highest place."},
        {"tap_jump.air_time", D::time, "Take-off to landing."}},
       tap_jump},
      {"running_jump",
       "At full run, jump and hold button and direction until landing.",
       Terrain::floor,
       {{"running_jump.distance", D::length, "Way along the floor, take-off to landing."},
        {"running_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"running_jump.air_time", D::time, "Take-off to landing."},
        {"running_jump.mean_speed", D::speed, "The distance over the air time."}},
       running_jump},
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
    report.facts = drill.run(subject, drill);
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
