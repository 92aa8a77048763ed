// An account of swimming, written from docs/model.md ("Fluids") and apart from the core: which
// fluid counts, who swims, what a press does, and the speeds of a tick. Held against random play
// in pools of all kinds, wherever nothing is met on the way, in all loops.
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "bushbaby/core/tuning/zones.h"

#include "situation.h"

namespace bushbaby {
namespace {

using test::Situation;

// Pools that may lie over one another, of other gravity and run speed than the air's.
void fill_pools(Situation& situation) {
  situation.level.solids.resize(1 + std::min<std::size_t>(3, situation.level.solids.size() - 1));
  for (Solid& solid : situation.level.solids) {
    solid.traits = {};
    solid.blocks = Blocks::everything;
  }
  for (std::uint64_t left = 1 + situation.random() % 4; left > 0; --left) {
    Zone pool;
    const Vec lo{situation.uniform(-30, 0), situation.uniform(-2, 4)};
    pool.box = {lo, lo + Vec{situation.uniform(3, 40), situation.uniform(1, 14)}};
    pool.priority = static_cast<int>(situation.random() % 2);
    pool.traits.contains = static_cast<Contains>(situation.random() % 3);
    pool.traits.exit_margin = situation.one_in(3) ? 0 : situation.uniform(0, 0.3);
    if (situation.one_in(3)) pool.traits.keep_vertical = situation.uniform(0, 1);
    if (situation.one_in(2)) {
      pool.overrides.push_back({"jump.gravity", true, situation.uniform(0.3, 2)});
    }
    if (situation.one_in(3)) {
      pool.overrides.push_back({"run.top_speed", true, situation.uniform(0.2, 1.5)});
    }
    pool.fluid = situation.random_fluid();
    situation.level.zones.push_back(pool);
  }
  // A dry place that may lie over them, with a gravity of its own.
  if (situation.one_in(2)) return;
  Zone dry = situation.level.zones[0];
  dry.fluid.reset();
  dry.box.hi += Vec{situation.uniform(-2, 10), situation.uniform(-0.5, 6)};
  dry.overrides = {{"jump.gravity", true, situation.uniform(0.3, 2)}};
  situation.level.zones.push_back(dry);
}

// The fluid of those zones: that of the highest priority, of one priority the last of the level.
const Fluid* fluid_of(const ZoneSet& zones, const Level& level) {
  const Fluid* fluid = nullptr;
  int priority = 0;
  for (const ZoneId id : zones) {
    if (id == kNoZone || !level.zones[id].fluid) continue;
    if (fluid == nullptr || level.zones[id].priority >= priority) {
      fluid = &*level.zones[id].fluid;
      priority = level.zones[id].priority;
    }
  }
  return fluid;
}

double part_of(std::int8_t held) { return held / 127.0; }
bool is_down(const Controls& held) { return held.y <= -64; }

// What the account keeps from tick to tick.
struct Kept {
  Ticks wait = 0;        // ticks until the next stroke
  bool leaping = false;  // a leap goes up
};

class Account {
 public:
  Account(const Situation& situation, const Rulebook& book) : situation_(situation), book_(book) {}

  // What a tick makes of a swimmer.
  struct Reported {
    bool swims = false;
    bool leaps = false;  // since an earlier tick, still in a fluid
    std::optional<JumpKind> jump;
    Vec velocity{0, 0};
    double climbs = 0;  // u vertically in the tick
  };

