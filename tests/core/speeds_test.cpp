// An account of the speeds, written from docs/model.md and apart from the core: what a tick makes
// of the velocity, given what it decided. Held against random play wherever
// nothing is met on the way, in all loops.
#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

#include "situation.h"

namespace bushbaby {
namespace {

using test::Situation;

constexpr double kNever = std::numeric_limits<double>::infinity();

// Where a speed comes to in a time, if its rate depends on it and changes at the marks.
double walk(double v, double time, const std::function<double(double)>& rate,
            std::vector<double> marks) {
  std::sort(marks.begin(), marks.end());
  while (time > 0) {
    const double now = rate(v);
    if (now == 0) return v;
    double next = now > 0 ? kNever : -kNever;
    for (const double mark : marks) {
      if (now > 0 && mark > v) next = std::min(next, mark);
      if (now < 0 && mark < v) next = std::max(next, mark);
    }
    const double until = (next - v) / now;
    if (!(until < time)) return v + now * time;
    v = next;
    time -= until;
  }
  return v;
}

// A tick, as it began and as its events report.
struct Seen {
  const Rules& r;
  const World& w;
  const Character& before;
  const Character& after;
  const Controls& held;
  bool stands = false, launched = false;
  double run = 0, rise = 0;

  [[nodiscard]] bool has(StatusKind kind) const { return before.has(kind); }
  [[nodiscard]] double share(StatusKind kind) const {
    return has(kind) ? before.status[static_cast<std::size_t>(kind)].share : 1;
  }
  [[nodiscard]] bool locked() const { return has(StatusKind::stun) || has(StatusKind::no_control); }
  [[nodiscard]] bool exact() const { return r.integrator == Integrator::exact; }

  // The speed across at the end of the tick.
  [[nodiscard]] double across() const {
    if (has(StatusKind::no_control) || before.steer_lock_left > 0) return run;
    const bool second = after.sprinting;
    const DriveRules& ground = second ? r.sprint.ground : r.ground;
    const DriveRules& drive = stands ? ground : second ? r.sprint.air : r.air;
    const double top = (second ? r.sprint.top_speed : r.top_speed) * share(StatusKind::slow);
    const SurfaceTraits ice = stands ? w.surface(before.ground.surface) : SurfaceTraits{};
    double factor = ice.grip;
    if (before.steer_fade_left > 0) {
      const auto n = static_cast<double>(before.steer_fade_ticks);
      factor *= (n - static_cast<double>(before.steer_fade_left) + 1) / (n + 1);
    }
    double steer = held.x / 127.0;
    if (held.x == 0 && r.auto_run != AutoRun::none) {
      steer = r.auto_run == AutoRun::facing ? before.facing
              : r.auto_run == AutoRun::left ? -1.0
                                            : 1.0;
    }
    const bool rooted = after.charge_held > 0 && !r.charge_may_run;
    const double target = locked() || rooted ? 0 : steer * top;
    const double over = run - ice.conveyor;
    const bool against = over * target < 0;
    const auto exceeds = [&](double v) {  // by more than rounding
      return drive.overspeed_brake >= 0 && std::abs(v) > top + 1e-9 * (1 + std::abs(ice.conveyor));
    };
    const bool too_fast = !against && exceeds(over);
    if (drive.style != DriveStyle::rate && !too_fast) {
      const double part = drive.style == DriveStyle::instant  ? 1
                          : against                           ? drive.turn_share
                          : std::abs(target) > std::abs(over) ? drive.accelerate_share
                                                              : drive.brake_share;
      const double left = (target - over) * (1 - std::min(1.0, part * factor));
      const bool gives_up = part * factor > 0 && std::abs(left) <= r.top_speed / 1000;
      return ice.conveyor + target - (gives_up ? 0 : left);
    }
    const auto rate = [&](double v) {
      if (v == target) return 0.0;
      const double sign = v * target < 0 ? (v > 0 ? -1 : 1) : (target > v ? 1 : -1);
      if (v * target < 0) return sign * drive.rates.turn * factor;
      const bool beyond = exceeds(v);
      if (beyond) return (v > 0 ? -1 : 1) * drive.overspeed_brake * factor;
      const bool faster = std::abs(target) > std::abs(v);
      return sign * (faster ? drive.rates.accelerate : drive.rates.brake) * factor;
    };
    if (exact()) return ice.conveyor + walk(over, r.dt, rate, {0, target, top, -top});
    const double end = too_fast ? (over > 0 ? top : -top) : target;
    const double now = rate(over);
    const double next = over + now * r.dt;
    return ice.conveyor + (now > 0 ? std::min(next, end) : now < 0 ? std::max(next, end) : next);
  }

