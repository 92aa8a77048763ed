// An account of the moves, written from docs/model.md and apart from the core: it keeps its own
// windows, counts and gauges, predicts what every tick of random play decides, and is held against
// the events of that tick. Of the core it sees what a game sees: where the body stands, which wall
// it touches, its velocity, what locks it.
#include <algorithm>
#include <cmath>
#include <set>

#include "situation.h"

namespace bushbaby {
namespace {

using test::Situation;

bool is_held(int direction, int sign) { return direction * sign >= 64; }

class Account {
 public:
  Account(const Rules& rules, const World& world) : r_(rules), w_(world) {}

  // What a tick does, as names of events with their details.
  std::multiset<std::string> predict(const Character& before, const Controls& held) {
    said_.clear();
    launched_ = false;
    before_ = before;
    held_ = held;
    locked_ = before.has(StatusKind::no_control) || before.has(StatusKind::stun);
    stands_ = before.grounded() && !(before.velocity.y > 0);
    rise_ = stands_ ? 0 : before.velocity.y;
    dashing_ = before.stance() == Stance::dashing;
    pressed_ = held.jump && !last_.jump;
    steer(before);
    choose_sprint();
    in_grace_ = coyote_ > 0;
    if (in_grace_) --coyote_;
    if (is_held(x_, before.wall) && hold_across_ == 1) let_go_ = false;
    dropped_ = may_drop();
    if (dropped_) drop();
    if (dropped_ && r_.drop_by == DropBy::down_jump) {
      buffer_ = wall_buffer_ = 0;  // the press is used
    } else {
      decide_jump();
    }
    decide_cut();
    decide_fast_fall();
    decide_dash();
    climbs_ = !dashing_ && may_climb();
    if (climbs_) {
      cut_armed_ = fast_ = false;
      if (stands_) say("left_ground:climbed");
    }
    // Whoever begins a tick held at a wall, and does not rise, falls fast no more.
    if (!dashing_ && is_held_on_wall() && !(rise_ > 0)) fast_ = false;
    if (!dashing_ && cooldown_ > 0) --cooldown_;
    dash_age_ = dashing_ ? dash_age_ + 1 : 0;
    last_ = held;
    return said_;
  }

  // What came of it: contacts, and what they give back.
  void see(const Character& after, const Events& events) {
    bool landed = false;
    bool walked_off = false;
    stopped_ = false;
    for (const Event& event : events) {
      switch (event.kind) {
        case EventKind::landed: landed = true; break;
        case EventKind::left_ground: walked_off = detail_of(event) == "walked_off"; break;
        case EventKind::bounced:
          cut_armed_ = fast_ = climbs_ = false;
          if (r_.air_restore_on_bounce) air_used_ = 0;
          if (r_.dash_restore_on_bounce) dash_used_ = 0;
          break;
        case EventKind::dash_ended:
          if (event.fraction > 0 || detail_of(event) == "blocked") cooldown_ = r_.dash_cooldown;
          stopped_ = detail_of(event) == "blocked" && event.fraction == 1;
          break;
        case EventKind::wall_lost:
          // Whoever let go, or came to stand, has no time of grace at the wall.
          wall_lost_ = detail_of(event) == "right" ? 1 : -1;
          lost_wall_ = true;
          break;
        default: break;
      }
    }
    const bool stands = after.grounded();
    if (landed || (stands && was_standing())) touch_down(after);
    if (!stands && (was_standing() || landed) && walked_off) {
      const bool jumps = w_.surface(ground_surface(after, events)).jump;
      const bool pushed = before_.has(StatusKind::no_control);
      coyote_ = !pushed && jumps ? r_.coyote_ticks : 0;
      if (coyote_ == 0) pay();
    } else if (!stands && in_grace_ && !launched_ && coyote_ == 0) {
      pay();
    }
    if (climbs_ && !stands) ++climbed_;
    see_walls(after, events);
    if (after.velocity.y <= 0) cut_armed_ = false;
  }

