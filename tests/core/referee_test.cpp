// Millions of ticks of random play, each watched by a referee that keeps its own, simpler account
// of what a character may do: it sees only what a game sees (state, controls, events) and shares no
// code with the motion step.
#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "bushbaby/core/motion/outside.h"

#include "situation.h"

namespace bushbaby {
namespace {

using test::Situation;

class Referee {
 public:
  Referee(const Rules& rules, const World& world, const Character& start)
      : rules_(rules), world_(world), before_(start) {}

  // Watches one tick. `outside` says that something from outside came before it.
  void watch(const Character& after, const Controls& held, const Events& events, bool outside) {
    ++ticks;
    pressed_ = held.jump && !before_.controls.jump;
    check_state(after, events);
    check_events(after, events);
    check_jumps(held, events, outside);
    check_dash(after, events);
    check_statuses(after, outside);
    before_ = after;
  }

  // The state has been changed from outside.
  void see(const Character& now) { before_ = now; }

  static std::size_t ticks, jumps[4], dashes, landings, bounces, pushes;

 private:
  static const Event* find(const Events& events, EventKind kind) {
    for (const Event& event : events) {
      if (event.kind == kind) return &event;
    }
    return nullptr;
  }
  static bool locked(const Character& c) {
    return c.has(StatusKind::stun) || c.has(StatusKind::no_control);
  }
  [[nodiscard]] bool stands() const { return before_.grounded() && !(before_.velocity.y > 0); }

  void check_state(const Character& c, const Events& events) const {
    const auto finite = [](Vec v) { return std::isfinite(v.x) && std::isfinite(v.y); };
    ASSERT_TRUE(finite(c.feet) && finite(c.velocity));
    ASSERT_EQ(overlap(world_, rules_.body, c.feet, 0).depth, 0) << "inside a solid";
    ASSERT_FALSE(events.overflowed());
    if (c.grounded()) {
      ASSERT_TRUE(c.ground.gap > 0 && c.ground.gap <= rules_.flush_gap * 1.0001);
      ASSERT_TRUE(c.pushed || c.velocity.y == 0);
    }
    const auto within = [](std::int64_t value, std::int64_t most) {
      return value >= 0 && value <= most;
    };
    ASSERT_TRUE(within(c.coyote_left, rules_.coyote_ticks));
    ASSERT_TRUE(within(c.buffer_left, rules_.buffer_ticks));
    ASSERT_TRUE(within(c.wall_coyote_left, rules_.wall_coyote_ticks));
    ASSERT_TRUE(within(c.wall_buffer_left, rules_.wall_buffer_ticks));
    ASSERT_TRUE(within(c.air_jumps_used, rules_.air_jumps));
    ASSERT_TRUE(within(c.dashes_used, rules_.dash_charges));
    ASSERT_TRUE(within(c.dash_left, rules_.dash_ticks));
    ASSERT_TRUE(within(c.dash_cooldown_left, rules_.dash_cooldown));
    Ticks sustained = std::max(rules_.sustain_ticks, rules_.air_sustain);
    for (const WallExitRules& row : rules_.exits) sustained = std::max(sustained, row.sustain);
    ASSERT_TRUE(within(c.sustain_left, sustained));
    ASSERT_TRUE(within(c.climb_used, rules_.climb_ticks));
    if (c.climbing) {
      ASSERT_EQ(c.stance(), Stance::climbing);
      ASSERT_TRUE(c.climb_used > 0 && !locked(before_) && world_.surface(c.wall_surface).cling);
    }
    ASSERT_TRUE(within(c.charge_held, rules_.charge_ticks));
    ASSERT_TRUE(within(c.cling_left, rules_.cling_ticks));
    ASSERT_TRUE(c.facing == 1 || c.facing == -1);
    ASSERT_EQ(c.tick, before_.tick + 1);
    if (c.on_wall) {
      ASSERT_TRUE(c.wall != 0 && !c.grounded());
    }
  }

