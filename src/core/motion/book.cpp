// The book of a tick: what each candidate came to, and what moves the body, written down on the
// way if somebody asks.
#include "tick.h"

namespace bushbaby::detail {
namespace {

Trial& page_of(Tick& tick, Candidate candidate) noexcept {
  return tick.book->trials[static_cast<std::size_t>(candidate)];
}

// The knob that sustains a jump.
std::string_view sustain_knob(const Character& character) noexcept {
  if (character.jump_kind == JumpKind::air) return "jump.air_jumps.sustain";
  return character.jump_kind == JumpKind::wall ? "wall.exit.sustain" : "jump.sustain";
}

// The knob that decides gravity.
std::string_view gravity_knob(const Tick& tick) noexcept {
  const Character& character = tick.mover;
  const GravityPhase& phase = tick.phase;
  if (tick.supported) return {};
  if (tick.dashes) return "dash.speed";
  if (skips_gravity(tick)) return "loop.gravity_on_launch_tick";
  if (phase.climbs) return climb_knob(phase.climb_goal);
  if (phase.swims) return "fluid";
  if (phase.floats) return character.sustain_left > 0 ? sustain_knob(character) : "wall.cling";
  if (tick.rise <= 0 - phase.terminal) {
    if (held_on_wall(tick)) return "wall.slide_speed";
    if (glides(tick)) return "fall.glide.speed";
    return character.fast_falling ? "fall.fast.speed" : "fall.terminal_speed";
  }
  const double band = tick.rules.hang.below_speed;
  if (phase.hangs && tick.rise < band && tick.rise > -band) return "jump.hang.gravity";
  if (tick.in_grace && tick.rules.coyote_gravity != 1) return "jump.coyote_gravity";
  if (tick.rules.fluid.exists && is_exit_jumping(character, tick.rise)) return "fluid.exit_jump";
  if (tick.rise > 0) return phase.heavy ? "jump.cut.weight" : "jump.gravity";
  return character.fast_falling && phase.weight != 1 ? "fall.fast.factor" : "fall.factor";
}

}  // namespace

Trial look(Tick& tick, Candidate candidate) noexcept {
  const Trial trial = consider(candidate, tick);
  if (tick.book != nullptr) page_of(tick, candidate) = trial;
  return trial;
}

void look_ahead(Tick& tick) noexcept {
  for (const Candidate candidate :
       {Candidate::ground_jump, Candidate::coyote_jump, Candidate::wall_exit, Candidate::exit_jump,
        Candidate::stroke, Candidate::air_jump}) {
    const Hurdle hurdle = look(tick, candidate).hurdle;
    if (hurdle != Hurdle::none && hurdle != Hurdle::charging) continue;
    Trial beaten;
    beaten.candidate = candidate;
    beaten.hurdle = Hurdle::beaten;
    page_of(tick, candidate) = beaten;
  }
}

void write_down_forces(Tick& tick) noexcept {
  Explanation& book = *tick.book;
  book.driven = tick.drive.how != nullptr;
  book.drive_target = book.driven ? tick.drive.target + tick.drive.conveyor : tick.run;
  book.gravity = gravity_knob(tick);
  if (tick.ride.intended != Vec{0, 0}) {
    book.rides = tick.ride.surface;
    book.ride_speed = tick.ride.intended;
  }
  const bool pulls = !tick.supported && !skips_gravity(tick) && !tick.phase.climbs;
  book.gravity_pull = pulls ? 0 - gravity_stretch(tick.rise, tick.phase, tick.rules).rate : 0;
}

}  // namespace bushbaby::detail
