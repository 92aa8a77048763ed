// Random situations, repeatable from their seed: a crowded level, a tuning, and what is held.
#pragma once

#include <cmath>
#include <random>
#include <vector>

#include "bushbaby/core/motion/outside.h"

#include "support.h"

namespace bushbaby::test {

// Whether sanitizers make a tick dear.
#if defined(__SANITIZE_ADDRESS__)
inline constexpr bool kSlow = true;
#elif defined(__has_feature)
inline constexpr bool kSlow = __has_feature(address_sanitizer);
#else
inline constexpr bool kSlow = false;
#endif

// How many times fewer rounds are enough then.
inline constexpr int kFewer = kSlow ? 10 : 1;

// Whether a tick met something on its way, or began or ended a dash: then its speeds are not those
// of free flight.
inline bool meets_or_dashes(const Events& events) {
  for (const Event& event : events) {
    switch (event.kind) {
      case EventKind::landed:
      case EventKind::wall_touched:
      case EventKind::wall_lost:
      case EventKind::bumped_head:
      case EventKind::nudged:
      case EventKind::bounced:
      case EventKind::dash_started:
      case EventKind::dash_ended: return true;
      default: break;
    }
  }
  return false;
}

struct Situation {
  // Without `moves` the tuning runs, jumps and falls only, on plain ground.
  explicit Situation(std::uint32_t seed, bool moves = true) : random(seed) {
    level.solids.push_back({"", {{-30, -2}, {30, 0}}});
    const int count = static_cast<int>(uniform(5, 80));
    for (int i = 0; i < count; ++i) {
      Vec lo{uniform(-25, 25), uniform(-1, 15)};
      Vec extent{uniform(0.001, 6), uniform(0.001, 3)};
      if (i % 2 == 0) {
        lo = {std::floor(lo.x), std::floor(lo.y)};
        extent = {std::ceil(extent.x), std::ceil(extent.y)};
      }
      level.solids.push_back({"", {lo, {lo.x + extent.x, lo.y + extent.y}}});
    }
    choose_basics();
    if (moves) {
      choose_jumps();
      choose_walls();
      choose_the_rest();
      for (Solid& solid : level.solids) solid.traits = random_surface();
    }
    hold_things(moves);
    if (moves) choose_one_ways();
  }

  double uniform(double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  }
  bool one_in(std::uint64_t n) { return random() % n == 0; }
  Duration ticks(std::uint64_t below) {
    return {static_cast<double>(random() % below), Duration::Unit::ticks};
  }

  // A place where the body fits; nothing if there is no room.
  std::optional<Vec> find_room(const Rules& rules, const World& world) {
    for (int i = 0; i < 50; ++i) {
      const Vec feet{uniform(-28, 28), uniform(0, 18)};
      Character trial;
      if (place(trial, feet, rules, world)) return feet;
    }
    return std::nullopt;
  }

  // A character that is put where there is room.
  std::optional<Character> enter(const Rules& rules, const World& world) {
    const auto feet = find_room(rules, world);
    Character character;
    if (!feet || !place(character, *feet, rules, world)) return std::nullopt;
    return character;
  }

  // Once in this many calls, sets a status for less than `most` ticks, or lifts it.
  bool may_set_status(Character& character, std::uint64_t once_in, std::uint64_t most) {
    if (!one_in(once_in)) return false;
    const auto kind = static_cast<StatusKind>(random() % kStatusKinds);
    set_status(character, kind, {static_cast<Ticks>(random() % most), 0, 0.5});
    return true;
  }

  Fluid random_fluid() {
    Fluid fluid;
    fluid.buoyancy = uniform(0, 120);
    fluid.drag = one_in(4) ? 0 : uniform(0, 20);
    fluid.current = {uniform(-5, 5), uniform(-5, 5)};
    if (fluid.drag > 0 && one_in(2)) fluid.dive = uniform(0, 15);
    if (one_in(2)) fluid.stroke = uniform(0.2, 4);
    fluid.stroke_every = ticks(20);
    if (one_in(2)) fluid.exit_jump = uniform(0.5, 6);
    fluid.restores = one_in(2);
    return fluid;
  }

  std::mt19937_64 random;
  Level level;
  Tuning tuning;
  std::vector<Controls> controls;