  // Events agree with the states before and after.
  void check_events(const Character& c, const Events& events) const {
    const bool left = find(events, EventKind::left_ground) != nullptr;
    const bool landed = find(events, EventKind::landed) != nullptr;
    landings += landed ? 1U : 0U;
    bounces += find(events, EventKind::bounced) != nullptr ? 1U : 0U;
    pushes += find(events, EventKind::pushed) != nullptr ? 1U : 0U;
    for (const Event& event : events) {
      ASSERT_TRUE(event.fraction >= 0 && event.fraction <= 1);
      ASSERT_EQ(event.tick, c.tick);
      ASSERT_TRUE(std::isfinite(event.place.x) && std::isfinite(event.value));
    }
    ASSERT_TRUE(!(left) || (before_.grounded() || landed));
    ASSERT_TRUE(!(landed) || (c.grounded() || left)) << "landed, and neither stands nor left";
    ASSERT_TRUE(!(before_.grounded() && !c.grounded()) || (left)) << "lost its ground silently";
    ASSERT_TRUE(!(!before_.grounded() && c.grounded()) || (landed)) << "stands silently";
    const bool touched = find(events, EventKind::wall_touched) != nullptr;
    ASSERT_TRUE(!(c.wall != 0 && c.wall != before_.wall) || (touched));
    if (c.wall == 0 && before_.wall != 0) {
      ASSERT_NE(find(events, EventKind::wall_lost), nullptr);
    }
    ASSERT_EQ(find(events, EventKind::pushed) != nullptr, before_.pushed);
  }

  // Jumps come from a press, one from each, and only where there is something to jump from.
  void check_jumps(const Controls& held, const Events& events, bool outside) {
    if (pressed_) waiting_ = 0;
    int jumped = 0;
    bool by_button = false;
    for (const Event& event : events) {
      if (event.kind != EventKind::jumped) continue;
      ++jumped;
      ++jumps[event.detail];
      const auto kind = static_cast<JumpKind>(event.detail);
      const bool remembered = find(events, EventKind::buffer_used) != nullptr;
      const bool in_grace = find(events, EventKind::coyote_used) != nullptr;
      ASSERT_FALSE(locked(before_) || before_.has(StatusKind::no_jump));
      ASSERT_TRUE(rules_.may_jump);
      by_button = kind != JumpKind::wall || remembered || pressed_;
      if (kind == JumpKind::ground || kind == JumpKind::air) {
        ASSERT_TRUE(pressed_ || remembered) << "a jump that nobody asked for";
      }
      if (kind == JumpKind::air) {
        ASSERT_TRUE(pressed_ && !stands());
        // Dropping off a wall may have given them back just before.
        const bool dropped = find(events, EventKind::wall_released) != nullptr;
        ASSERT_TRUE(dropped || before_.air_jumps_used < rules_.air_jumps);
        ASSERT_GE(before_.tick - last_jump_, rules_.air_interval);
      }
      if (kind == JumpKind::ground || kind == JumpKind::charged) {
        ASSERT_NE(stands(), in_grace);
        if (in_grace) {
          ASSERT_TRUE(walked_off_ && !jumped_since_);
          ASSERT_LE(before_.tick - lost_at_, rules_.coyote_ticks);
        }
      }
      ASSERT_TRUE(!(kind == JumpKind::wall) ||
                  ((!stands() || rules_.exit_first) && (before_.wall != 0 || in_grace)));
      ASSERT_TRUE(!(kind == JumpKind::charged) || (charging_ && !held.jump));
      if (remembered && kind == JumpKind::ground) {
        ASSERT_TRUE(waiting_ >= 0 && waiting_ <= rules_.buffer_ticks) << waiting_;
      }
      last_jump_ = before_.tick;
    }
    ASSERT_LE(jumped, 1);
    // What must happen: a press on plain ground with nothing in the way jumps.
    const bool free = !locked(before_) && !before_.has(StatusKind::no_jump) && rules_.may_jump &&
                      before_.charge_held == 0 && rules_.charge_ticks == 0 &&
                      (before_.dash_left == 0 || rules_.dash_jump_out) && !outside;
    if (pressed_ && stands() && free && world_.surface(before_.ground.surface).jump) {
      ASSERT_EQ(jumped, 1) << "a press on the ground did nothing";
    }
    const bool charges = find(events, EventKind::charge_started) != nullptr;
    if (charges) charging_ = true;
    if (find(events, EventKind::charge_lost) != nullptr || jumped > 0) charging_ = false;
    if (by_button || charges) waiting_ = -1;
    if (waiting_ >= 0) ++waiting_;
    for (const Event& event : events) {  // in their order: a tick may jump, land and slip off
      if (event.kind == EventKind::jumped) jumped_since_ = true;
      if (event.kind != EventKind::left_ground) continue;
      walked_off_ = detail_of(event) == "walked_off";
      lost_at_ = before_.tick;
      jumped_since_ = false;
    }
  }