  // Its own counts, for whoever looks for where an account and the core part.
  [[nodiscard]] std::string state() const {
    const std::pair<const char*, std::int64_t> counts[] = {
        {"air used", air_used_},       {"dash used", dash_used_},   {"coyote", coyote_},
        {"buffer", buffer_},           {"gauge", charge_},          {"cooldown", cooldown_},
        {"wall coyote", wall_coyote_}, {"let go", let_go_ ? 1 : 0}, {"spent", spent_},
        {"last jump", launch_tick_}};
    std::string text;
    for (const auto& [name, count] : counts) {
      text += std::string(name) + " " + std::to_string(count) + "; ";
    }
    return text;
  }

  void blow() {  // a push from outside
    coyote_ = wall_coyote_ = 0;
    cut_armed_ = fast_ = false;
    charge_ = 0;
  }
  void blow_ended_dash() { cooldown_ = r_.dash_cooldown; }

 private:
  [[nodiscard]] bool was_standing() const { return stands_ && !launched_ && !climbs_; }
  [[nodiscard]] SurfaceId ground_surface(const Character&, const Events& events) const {
    for (const Event& event : events) {
      if (event.kind == EventKind::left_ground) return event.surface;
    }
    return before_.ground.surface;
  }

  void say(const std::string& what) { said_.insert(what); }

  void steer(const Character& before) {
    const auto count = [](int now, int was, std::int64_t ticks) -> std::int64_t {
      if (!is_held(now, 1) && !is_held(now, -1)) return 0;
      return is_held(was, now > 0 ? 1 : -1) ? ticks + 1 : 1;
    };
    int x = held_.x;
    if (x == 0 && !locked_ && r_.auto_run != AutoRun::none) {
      x = r_.auto_run == AutoRun::right  ? 127
          : r_.auto_run == AutoRun::left ? -127
                                         : before.facing * 127;
    }
    hold_across_ = count(x, counted_x_, hold_across_);
    hold_along_ = count(held_.y, last_.y, hold_along_);
    counted_x_ = x;
    x_ = locked_ ? 0 : x;
    y_ = locked_ ? 0 : held_.y;
    down_pressed_ = is_held(held_.y, -1) && !is_held(last_.y, -1);
  }

  void choose_sprint() {
    if (!r_.sprint.exists) return;
    const bool was = second_;
    const bool stays = locked_ || (r_.sprint.kept_in_air && !stands_);
    if (!stays) second_ = held_.sprint == r_.sprint.when_held;
    if (second_ != was) say(second_ ? "sprint_started" : "sprint_ended");
  }

  [[nodiscard]] bool jump_is_banned() const {
    return locked_ || before_.has(StatusKind::no_jump) || !r_.may_jump ||
           (dashing_ && !r_.dash_jump_out);
  }

  void take_off(bool arms_cut) {
    launched_ = true;
    if (dashing_) {
      dashing_ = false;
      cooldown_ = r_.dash_cooldown;
    }
    cut_armed_ = arms_cut && r_.cut_style != CutStyle::none;
    charge_ = coyote_ = buffer_ = wall_coyote_ = wall_buffer_ = 0;
    fast_ = false;
    launch_tick_ = before_.tick;
  }

  // Whether nothing but platforms of one side lies underfoot, and the body is to fall through them.
  [[nodiscard]] bool may_drop() const {
    const bool down = is_held(held_.y, -1);
    const bool asked = r_.drop_by == DropBy::down ? down && !is_held(last_.y, -1)
                                                  : down && (pressed_ || buffer_ > 0);
    if (r_.drop_by == DropBy::nothing || !asked || !stands_ || locked_ || dashing_) return false;
    // The ground check leaves a body three eighths of the gap of room beside it.
    const double beside = r_.flush_gap * 3 / 8;
    const Box soles{{r_.body.box.lo.x - beside, -2 * r_.flush_gap},
                    {r_.body.box.hi.x + beside, -r_.flush_gap / 4}};
    return overlap(w_, soles, before_.feet, before_.tick).surface == kNoSurface;
  }

  void drop() {
    say("left_ground:dropped");
    if (charge_ > 0) say("charge_lost");
    charge_ = 0;
    stands_ = false;
    pay();
  }