 private:
  void choose_basics() {
    tuning = pip();
    const JumpLoop loops[] = {{Integrator::exact, 60, true},
                              {Integrator::trapezoidal, 60, one_in(2)},
                              {Integrator::semi_implicit, 60, one_in(2)},
                              {Integrator::explicit_step, 60, one_in(2)}};
    tuning = with_loop(tuning, loops[random() % 4]);
    const double rates[] = {24, 30, 50, 60, 144, 240};
    tuning.loop.tick_rate = rates[random() % 6];
    tuning.jump.height = uniform(0.5, 8);
    tuning.jump.apex_time = Duration{uniform(0.15, 0.8)};
    tuning.fall.factor = uniform(0.5, 4);
    if (one_in(3)) tuning.fall.terminal_speed.reset();
    tuning.jump.cut.style = static_cast<CutStyle>(random() % 4);
    tuning.jump.coyote = ticks(12);
    tuning.jump.coyote_gravity = uniform(0, 1);
    tuning.jump.buffer = ticks(12);
    // A stepped loop may have no launch speed for a height with a hang band.
    if (one_in(2) && tuning.loop.integrator == Integrator::exact) {
      tuning.jump.hang = {uniform(0, 5), uniform(0.1, 3)};
    }
    tuning.run.top_speed = one_in(10) ? 1e4 : uniform(0, 30);
    tuning.run.ground = {{uniform(0, 300), uniform(0, 300), uniform(0, 300)}};
    tuning.run.air = {{uniform(0, 300), uniform(0, 300), uniform(0, 300)}};
    if (one_in(10)) tuning.run.air = {{1e6, 1e6, 1e6}};
  }

  void choose_jumps() {
    tuning.jump.allowed = !one_in(20);
    if (one_in(3)) {
      tuning.jump.charge.time = ticks(20);
      tuning.jump.charge.height = 8 + uniform(0, 4);
      tuning.jump.charge.bend = uniform(-1, 1);
      tuning.jump.charge.may_run = one_in(2);
    } else if (one_in(2)) {
      tuning.jump.sustain = {static_cast<double>(random() % 4), Duration::Unit::ticks};
    }
    Tuning::Jump::AirJumps& air = tuning.jump.air_jumps;
    air.count = static_cast<int>(random() % 4);
    air.unlimited = one_in(10);
    if (one_in(2)) air.height = uniform(0.3, 5);
    if (one_in(3)) air.sustain = ticks(4);
    air.interval = ticks(10);
    air.restore_on_wall = one_in(2);
    air.restore_on_bounce = one_in(2);
    air.walk_off_costs = one_in(2);
    tuning.jump.near_ground = one_in(2) ? NearGround::buffer : NearGround::air_jump;
  }

  void choose_walls() {
    Tuning::Wall& wall = tuning.wall;
    wall.grab = one_in(2) ? WallGrab::push : WallGrab::touch;
    if (one_in(2)) wall.slide_speed = one_in(4) ? 0 : uniform(0, 10);
    wall.slide_brake = uniform(0, 400);
    wall.cling = ticks(12);
    wall.coyote = ticks(8);
    if (one_in(2)) wall.buffer = ticks(8);
    const char* words[] = {"jump", "jump + towards",     "away", "away + up", "jump + up", "up",
                           "down", "towards + up + jump"};
    for (std::uint64_t i = random() % 5; i > 0; --i) {
      WallExit row;
      row.on = words[random() % 8];
      row.where = one_in(4) ? WallPlace::top : WallPlace::anywhere;
      if (one_in(3)) row.hold = ticks(8);
      row.away = one_in(4) ? 0 : uniform(-3, 15);
      row.up = one_in(3) ? 0 : uniform(0, 15);
      row.steer_lock = ticks(10);
      row.steer_fade = ticks(10);
      row.restore = one_in(2);
      row.same_wall = !one_in(3);
      if (one_in(4)) row.sustain = ticks(4);
      row.first = row.up > 0 && row.on.find("jump") != std::string::npos && one_in(3);
      wall.exits.push_back(row);
    }
  }

  void choose_climb() {
    Tuning::Wall::Climb& climb = tuning.wall.climb;
    climb.up_speed = one_in(4) ? 0 : uniform(0, 8);
    climb.down_speed = one_in(4) ? 0 : uniform(0, 8);
    climb.rate = one_in(4) ? 1e6 : uniform(0, 400);
    if (one_in(2))
      climb.reserve = Duration{static_cast<double>(1 + random() % 90), Duration::Unit::ticks};
    climb.stays = one_in(2);
    if (one_in(2)) climb.over = uniform(0, 10);
  }

  void choose_sprint() {
    Tuning::Run::Sprint& sprint = tuning.run.sprint;
    sprint.top_speed = uniform(0, 30);
    sprint.when = one_in(2) ? SprintWhen::held : SprintWhen::not_held;
    sprint.in_air = one_in(2) ? SprintInAir::changes : SprintInAir::kept;
    for (SprintRates* rates : {&sprint.ground, &sprint.air}) {
      if (one_in(2)) rates->accelerate = uniform(0, 300);
      if (one_in(2)) rates->brake = uniform(0, 300);
      if (one_in(2)) rates->turn = uniform(0, 300);
    }
  }