  void check_dash(const Character& c, const Events& events) {
    const bool started = find(events, EventKind::dash_started) != nullptr;
    const Event* ended = find(events, EventKind::dash_ended);
    if (started) {
      ++dashes;
      ASSERT_FALSE(locked(before_));
      const bool dropped = find(events, EventKind::wall_released) != nullptr;
      ASSERT_TRUE(dropped || before_.dashes_used < rules_.dash_charges);
      ASSERT_EQ(before_.dash_cooldown_left, 0);
      ASSERT_TRUE(dash_end_ == kLongAgo || before_.tick - dash_end_ >= rules_.dash_cooldown);
      dash_start_ = before_.tick;
    }
    if (ended != nullptr) {
      if (detail_of(*ended) == "done") {
        ASSERT_EQ(before_.tick + 1 - dash_start_, rules_.dash_ticks);
      }
      ASSERT_LE(before_.tick - dash_start_, rules_.dash_ticks);
      const bool at_start = detail_of(*ended) == "pushed" || detail_of(*ended) == "jumped";
      dash_end_ = at_start ? before_.tick : before_.tick + 1;
    }
    if (c.dash_left > 0) {
      const double speed = std::hypot(c.velocity.x, c.velocity.y);
      ASSERT_LE(speed, rules_.dash_speed * (1 + 1e-9));
    }
  }

  void check_statuses(const Character& c, bool outside) const {
    for (std::size_t i = 0; i < kStatusKinds; ++i) {
      const std::int64_t left = before_.status[i].left;
      const bool touched = c.touching != before_.touching;
      if (outside || touched) continue;
      ASSERT_EQ(c.status[i].left, left > 0 ? left - 1 : 0);
    }
  }

  const Rules& rules_;
  const World& world_;
  Character before_;
  bool pressed_ = false;
  std::int64_t waiting_ = -1;  // ticks since a press that has done nothing yet; -1: none waits
  bool charging_ = false;
  bool walked_off_ = false;
  bool jumped_since_ = false;
  std::int64_t lost_at_ = kLongAgo;
  std::int64_t last_jump_ = kLongAgo;
  std::int64_t dash_start_ = kLongAgo;
  std::int64_t dash_end_ = kLongAgo;
};

std::size_t Referee::ticks = 0;
std::size_t Referee::jumps[4] = {};
std::size_t Referee::dashes = 0;
std::size_t Referee::landings = 0;
std::size_t Referee::bounces = 0;
std::size_t Referee::pushes = 0;

// Plays one situation; returns false as soon as the referee objects.
bool play(std::uint32_t seed) {
  Situation situation(seed);
  situation.tuning.drop.by = DropBy::nothing;  // it would use presses of its own
  const Rules rules = test::rules_of(situation.tuning);
  const LevelWorld world(situation.level, kNothingTravels);
  const auto entered = situation.enter(rules, world);
  if (!entered) return true;
  Character character = *entered;
  Referee referee(rules, world, character);
  for (const Controls& held : situation.controls) {
    bool outside = situation.may_set_status(character, 200, 20);
    if (situation.one_in(200)) {
      outside = true;
      push(character, {{situation.uniform(-12, 12), situation.uniform(-6, 12)}}, {}, rules);
    }
    if (outside) referee.see(character);
    const Events events = advance(character, held, rules, world);
    referee.watch(character, held, events, outside);
    if (::testing::Test::HasFatalFailure()) {
      ADD_FAILURE() << "seed " << seed << ", tick " << character.tick;
      return false;
    }
  }
  return true;
}

TEST(Referee, HasNothingToObjectToInMillionsOfTicks) {
  constexpr std::uint32_t kSituations = 5000 / test::kFewer;
  for (std::uint32_t seed = 1; seed <= kSituations; ++seed) {
    if (!play(seed)) return;
  }
  // The play was worth watching.
  EXPECT_GT(Referee::ticks, 2000000U / test::kFewer);
  for (const std::size_t count : Referee::jumps) EXPECT_GT(count, 1000U / test::kFewer);
  EXPECT_GT(Referee::dashes, 10000U / test::kFewer);
  EXPECT_GT(Referee::landings, 10000U / test::kFewer);
  EXPECT_GT(Referee::bounces, 1000U / test::kFewer);
  EXPECT_GT(Referee::pushes, 1000U / test::kFewer);
}

}  // namespace
}  // namespace bushbaby