  void decide_jump() {
    const bool surface_lets = w_.surface(before_.ground.surface).jump;
    if (charge_ > 0) {
      const bool may = !jump_is_banned() && (stands_ ? surface_lets : in_grace_);
      if (!may) {
        charge_ = 0;
        say("charge_lost");
      } else if (held_.jump) {
        charge_ = std::min<std::int64_t>(charge_ + 1, r_.charge_ticks);
      } else {
        say("jumped:charged");
        take_off(false);
      }
      return;
    }
    // A row may come before a jump from the ground, or in its time of grace.
    if ((stands_ || in_grace_) && leave_wall(true)) return;
    const bool asked = pressed_ || buffer_ > 0;
    if (asked && !jump_is_banned()) {
      if (stands_ && surface_lets) {
        if (r_.charge_ticks > 0 && held_.jump) {
          charge_ = 1;
          buffer_ = wall_buffer_ = 0;
          say("charge_started");
        } else {
          say("jumped:ground");
          take_off(true);
        }
        return;
      }
      if (!stands_ && in_grace_) {
        say("jumped:ground");
        take_off(true);
        return;
      }
    }
    if (!stands_ && leave_wall(false)) return;
    if (pressed_) {
      const bool more = air_used_ < r_.air_jumps;
      if (!stands_ && r_.air_jumps > 0 && more && !jump_is_banned() &&
          before_.tick - launch_tick_ >= r_.air_interval) {
        if (r_.air_jumps != kUnlimited) ++air_used_;
        say("jumped:air");
        take_off(true);
        return;
      }
      buffer_ = r_.buffer_ticks;
      wall_buffer_ = r_.wall_buffer_ticks;
      return;
    }
    if (buffer_ > 0) --buffer_;
    if (wall_buffer_ > 0) --wall_buffer_;
  }

  // True if nothing else may be decided by the press. `before_ground`: by a row that comes first.
  bool leave_wall(bool before_ground) {
    const int side = before_.wall != 0 ? before_.wall : wall_coyote_ > 0 ? wall_lost_ : 0;
    if (side == 0 || let_go_ || spent_ == side) return false;
    if (!w_.surface(before_.wall_surface).cling) return false;
    const bool touched = before_.wall != 0;
    for (int i = 0; i < r_.exit_count; ++i) {
      const WallExitRules& row = r_.exits[static_cast<std::size_t>(i)];
      if (stands_ && !row.first) continue;
      if (row.jump ? !(pressed_ || wall_buffer_ > 0) : !touched) continue;
      if (row.horizontal != 0 && (!is_held(x_, -side * row.horizontal) || hold_across_ < row.hold))
        continue;
      if (row.vertical != 0 && (!is_held(y_, row.vertical) || hold_along_ < row.hold)) continue;
      if (before_ground && !row.first) return false;
      const bool jumps = row.up > 0 || (row.jump && row.away != 0);
      if (jumps ? jump_is_banned() : locked_) return false;
      if (row.restore) air_used_ = dash_used_ = 0;
      if (spent_ != side) spent_ = 0;
      if (!row.same_wall) spent_ = side;
      let_go_ = !(row.jump && row.up > 0 && row.away == 0);
      if (jumps) {
        if (row.up > 0) rise_ = std::max(rise_, row.up);
        say("jumped:wall");
        take_off(row.jump);
        return true;
      }
      say("wall_released");
      wall_coyote_ = 0;
      if (row.jump) buffer_ = wall_buffer_ = 0;
      return row.jump;
    }
    return false;
  }

  void decide_cut() {
    const std::int64_t since = before_.tick - launch_tick_;
    if (!cut_armed_ || launched_ || !(rise_ > 0) || locked_ || held_.jump) return;
    if (since < r_.cut_from_tick) return;
    cut_armed_ = false;
    say("cut");
    if (r_.cut_style == CutStyle::stop) rise_ = 0;
    if (r_.cut_style == CutStyle::scale) rise_ *= r_.cut_keep;
  }

  [[nodiscard]] bool is_held_on_wall() const {
    const double none = std::numeric_limits<double>::infinity();
    if (before_.wall == 0 || stands_ || launched_ || let_go_) return false;
    if (before_.has(StatusKind::no_cling)) return false;
    if (r_.slide_speed == none && r_.cling_ticks == 0 && r_.climb_ticks == 0) return false;
    if (r_.wall_grab == WallGrab::push && !is_held(x_, before_.wall)) return false;
    return w_.surface(before_.wall_surface).cling;
  }