  void choose_the_rest() {
    if (one_in(2)) choose_climb();
    if (one_in(2)) choose_sprint();
    for (RunDrive* drive : {&tuning.run.ground, &tuning.run.air}) {
      drive->style = static_cast<DriveStyle>(random() % 3);
      drive->accelerate_lag = drive->brake_lag = drive->turn_lag = Duration{uniform(0.01, 0.5)};
      if (one_in(2)) drive->overspeed_brake = uniform(0, 100);
    }
    tuning.run.facing = one_in(2) ? FacingRule::held : FacingRule::speed;
    tuning.run.auto_run = one_in(4) ? static_cast<AutoRun>(random() % 4) : AutoRun::none;
    tuning.fall.overspeed_brake = one_in(2) ? uniform(0, 100) : 0;
    if (one_in(2)) tuning.fall.fast.speed = uniform(1, 60);
    if (one_in(2)) tuning.fall.fast.factor = uniform(1, 4);
    tuning.fall.fast.only_falling = one_in(2);
    if (one_in(2)) tuning.fall.glide.speed = uniform(0.5, 10);
    tuning.dash.charges = static_cast<int>(random() % 4);
    tuning.dash.distance = uniform(0.5, 8);
    tuning.dash.time = Duration{static_cast<double>(1 + random() % 20), Duration::Unit::ticks};
    tuning.dash.direction = static_cast<DashDirection>(random() % 4);
    tuning.dash.keep = uniform(0, 1);
    tuning.dash.cooldown = ticks(20);
    tuning.dash.buffer = ticks(6);
    tuning.dash.jump_out = one_in(2);
    tuning.dash.restore_on_wall = one_in(3);
    tuning.dash.restore_on_bounce = one_in(3);
    tuning.push.share = uniform(0, 2);
    tuning.push.lock = ticks(10);
  }

  void choose_one_ways() {
    for (std::size_t i = 1; i < level.solids.size(); ++i) {
      if (!one_in(4)) continue;
      level.solids[i].blocks =
          one_in(3) ? static_cast<Blocks>(1 + random() % 4) : Blocks::from_above;
    }
    tuning.drop.by = static_cast<DropBy>(random() % 3);
    tuning.drop.window = {static_cast<double>(1 + random() % 20), Duration::Unit::ticks};
    if (one_in(3)) tuning.jump.corner_nudge = uniform(0, 0.5);
    if (one_in(3)) tuning.run.ledge_lift = uniform(0, 0.7);
    if (one_in(4)) tuning.run.slope.stick_depth = uniform(0, 0.5);
  }

  SurfaceTraits random_surface() {
    SurfaceTraits traits;
    if (!one_in(3)) return traits;
    if (one_in(2)) traits.grip = uniform(0, 2);
    if (one_in(3)) traits.conveyor = uniform(-5, 5);
    if (one_in(4)) traits.bounce = uniform(0, 0.95);
    if (one_in(6)) traits.bounce_speed = uniform(0, 20);
    traits.ground = !one_in(8);
    traits.cling = !one_in(4);
    traits.jump = !one_in(6);
    if (one_in(5)) {
      traits.has_touch = true;
      traits.touch.pushes = one_in(2);
      traits.touch.push = {{uniform(-10, 10), uniform(-5, 12)},
                           static_cast<PushFrame>(random() % 3),
                           one_in(2),
                           one_in(2) ? -1 : uniform(0, 0.3)};
      traits.touch.stun = one_in(3) ? uniform(0, 0.3) : 0;
      traits.touch.no_jump = one_in(3) ? uniform(0, 0.3) : 0;
      traits.touch.slow = one_in(3) ? uniform(0, 0.3) : 0;
      traits.touch.slow_share = uniform(0, 1);
      traits.touch.no_cling = one_in(3) ? uniform(0, 0.3) : 0;
      traits.touch.slow_fall = one_in(3) ? uniform(0, 0.3) : 0;
      traits.touch.slow_fall_share = uniform(0, 1);
    }
    return traits;
  }

  void hold_things(bool moves) {
    for (int i = 0; i < 60; ++i) {
      Controls held;
      held.x = static_cast<std::int8_t>(static_cast<int>(random() % 3 - 1) * 127);
      if (one_in(4)) held.x = static_cast<std::int8_t>(static_cast<int>(random() % 255) - 127);
      held.jump = one_in(2);
      if (moves) {
        held.y = static_cast<std::int8_t>(static_cast<int>(random() % 3 - 1) * 127);
        held.dash = one_in(5);
        held.sprint = one_in(3);
      }
      const int lasts = 1 + static_cast<int>(random() % 25);
      for (int t = 0; t < lasts; ++t) controls.push_back(held);
    }
  }
};

}  // namespace bushbaby::test