  [[nodiscard]] Reported predict(const Character& before, const Controls& held) {
    fluid_ = fluid_of(before.zones, situation_.level);
    const Fluid* fluid = fluid_;
    const Rules& r = book_.rules(before.rules);
    Reported reported;
    reported.velocity = before.velocity;
    reported.swims = fluid != nullptr && !before.grounded() && !kept_.leaping;
    reported.leaps = fluid != nullptr && !before.grounded() && kept_.leaping;
    if (reported.leaps) {
      reported.velocity.x = across(0, r, before, held, reported.velocity.x);
      reported.velocity.y =
          before.cut_heavy ? kTooFar : in_air(r, before.zones, reported.velocity.y);
    }
    if (!reported.swims) return reported;
    decide(*fluid, r, before, held, reported);
    const double rise = reported.velocity.y;
    const bool sustained = !reported.jump && before.sustain_left > 0 && held.jump;
    const bool full = reported.jump && !r.gravity_on_launch_tick;  // at its launch speed for a tick
    const double along = sustained || full                      ? rise
                         : reported.jump == JumpKind::exit_jump ? in_air(r, before.zones, rise)
                                                                : in_fluid(*fluid, r, rise, held);
    reported.climbs = way(r, rise, along);
    const double current = reported.jump == JumpKind::exit_jump ? 0 : fluid->current.x;
    reported.velocity = {across(current, r, before, held, reported.velocity.x), along};
    return reported;
  }

  void see(const Character& after, const Events& events) {
    kept_.wait = std::max<Ticks>(0, kept_.wait - 1);
    for (const Event& event : events) {
      switch (event.kind) {
        case EventKind::jumped: {
          const auto kind = static_cast<JumpKind>(event.detail);
          kept_.leaping = kind == JumpKind::exit_jump;
          if (kind == JumpKind::stroke) {
            kept_.wait = std::max<Ticks>(0, ticks_of(fluid_->stroke_every) - 1);
          }
          break;
        }
        case EventKind::dash_started:
        case EventKind::landed:
        case EventKind::fast_fell: kept_.leaping = false; break;
        default: break;
      }
    }
    if (!(after.velocity.y > 0)) kept_.leaping = false;
    // Another fluid's least time began when this one's did; nothing waits longer for it.
    if (kept_.wait == 0) return;
    const Ticks passed = fluid_ == nullptr ? 0 : ticks_of(fluid_->stroke_every) - kept_.wait;
    const Fluid* now = fluid_of(after.zones, situation_.level);
    const Ticks lasts = now == nullptr ? 0 : ticks_of(now->stroke_every);
    kept_.wait = std::clamp<Ticks>(lasts - passed, 0, kept_.wait);
  }

  [[nodiscard]] const Kept& kept() const { return kept_; }

 private:
  [[nodiscard]] Ticks ticks_of(const Duration& time) const {
    return static_cast<Ticks>(time.amount);  // the pools' are in ticks
  }

  void decide(const Fluid& fluid, const Rules& r, const Character& before, const Controls& held,
              Reported& reported) const {
    const bool pressed = held.jump && !before.controls.jump;
    const bool may = r.may_jump && (before.dash_left == 0 || r.dash_jump_out);
    if ((pressed || before.buffer_left > 0) && may) {
      if (before.coyote_left > 0) {
        reported.jump = JumpKind::ground;
        reported.velocity.y = std::max(reported.velocity.y, r.launch_speed);
      } else if (fluid.exit_jump > 0 && before.head_out) {
        reported.jump = JumpKind::exit_jump;
        const double own_gravity = book_.rules(0).rise_gravity;
        reported.velocity.y =
            std::max(reported.velocity.y,
                     launch_speed(fluid.exit_jump, own_gravity, situation_.tuning.jump.hang));
      } else if (fluid.stroke > 0 && kept_.wait == 0) {
        reported.jump = JumpKind::stroke;
        stroke(fluid, r, held, reported.velocity);
      }
    }
  }

  void stroke(const Fluid& fluid, const Rules& r, const Controls& held, Vec& velocity) const {
    Vec way{part_of(held.x), part_of(held.y)};
    const double size = std::hypot(way.x, way.y);
    if (size == 0) way = {0, 1};
    const double speed = launch_speed(fluid.stroke, r.rise_gravity, {}) / (size == 0 ? 1 : size);
    const auto give = [](double& now, double given) {
      if (given > 0) now = std::max(now, given);
      if (given < 0) now = std::min(now, given);
    };
    give(velocity.x, speed * way.x);
    give(velocity.y, speed * way.y);
  }