  [[nodiscard]] bool may_climb() const {
    if (before_.wall == 0 || locked_ || launched_ || let_go_) return false;
    if (climbed_ >= r_.climb_ticks || before_.has(StatusKind::no_cling)) return false;
    if (r_.wall_grab == WallGrab::push && !is_held(x_, before_.wall)) return false;
    if (!w_.surface(before_.wall_surface).cling) return false;
    if (!r_.climb_stays && !is_held(y_, 1) && !is_held(y_, -1)) return false;
    const double up = is_held(y_, 1) ? r_.climb_up : 0;
    return stands_ ? up > 0 : before_.climbing || rise_ <= up;
  }

  void decide_fast_fall() {
    const bool has = r_.fast_speed > 0 || r_.fast_factor != 1;
    if (!has || !down_pressed_ || stands_ || dropped_ || launched_ || locked_ || dashing_ || fast_)
      return;
    if (is_held_on_wall() && (rise_ <= 0 || may_climb())) return;
    if (r_.fast_only_falling && rise_ > 0) return;
    fast_ = true;
    cut_armed_ = false;
    if (r_.fast_speed > 0) rise_ = std::min(rise_, -r_.fast_speed);
    say("fast_fell");
  }

  void decide_dash() {
    if (r_.dash_charges == 0) return;
    const bool pressed = held_.dash && !last_dash();
    const bool may = (pressed || dash_buffer_ > 0) && !locked_ && !dashing_ && !launched_ &&
                     dash_used_ < r_.dash_charges && cooldown_ == 0;
    if (may) {
      if (charge_ > 0) say("charge_lost");
      charge_ = dash_buffer_ = 0;
      ++dash_used_;
      cut_armed_ = fast_ = false;
      dashing_ = true;
      dash_age_ = 0;
      say("dash_started");
    } else if (pressed) {
      // A jump of the same tick goes first, and the dash follows in the next.
      const bool waits = launched_ && !locked_;
      dash_buffer_ = std::max<std::int64_t>(r_.dash_buffer, waits ? 1 : 0);
    } else if (dash_buffer_ > 0) {
      --dash_buffer_;
    }
  }
  [[nodiscard]] bool last_dash() const { return last_.dash; }

  void touch_down(const Character& after) {
    cut_armed_ = fast_ = let_go_ = false;
    coyote_ = wall_coyote_ = 0;
    air_used_ = 0;
    climbed_ = 0;
    // A dash that goes on along the ground gives nothing back before its last tick; nor does ground
    // that a dash only grazes, before something stops it.
    const bool dashed_on = after.stance() == Stance::dashing || after.dash_broken;
    const bool last = dash_age_ == r_.dash_ticks;
    if (!dashed_on && (after.grounded() || !stopped_ || last)) dash_used_ = 0;
    spent_ = 0;
  }

  void pay() {
    if (r_.walk_off_costs && r_.air_jumps != kUnlimited && air_used_ < r_.air_jumps) ++air_used_;
  }

  void see_walls(const Character& after, const Events& events) {
    if (wall_coyote_ > 0) --wall_coyote_;
    if (lost_wall_) {
      const bool graceful = !let_go_ && !after.grounded() && w_.surface(before_wall_surface_).cling;
      wall_coyote_ = graceful ? r_.wall_coyote_ticks : 0;
      let_go_ = false;
      lost_wall_ = false;
    }
    for (const Event& event : events) {
      if (event.kind != EventKind::wall_touched) continue;
      const int side = detail_of(event) == "right" ? 1 : -1;
      if (side != after.wall) continue;
      let_go_ = false;
      if (!w_.surface(after.wall_surface).cling) continue;
      if (r_.air_restore_on_wall) air_used_ = 0;
      if (r_.dash_restore_on_wall) dash_used_ = 0;
    }
    before_wall_surface_ = after.wall_surface;
  }