  // The vertical speed of a body in the air.
  [[nodiscard]] double along() const {
    const bool sustained = launched ? after.sustain_left > 0 || sustain_of_launch() > 0
                                    : before.sustain_left > 0 && held.jump && !locked();
    if (sustained && !fell_fast) return rise;
    if (launched && !r.gravity_on_launch_tick && !exact()) return rise;
    const double slow = share(StatusKind::slow_fall);
    const bool fast = after.fast_falling;
    const bool glides = r.glide_speed != kNever && after.glide_armed && held.jump && !locked() &&
                        !fast && !launched;
    double terminal = r.terminal_speed * slow;
    double decay = r.fall_overspeed_brake;
    if (fast) terminal = std::max(terminal * r.fast_factor, r.fast_speed);
    if (glides) {
      terminal = std::min(terminal, r.glide_speed);
      decay = r.glide_brake;
    }
    const double grace = before.coyote_left > 0 && !launched ? r.coyote_gravity : 1;
    const double band = hangs() ? r.hang.below_speed : 0;
    const double factor = grace * (fast ? r.fast_factor : 1);
    const auto gravity = [&](double v, bool in_band) {
      double g = v > 0 ? r.rise_gravity * (heavy() ? r.cut_weight : 1) : r.fall_gravity * slow;
      return -(in_band ? g * r.hang.gravity : g) * factor;
    };
    if (exact()) {
      const auto rate = [&](double v) {
        if (v < -terminal) return decay;
        if (v == -terminal) return 0.0;
        return gravity(v, v <= band && v > -band);
      };
      return walk(rise, r.dt, rate, {band, 0, -band, -terminal});
    }
    if (rise <= -terminal) return std::min(rise + decay * r.dt, -terminal);
    return std::max(rise + gravity(rise, std::abs(rise) < band) * r.dt, -terminal);
  }

  bool cut = false, fell_fast = false;