  // Of a jump of that height under that gravity, with that hang band.
  [[nodiscard]] double launch_speed(double height, double gravity, const Hang& hang) const {
    Tuning tuning = situation_.tuning;
    tuning.jump.apex_time.reset();
    tuning.jump.height = height;
    tuning.jump.gravity = gravity;
    tuning.jump.hang = hang;
    tuning.jump.sustain = {};
    return test::rules_of(tuning).launch_speed;
  }

  // The vertical speed after a tick in a fluid.
  static double in_fluid(const Fluid& fluid, const Rules& r, double rise, const Controls& held) {
    const double pull = fluid.buoyancy - r.rise_gravity;
    const bool dives = fluid.dive > 0 && is_down(held);
    if (fluid.drag == 0) return rise + pull * r.dt;
    const double goal = dives ? fluid.current.y - fluid.dive : fluid.current.y + pull / fluid.drag;
    return goal + (rise - goal) * std::exp(-fluid.drag * r.dt);
  }

  // The same of a leap, whose gravity is not that of its pool, while it rises.
  [[nodiscard]] double in_air(const Rules& r, const ZoneSet& zones, double rise) const {
    double gravity = book_.rules(0).rise_gravity;
    for (const ZoneId id : zones) {
      if (id == kNoZone || situation_.level.zones[id].fluid) continue;
      for (const Override& change : situation_.level.zones[id].overrides) {
        if (change.knob == "jump.gravity") gravity *= std::get<double>(change.value);
      }
    }
    const double band = r.hang.below_speed;
    double left = r.dt;
    if (r.integrator != Integrator::exact) {
      return rise - gravity * (rise < band ? r.hang.gravity : 1) * r.dt;
    }
    if (rise > band) {
      const double time = std::min(left, (rise - band) / gravity);
      rise -= gravity * time;
      left -= time;
    }
    if (left <= 0) return rise;
    const double slowed = rise - gravity * r.hang.gravity * left;
    return slowed > 0 ? slowed : kTooFar;  // past its apex: left to the account of the air
  }
  static constexpr double kTooFar = std::numeric_limits<double>::infinity();

  // How far it goes up at a steady rate.
  static double way(const Rules& r, double from, double to) {
    switch (r.integrator) {
      case Integrator::explicit_step: return from * r.dt;
      case Integrator::semi_implicit: return to * r.dt;
      case Integrator::trapezoidal:
      case Integrator::exact: break;
    }
    return (from + to) / 2 * r.dt;
  }

  // The speed across after a tick: the air's rates, over the current.
  static double across(double current, const Rules& r, const Character& before,
                       const Controls& held, double run) {
    if (before.steer_lock_left > 0) return run;
    const double over = run - current;
    const double target = part_of(held.x) * r.top_speed;
    const bool turns = over * target < 0;
    const double rate = turns                               ? r.air.rates.turn
                        : std::abs(target) > std::abs(over) ? r.air.rates.accelerate
                                                            : r.air.rates.brake;
    double now = over;
    double time = r.dt;
    if (turns && r.integrator == Integrator::exact) {
      const double to_rest = rate == 0 ? time : std::min(time, std::abs(over) / rate);
      now -= std::copysign(rate * to_rest, over);
      time -= to_rest;
      if (time <= 0) return current + now;
      now = std::copysign(std::min(std::abs(target), r.air.rates.accelerate * time), target);
      return current + now;
    }
    const double step = std::clamp(target - now, -rate * time, rate * time);
    return current + now + step;
  }