  const Rules& r_;
  const World& w_;
  Character before_;
  std::multiset<std::string> said_;
  Controls held_, last_;
  int x_ = 0, y_ = 0, counted_x_ = 0;
  bool locked_ = false, stands_ = false, launched_ = false, dashing_ = false, pressed_ = false;
  bool in_grace_ = false, down_pressed_ = false, lost_wall_ = false;
  bool dropped_ = false;
  bool stopped_ = false;  // a dash, at the end of the tick
  bool climbs_ = false, second_ = false;
  std::int64_t climbed_ = 0;
  double rise_ = 0;
  std::int64_t coyote_ = 0, buffer_ = 0, wall_coyote_ = 0, wall_buffer_ = 0, charge_ = 0;
  std::int64_t cooldown_ = 0, dash_buffer_ = 0, dash_age_ = 0, hold_across_ = 0, hold_along_ = 0;
  std::int64_t launch_tick_ = kLongAgo;
  std::int32_t air_used_ = 0, dash_used_ = 0;
  bool cut_armed_ = false, fast_ = false, let_go_ = false;
  int spent_ = 0, wall_lost_ = 0;
  SurfaceId before_wall_surface_ = kNoSurface;
};

std::multiset<std::string> decided_in(const Events& events) {
  std::multiset<std::string> names;
  for (const Event& event : events) {
    switch (event.kind) {
      case EventKind::jumped: names.insert("jumped:" + std::string(detail_of(event))); break;
      case EventKind::left_ground:
        if (detail_of(event) == "climbed") names.insert("left_ground:climbed");
        if (detail_of(event) == "dropped") names.insert("left_ground:dropped");
        break;
      case EventKind::sprint_started:
      case EventKind::sprint_ended:
      case EventKind::wall_released:
      case EventKind::cut:
      case EventKind::fast_fell:
      case EventKind::dash_started:
      case EventKind::charge_started:
      case EventKind::charge_lost: names.insert(std::string(name_of(event.kind))); break;
      default: break;
    }
  }
  return names;
}

std::string text_of_all(const std::multiset<std::string>& names) {
  std::string text;
  for (const std::string& name : names) text += (text.empty() ? "" : ", ") + name;
  return text.empty() ? "nothing" : text;
}

void play(std::uint32_t seed, std::int64_t& ticks, std::multiset<std::string>& seen) {
  Situation situation(seed);
  // What needs the core's own look at the world is left to the tests of it.
  situation.tuning.jump.near_ground = NearGround::air_jump;
  for (WallExit& row : situation.tuning.wall.exits) row.where = WallPlace::anywhere;
  const Rules rules = test::rules_of(situation.tuning);
  const LevelWorld world(situation.level, kNothingTravels);
  const auto entered = situation.enter(rules, world);
  if (!entered) return;
  Character character = *entered;
  Account account(rules, world);
  for (const Controls& held : situation.controls) {
    situation.may_set_status(character, 200, 20);
    const bool touch_breaks = character.charge_broken;
    if (touch_breaks || character.dash_broken || character.pushed) account.blow();
    if (character.dash_broken) account.blow_ended_dash();
    auto predicted = account.predict(character, held);
    if (touch_breaks) predicted.insert("charge_lost");  // by what was touched a tick before
    Explanation book;
    const Events events = advance(character, held, rules, world, &book);
    const auto decided = decided_in(events);
    if (predicted != decided) {
      std::string reported;
      for (const Trial& trial : book.trials) reported += "\n  " + describe(trial);
      FAIL() << "foretold " << text_of_all(predicted) << "; decided " << text_of_all(decided)
             << "; seed " << seed << ", tick " << character.tick << "; " << account.state()
             << reported;
    }
    account.see(character, events);
    seen.insert(decided.begin(), decided.end());
    ++ticks;
  }
}

constexpr std::uint32_t kSituations = test::kSlow ? 600 : 6500;
constexpr std::uint32_t kShards = 4;

class Accounts : public ::testing::TestWithParam<std::uint32_t> {};

TEST_P(Accounts, PredictEveryDecisionOfMillionsOfTicks) {
  std::int64_t ticks = 0;
  std::multiset<std::string> seen;
  for (std::uint32_t i = 0; i < kSituations; ++i) {
    play(1 + GetParam() + kShards * i, ticks, seen);
    if (HasFatalFailure()) return;
  }
  EXPECT_GT(ticks, kSituations * 400);
  for (const char* name :
       {"jumped:ground", "jumped:air", "jumped:wall", "jumped:charged", "wall_released", "cut",
        "fast_fell", "dash_started", "charge_started", "charge_lost", "left_ground:climbed",
        "sprint_started", "sprint_ended"}) {
    EXPECT_GT(seen.count(name), kSituations / 30) << name;
  }
}

INSTANTIATE_TEST_SUITE_P(Shards, Accounts, ::testing::Range(0U, kShards));

}  // namespace
}  // namespace bushbaby
