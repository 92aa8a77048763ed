// What moves the body in a tick, once everything is decided: the drive of its run, and what pulls.
#include <cmath>

#include "tick.h"

namespace bushbaby::detail {
namespace {

// The share of the run's rates that counts while a steering fade is on.
double fade_of(const Character& character) noexcept {
  if (character.steer_fade_left == 0) return 1;
  const auto left = static_cast<double>(character.steer_fade_left);
  const auto all = static_cast<double>(character.steer_fade_ticks);
  return (all - left + 1) / (all + 1);
}

// With style damped or instant: the speed at the end of the tick.
void fix_drive(const Moment& moment, Drive& drive) noexcept {
  const double over_surface = moment.run - drive.conveyor;
  const double difference = drive.target - over_surface;
  drive.at_once = drive.how->style == DriveStyle::instant;
  drive.fixed = !drive.at_once;
  double part = drive.at_once ? 1 : damped_share(over_surface, drive.target, *drive.how);
  part = smaller(1, part * drive.share);
  // A speed that only creeps up on its target would never be there.
  constexpr double kCreeping = 1e-3;
  const double creeping = kCreeping * moment.rules.top_speed;
  if (part > 0 && magnitude(difference) * (1 - part) <= creeping) part = 1;
  drive.fixed_end =
      part == 1 ? drive.conveyor + drive.target : drive.conveyor + over_surface + difference * part;
  drive.fixed_rate = (drive.fixed_end - moment.run) / moment.rules.dt;
}

// The share of top speed that a slope leaves: less uphill, in proportion to the sine of its angle,
// and downhill as the tuning says.
double share_on_slope(const Moment& moment) noexcept {
  const Rules& rules = moment.rules;
  const double lean = moment.character.ground.normal.x;  // the sine; positive: down to the right
  if (!moment.supported || lean == 0 || (rules.uphill == 1 && rules.downhill == 1)) return 1;
  const double way = moment.steer.x != 0 ? static_cast<double>(moment.steer.x) : moment.run;
  if (way == 0) return 1;
  const double steepest = std::sqrt(1 - rules.ground_slope * rules.ground_slope);
  const double part = smaller(magnitude(lean) / steepest, 1);
  const double whole = way * lean > 0 ? rules.downhill : rules.uphill;
  return 1 + (whole - 1) * part;
}

// The knob behind a drive at constant rates.
std::string_view rate_knob(const Drive& drive, const Moment& moment) noexcept {
  const bool second = moment.character.sprinting;
  const auto pick = [&](std::string_view ground, std::string_view air,
                        std::string_view sprint_ground, std::string_view sprint_air) {
    if (second) return moment.supported ? sprint_ground : sprint_air;
    return moment.supported ? ground : air;
  };
  const double over_surface = moment.run - drive.conveyor;
  const bool against = over_surface * drive.target < 0;
  const bool over = is_over_top_speed(moment.run, drive);
  if (is_there(moment.run, drive)) return second ? "run.sprint.top_speed" : "run.top_speed";
  if (against) {
    return pick("run.ground.turn", "run.air.turn", "run.sprint.ground.turn", "run.sprint.air.turn");
  }
  if (over) return moment.supported ? "run.ground.overspeed_brake" : "run.air.overspeed_brake";
  if (magnitude(drive.target) > magnitude(over_surface)) {
    return pick("run.ground.accelerate", "run.air.accelerate", "run.sprint.ground.accelerate",
                "run.sprint.air.accelerate");
  }
  return pick("run.ground.brake", "run.air.brake", "run.sprint.ground.brake",
              "run.sprint.air.brake");
}

// What moves the run speed in this tick; `drive` comes in fresh. `knob` becomes the name of the
// knob behind it.
BUSHBABY_WITHIN void find_drive(const Moment& moment, bool dashes, Drive& drive,
                                std::string_view* knob) noexcept {
  const Character& character = moment.character;
  const Rules& rules = moment.rules;
  const bool controls = !character.has(StatusKind::no_control);
  if (dashes || character.steer_lock_left > 0 || !controls) {
    if (knob == nullptr) return;
    *knob = "push.lock";
    if (controls) *knob = dashes ? "dash.speed" : "wall.exit.steer_lock";
    return;
  }
  const bool second = character.sprinting;
  drive.how = moment.supported ? &rules.ground : &rules.air;
  drive.top = rules.top_speed;
  if (second) {
    drive.how = moment.supported ? &rules.sprint.ground : &rules.sprint.air;
    drive.top = rules.sprint.top_speed;
  }
  if (character.has(StatusKind::slow)) {
    drive.top = drive.top * character.status[static_cast<std::size_t>(StatusKind::slow)].share;
  }
  drive.top = drive.top * share_on_slope(moment);
  const bool rooted = character.charge_held > 0 && !rules.charge_may_run;
  drive.target = rooted ? 0 : direction_share(moment.steer.x) * drive.top;
  drive.share = fade_of(character);
  if (moment.supported) {
    const SurfaceTraits& surface = moment.world.surface(character.ground.surface);
    drive.conveyor = surface.conveyor;
    drive.share = drive.share * surface.grip;
  }
  if (moment.swims) drive.conveyor = moment.frame.into(rules.fluid.current).x;
  if (knob != nullptr) *knob = rate_knob(drive, moment);
  if (drive.how->style == DriveStyle::rate) return;
  if (is_over_top_speed(moment.run, drive))
    return;  // over speed has a rate of its own in every style
  if (knob != nullptr) *knob = moment.supported ? "run.ground.style" : "run.air.style";
  fix_drive(moment, drive);
}

// What a fluid does to the vertical speed in this tick: drag takes a share of what it is off the
// speed at which buoyancy, gravity and drag are even. Gravity is that of a rise, whichever way it
// goes: what makes a jump's fall heavier would else let it float or sink, as it happens to move.
void swim(const Moment& moment, GravityPhase& phase) noexcept {
  const Rules& rules = moment.rules;
  const FluidRules& fluid = rules.fluid;
  const double current = moment.frame.into(fluid.current).y;
  const double lift = fluid.buoyancy - rules.rise_gravity;
  const bool dives = fluid.dive > 0 && is_held(moment.steer.y, -1);
  double goal = current - fluid.dive;
  if (!dives) goal = fluid.drag > 0 ? current + lift / fluid.drag : 0;
  phase.swims = true;
  phase.swim_rate =
      fluid.drag > 0 ? (goal - moment.rise) * fluid.drag_share * rules.tick_rate : lift;
}

// What pulls in this tick; `phase` comes in fresh.
BUSHBABY_WITHIN void find_phase(const Moment& moment, bool dashes, GravityPhase& phase) noexcept {
  const Character& character = moment.character;
  const Rules& rules = moment.rules;
  phase.floats = dashes || character.sustain_left > 0 || clings(moment);
  if (!dashes && climbs(moment)) {
    phase.climbs = true;
    phase.climb_goal = climb_goal(moment);
    return;
  }
  if (moment.swims && !phase.floats) {
    swim(moment, phase);
    return;
  }
  phase.heavy = character.cut_heavy;
  phase.hangs = character.hang_armed;
  phase.share = moment.in_grace ? rules.coyote_gravity : 1;
  if (rules.fluid.exists && is_exit_jumping(character, moment.rise))
    phase.share = rules.fluid.exit_jump_pull;
  phase.terminal = rules.terminal_speed;
  phase.decay = rules.fall_overspeed_brake;
  if (character.has(StatusKind::slow_fall)) {
    phase.fall_share = character.status[static_cast<std::size_t>(StatusKind::slow_fall)].share;
    phase.terminal = phase.terminal * phase.fall_share;
  }
  if (character.fast_falling) {
    phase.weight = rules.fast_factor;
    phase.terminal = larger(phase.terminal * rules.fast_factor, rules.fast_speed);
  }
  if (rules.slide_speed != kNoSpeed && held_on_wall(moment)) {
    phase.terminal = smaller(phase.terminal, rules.slide_speed);
    phase.decay = rules.slide_brake;
  } else if (glides(moment)) {
    phase.terminal = smaller(phase.terminal, rules.glide_speed);
    phase.decay = rules.glide_brake;
  }
}

}  // namespace

void set_forces(Tick& tick) noexcept {
  Character& character = tick.mover;
  tick.dashes = character.dash_left > 0;
  if (tick.dashes) {
    const Vec velocity = scale(character.dash_way, tick.rules.dash_speed);
    tick.run = velocity.x;
    tick.rise = tick.supported ? 0 : velocity.y;
  } else if (!tick.climbed && character.wall != 0 && held_on_wall(tick) && tick.rise <= 0) {
    end(character, kHoldEnds);
    tick.clung = clings(tick);
    if (tick.clung) tick.rise = 0;
  }
  if (!tick.held.jump || tick.locked) character.sustain_left = 0;
  find_drive(tick, tick.dashes, tick.drive, tick.book != nullptr ? &tick.book->drive : nullptr);
  find_phase(tick, tick.dashes, tick.phase);
  if (tick.book != nullptr) write_down_forces(tick);
  if (tick.drive.at_once) {
    tick.run = tick.drive.fixed_end;
    tick.drive.how = nullptr;
  }
}

void pull_anew(Tick& tick) noexcept {
  tick.phase = {};
  find_phase(tick, false, tick.phase);
}

}  // namespace bushbaby::detail