 private:
  [[nodiscard]] Ticks sustain_of_launch() const {
    if (!held.jump) return 0;
    return after.jump_kind == JumpKind::air ? r.air_sustain : r.sustain_ticks;
  }
  [[nodiscard]] bool hangs() const { return launched || (before.hang_armed && !fell_fast); }
  [[nodiscard]] bool heavy() const {
    if (launched || fell_fast) return false;
    return before.cut_heavy || (cut && r.cut_style == CutStyle::weight);
  }
};

// A climber's vertical speed, if nothing stopped it.
double climbing(const Seen& seen) {
  const Rules& r = seen.r;
  const double goal = seen.held.y >= 64 ? r.climb_up : seen.held.y <= -64 ? -r.climb_down : 0;
  const double most = r.climb_rate * r.dt;
  return seen.rise + std::clamp(goal - seen.rise, -most, most);
}

bool near(double a, double b) { return std::abs(a - b) <= 1e-7 * (1 + std::abs(b)); }

// Whether a tick that climbs, from its start to its end, does so as the rates say; what lies above
// or below may stop it.
bool climbs_as_reported(const Seen& seen) {
  const double reported = climbing(seen);
  const double reach = 2 * seen.r.flush_gap * (reported > 0 ? 1 : -1);
  const Sweep ahead{seen.r.body, seen.after.feet, {0, reach}, {0, 1}, 0};
  const bool stopped = seen.after.velocity.y == 0 && cast(seen.w, ahead).met();
  // One that has turned by the end of the tick may have met a ceiling on its way.
  const double way = seen.rise * seen.r.dt + 2 * seen.r.flush_gap;
  const bool turned = seen.rise > 0 && seen.after.velocity.y <= 0 &&
                      cast(seen.w, {seen.r.body, seen.before.feet, {0, way}, {0, 1}, 0}).met();
  return near(seen.after.velocity.y, reported) || stopped || turned;
}

// Whether nothing of this tick is left to others: contacts, dashes, blows, rows of wall.exit.
bool is_free(const Seen& seen, const Events& events) {
  if (test::meets_or_dashes(events)) return false;
  for (const Event& event : events) {
    if (event.kind == EventKind::pushed || event.kind == EventKind::wall_released) return false;
    const bool jumped = event.kind == EventKind::jumped;
    if (jumped && static_cast<JumpKind>(event.detail) == JumpKind::wall) return false;
  }
  const Character& c = seen.before;
  const bool touched = seen.after.pushed || seen.after.charge_broken;
  return c.wall == 0 && seen.after.wall == 0 && c.dash_left == 0 && !touched;
}

void play(std::uint32_t seed, std::map<Integrator, std::int64_t>& ticks, std::int64_t& climbed) {
  Situation situation(seed);
  // Ground that refuses the body stops it, and reports it by no event.
  for (Solid& solid : situation.level.solids) solid.traits.ground = true;
  const Rules rules = test::rules_of(situation.tuning);
  const LevelWorld world(situation.level, kNothingTravels);
  const auto entered = situation.enter(rules, world);
  if (!entered) return;
  Character character = *entered;
  for (const Controls& held : situation.controls) {
    situation.may_set_status(character, 150, 40);
    const Character before = character;
    const Events events = advance(character, held, rules, world);
    Seen seen{rules, world, before, character, held};
    seen.stands = before.grounded() && !(before.velocity.y > 0);
    seen.run = before.velocity.x;
    seen.rise = seen.stands ? 0 : before.velocity.y;
    const bool touched =
        character.pushed || character.charge_broken ||
        std::any_of(events.begin(), events.end(), [](const Event& event) {
          return event.kind == EventKind::landed || event.kind == EventKind::nudged;
        });
    if (before.climbing && character.climbing && before.wall == character.wall && !touched &&
        std::abs(character.feet.x - before.feet.x) < rules.flush_gap) {
      ASSERT_TRUE(climbs_as_reported(seen))
          << "seed " << seed << ", tick " << character.tick << ": " << character.velocity.y
          << " from " << seen.rise;
      ++climbed;
    }
    if (!is_free(seen, events)) continue;
    for (const Event& event : events) {
      if (event.kind == EventKind::jumped) {
        seen.launched = true;
        seen.stands = false;
        seen.rise = event.value;
      } else if (detail_of(event) == "dropped") {
        seen.stands = false;
      } else if (event.kind == EventKind::cut) {
        seen.cut = true;
        if (rules.cut_style == CutStyle::stop) seen.rise = 0;
        if (rules.cut_style == CutStyle::scale) seen.rise *= rules.cut_keep;
      } else if (event.kind == EventKind::fast_fell) {
        seen.fell_fast = true;
        if (rules.fast_speed > 0) seen.rise = std::min(seen.rise, -rules.fast_speed);
      }
    }
    const Vec reported{seen.across(), seen.stands ? 0 : seen.along()};
    ASSERT_TRUE(near(character.velocity.x, reported.x) && near(character.velocity.y, reported.y))
        << "foretold " << reported.x << ", " << reported.y << "; came to " << character.velocity.x
        << ", " << character.velocity.y << "; from " << seen.run << ", " << seen.rise << "; seed "
        << seed << ", tick " << character.tick;
    ++ticks[rules.integrator];
  }
}

constexpr std::uint32_t kSituations = test::kSlow ? 400 : 6500;
constexpr std::uint32_t kShards = 4;

class Speeds : public ::testing::TestWithParam<std::uint32_t> {};

TEST_P(Speeds, AreForetoldInMillionsOfTicksOfEveryLoop) {
  std::map<Integrator, std::int64_t> ticks;
  std::int64_t climbed = 0;
  for (std::uint32_t i = 0; i < kSituations; ++i) {
    play(1 + GetParam() + kShards * i, ticks, climbed);
    if (HasFatalFailure()) return;
  }
  for (const Integrator loop : test::all_integrators()) {
    EXPECT_GT(ticks[loop], kSituations * 40) << "free ticks of loop " << static_cast<int>(loop);
  }
  EXPECT_GT(climbed, kSituations / 2);
}

INSTANTIATE_TEST_SUITE_P(Shards, Speeds, ::testing::Range(0U, kShards));

}  // namespace
}  // namespace bushbaby