  const Situation& situation_;
  const Rulebook& book_;
  Kept kept_;
  const Fluid* fluid_ = nullptr;  // of the tick
};

// Whether a tick met something, or did what other accounts report.
bool is_left_to_others(const Character& before, const Character& after, const Events& events) {
  if (test::meets_or_dashes(events)) return true;
  for (const Event& event : events) {
    if (event.kind == EventKind::cut) return true;
  }
  return before.dash_left > 0 || before.wall != 0 || after.wall != 0 || after.grounded();
}

bool near(double a, double b) { return std::abs(a - b) <= 1e-7 * (1 + std::abs(b)); }

struct Counts {
  std::map<Integrator, std::int64_t> free;  // ticks whose speeds were predicted
  std::int64_t swum = 0, strokes = 0, leaps = 0, of_leaps = 0, after_leaps = 0, restored = 0,
               steps = 0;
};

// A tick that was predicted, as it came.
struct Tick {
  const Situation& situation;
  const Character& before;
  const Character& after;
  const Events& events;
  const Account::Reported& reported;
  std::optional<JumpKind> jump;
  bool crossed = false;
};

Tick seen(const Situation& situation, const Character& before, const Character& after,
          const Events& events, const Account::Reported& reported) {
  Tick tick{situation, before, after, events, reported, {}, false};
  for (const Event& event : events) {
    if (event.kind == EventKind::jumped) tick.jump = static_cast<JumpKind>(event.detail);
    tick.crossed |= event.kind == EventKind::entered || event.kind == EventKind::left;
  }
  return tick;
}

// Who swims at its end, when it may stroke again, and whether its head is out.
void expect_swimming_as_reported(const Tick& tick, const Kept& kept) {
  const Character& c = tick.after;
  const Level& level = tick.situation.level;
  const Fluid* fluid = fluid_of(c.zones, level);
  ASSERT_EQ(c.swims, fluid != nullptr && !c.grounded() && !kept.leaping);
  if (fluid == nullptr) return;
  ASSERT_EQ(c.stroke_left, kept.wait);
  const Vec head = c.feet + Vec{0, tick.situation.tuning.body.height};
  double deepest = -1;
  for (const Zone& pool : level.zones) {
    if (!pool.fluid) continue;
    deepest = std::max(deepest, std::min({head.x - pool.box.lo.x, pool.box.hi.x - head.x,
                                          head.y - pool.box.lo.y, pool.box.hi.y - head.y}));
  }
  if (std::abs(deepest) > 1e-9) {
    ASSERT_EQ(c.head_out, deepest < 0);
  }
}

void expect_press_as_reported(const Tick& tick) {
  ASSERT_EQ(tick.jump.has_value(), tick.reported.jump.has_value());
  if (tick.jump) {
    ASSERT_EQ(*tick.jump, *tick.reported.jump);
  }
  ASSERT_FALSE(tick.after.gliding || tick.after.on_wall);
  ASSERT_TRUE(tick.before.fast_falling || !tick.after.fast_falling);
}

void expect_speed_as_reported(const Tick& tick) {
  const Vec reported = tick.reported.velocity;
  const Vec now = tick.after.velocity;
  ASSERT_TRUE(near(now.x, reported.x) && near(now.y, reported.y))
      << "foretold " << reported.x << ", " << reported.y << "; came to " << now.x << ", " << now.y;
}

// A step within the flush gap is passed without an event: `steps` counts them.
void expect_motion_as_reported(const Tick& tick, double flush_gap, std::int64_t& steps) {
  expect_speed_as_reported(tick);
  if (tick.jump == JumpKind::exit_jump) return;  // its way may bend within the tick
  const double off = tick.after.feet.y - tick.before.feet.y - tick.reported.climbs;
  const bool as_reported = std::abs(off) <= 1e-9 * (1 + std::abs(tick.reported.climbs));
  if (!as_reported) {
    ASSERT_LE(std::abs(off), flush_gap);
    ++steps;
  }
  if (fluid_of(tick.after.zones, tick.situation.level)->restores) {
    ASSERT_TRUE(tick.after.air_jumps_used == 0 && tick.after.dashes_used == 0);
  } else if (tick.before.coyote_left == 0) {  // what walking off costs is paid when that is over
    ASSERT_EQ(tick.after.air_jumps_used, tick.before.air_jumps_used);
  }
}

// A tuning of what this account speaks of.
void keep_to_water(Tuning& tuning) {
  tuning.wall = {};
  tuning.run.auto_run = AutoRun::none;
  tuning.run.sprint = {};
  tuning.run.air.style = DriveStyle::rate;
  tuning.run.air.overspeed_brake.reset();
  tuning.jump.charge = {};
  tuning.fall.terminal_speed.reset();
}

void swim(std::uint32_t seed, Counts& counts) {
  Situation situation(seed);
  keep_to_water(situation.tuning);
  fill_pools(situation);
  const CompiledBook compiled = compile_book(situation.tuning, situation.level.zones);
  if (!compiled.ok()) return;
  const Rulebook& book = compiled.book;
  const LevelWorld world(situation.level, kNothingTravels);
  const auto feet = situation.find_room(book.rules(0), world);
  Character character;
  if (!feet || !place(character, *feet, book, world)) return;
  Account account(situation, book);
  bool leapt = false;
  for (const Controls& held : situation.controls) {
    const Character before = character;
    const Account::Reported reported = account.predict(before, held);
    const Events events = advance(character, held, book, world);
    account.see(character, events);
    const Tick tick = seen(situation, before, character, events, reported);
    const bool free = !tick.crossed && !is_left_to_others(before, character, events) &&
                      std::isfinite(reported.velocity.y) && reported.jump != JumpKind::ground;
    expect_swimming_as_reported(tick, account.kept());
    if (reported.swims) expect_press_as_reported(tick);
    const bool leaps = reported.leaps && free && !tick.jump && account.kept().leaping;
    if (reported.swims && free)
      expect_motion_as_reported(tick, book.rules(0).flush_gap, counts.steps);
    if (leaps) expect_speed_as_reported(tick);
    if (testing::Test::HasFatalFailure()) {
      FAIL() << "seed " << seed << ", tick " << character.tick << ", from " << before.velocity.y;
    }
    counts.of_leaps += leaps ? 1 : 0;
    if (!reported.swims) continue;
    ++counts.swum;
    counts.strokes += tick.jump == JumpKind::stroke ? 1 : 0;
    counts.leaps += tick.jump == JumpKind::exit_jump ? 1 : 0;
    leapt = leapt || tick.jump == JumpKind::exit_jump;
    if (!free) continue;
    counts.after_leaps += leapt && !tick.jump ? 1 : 0;
    counts.restored += before.air_jumps_used > 0 && character.air_jumps_used == 0 ? 1 : 0;
    ++counts.free[book.rules(before.rules).integrator];
  }
}

TEST(SwimmingAccount, PredictsPressesAndSpeedsInPoolsOfAllKinds) {
  Counts counts;
  const std::uint32_t most = test::kSlow ? 150 : 12000;
  for (std::uint32_t seed = 0; seed < most; ++seed) {
    swim(seed, counts);
    if (HasFatalFailure()) return;
  }
  for (const Integrator loop : test::all_integrators()) {
    EXPECT_GT(counts.free[loop], most * 10) << static_cast<int>(loop);
  }
  EXPECT_GT(counts.swum, most * 100);
  EXPECT_GT(counts.strokes, most / 2);
  EXPECT_GT(counts.leaps, most / 4);
  EXPECT_GT(counts.of_leaps, most / 4);
  EXPECT_GT(counts.after_leaps, most);
  EXPECT_GT(counts.restored, most / 100);
  EXPECT_LE(counts.steps, counts.swum / 100000);
}

}  // namespace
}  // namespace bushbaby
