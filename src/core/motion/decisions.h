// What a tick looks at when it decides, and whether each thing it may decide is possible. `advance`
// decides with these functions, and `explain` and `available` answer with them.
#pragma once

#include <limits>

#include "bushbaby/core/motion/controls.h"
#include "bushbaby/core/motion/why.h"

#include "core/shape/frame.h"
#include "core/world/nearby.h"
#include "stretch.h"

namespace bushbaby::detail {

// Across: the run axis of a body that does not stand.
inline constexpr Vec kRightward{1, 0};

// The speed of a knob that is switched off, u/s.
inline constexpr double kNoSpeed = std::numeric_limits<double>::infinity();

// The run axis on a ground: along it, to the right.
inline Vec along_ground(Vec normal) noexcept {
  return normal.y > 0 ? Vec{normal.y, -normal.x} : kRightward;
}

// Whether a direction is held towards a side: 1 or -1.
inline bool is_held(int direction, int sign) noexcept { return direction * sign >= kHeldStep; }

// What a body does that dashes or stands, or does neither.
Stance stance_of(const Character& character, bool dashes, bool stands) noexcept;

// A character at the start of a tick, under the controls of that tick; places and vectors are those
// of its frame.
struct Moment {
  Moment(const Character& c, const Controls& controls, const Rules& r, const World& w,
         const Frame& f) noexcept;

  const Character& character;
  const Controls& held;
  const Rules& rules;
  const World& world;
  const Frame& frame;

  Controls steer;          // the directions that count, after locks and running by itself
  bool locked = false;     // by a status: nothing that is held or pressed counts
  bool supported = false;  // stands, and does not launch: no gravity, no vertical speed
  bool swims = false;      // in a fluid without support
  bool in_grace = false;   // ground was lost, and a ground jump may still be taken
  bool dropped = false;    // through a platform, in this tick
  bool launched = false;   // jumped in this tick
  bool jump_pressed = false;
  bool dash_pressed = false;
  bool down_pressed = false;
  Ticks held_horizontal = 0;  // ticks, this one included; negative: to the left, or down
  Ticks held_vertical = 0;
  Vec came_from;  // the feet at the start of the tick
  bool came_standing;
  bool came_dashing;
  Vec run_axis{1, 0};  // along the ground, or across
  double run = 0;      // speed along the run axis
  double rise = 0;     // vertical speed

  // For what asks surfaces that are solid at times: how the body is at the start of the tick. The
  // character may have moved since; its velocity, and what else makes up its stance, are still
  // those of the start until the tick writes down its end.
  [[nodiscard]] Nearby::Asker asker() const noexcept { return {&rules.body, state_of, this}; }
  static BodyState state_of(const void* moment) noexcept;
};

// Whether a fluid lets a body through on its way up, since it leaps out of it.
inline bool is_exit_jumping(const Character& character, double rise) noexcept {
  return character.jump_kind == JumpKind::exit_jump && character.hang_armed && rise > 0;
}

// Notes whether a body swims. With that a leap is over: what rises again is not let through.
inline void note_swimming(Character& character, bool swims) noexcept {
  character.swims = swims;
  if (swims && character.jump_kind == JumpKind::exit_jump) character.hang_armed = false;
}

// Whoever pushes again into a wall that was released means it: nothing is released any more.
// `character` is the one that the moment looks at.
void take_hold_anew(const Moment& moment, Character& character) noexcept;

// Whether a candidate is possible, and if not, what is in its way.
Trial consider(Candidate candidate, const Moment& moment) noexcept;

// What stands in the way of any action, or of any jump; Hurdle::none if nothing does.
Trial find_ban(Candidate candidate, const Moment& moment, bool jump) noexcept;

// Whether a row of wall.exit that comes before a jump from the ground is to be tried before it.
inline bool may_leave_wall_first(const Moment& moment) noexcept {
  return moment.rules.exit_first && (moment.supported || moment.in_grace);
}

// The side of the wall that a row of wall.exit would leave: touched, or lost a moment ago.
int exit_side(const Moment& moment) noexcept;

// Whether the body is held at the wall it touches: it slides or clings once it falls. What is asked
// in every tick is nearly always answered by what stands here; the rest is asked only if its name
// holds.
bool touched_wall_holds(const Moment& moment) noexcept;
inline bool held_on_wall(const Moment& moment) noexcept {
  return moment.character.wall != 0 && touched_wall_holds(moment);
}

// Whether it climbs in this tick, be it that it only holds on; and the vertical speed that it
// climbs with, if it does.
bool touched_wall_is_climbed(const Moment& moment) noexcept;
inline bool may_climb(const Moment& moment) noexcept {
  return moment.rules.climb_ticks > 0 && moment.character.wall != 0;
}
inline bool climbs(const Moment& moment) noexcept {
  return may_climb(moment) && touched_wall_is_climbed(moment);
}
double climb_goal(const Moment& moment) noexcept;
std::string_view climb_knob(double goal) noexcept;

// Whether it clings in this tick.
inline bool clings(const Moment& moment) noexcept {
  return moment.character.cling_left > 0 && moment.rise <= 0 && held_on_wall(moment) &&
         !climbs(moment);
}

// Whether a fall in this tick is a glide.
bool armed_glide_counts(const Moment& moment) noexcept;
inline bool glides(const Moment& moment) noexcept {
  return moment.character.glide_armed && armed_glide_counts(moment);
}

// The launch speed of a jump that was charged for `held` ticks.
double charged_launch(Ticks held, const Rules& rules) noexcept;

// How full the gauge is then, 0 … 1.
double gauge_of(Ticks held, const Rules& rules) noexcept;

}  // namespace bushbaby::detail
