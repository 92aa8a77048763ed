// The two speeds of a body, along the run axis and vertically, each change piece by piece at a
// constant rate. These are the pieces; how a loop walks through them is in advance.cpp.
#pragma once

#include <limits>

#include "bushbaby/core/motion/rules.h"

namespace bushbaby::detail {

// A stretch of time over which a speed changes at a constant rate.
struct Stretch {
  double rate = 0;     // u/s²
  double lasts = 0;    // s, possibly infinite
  double ends_at = 0;  // u/s, the speed when it has lasted to its end
};

// What drives the run, apart from its speed.
struct Drive {
  const DriveRules* how = nullptr;  // null: nothing does
  double target = 0;                // u/s, over the surface
  double top = 0;                   // u/s: faster than this is over speed
  double conveyor = 0;              // u/s of the surface
  double share = 1;                 // of the rates
  // With style damped, one rate for the whole tick, worked out at its start; with style instant,
  // the speed before anything moves.
  bool fixed = false;
  bool at_once = false;
  double fixed_rate = 0;  // u/s²
  double fixed_end = 0;   // u/s, at the end of the tick
};

// Whether a run speed is what the drive wants; and whether it is one that the drive brings down to
// top speed at a rate of its own. Both compare with the speeds that a stretch ends at, as they are
// rounded: one that ended there is there, or it would begin again without end.
bool is_there(double speed, const Drive& drive) noexcept;
bool is_over_top_speed(double speed, const Drive& drive) noexcept;

// The run speed's way towards its target.
Stretch drive_stretch(double speed, const Drive& drive) noexcept;

// The run speed after a whole tick at the rate that fits its start, never past the target.
double drive_tick(double speed, const Drive& drive, double dt) noexcept;

// The share of the difference to the target that a tick takes away, with style damped.
double damped_share(double speed, double target, const DriveRules& rules) noexcept;

// What decides a falling body's gravity, apart from its speed.
struct GravityPhase {
  bool floats = false;    // nothing pulls: a sustained jump, a dash, a cling
  bool climbs = false;    // nothing pulls: the vertical speed goes to that of a climb
  bool swims = false;     // in a fluid: one rate for the whole tick
  bool heavy = false;     // a weight cut is in force
  bool hangs = false;     // the hang band applies
  double climb_goal = 0;  // u/s
  double swim_rate = 0;   // u/s²
  double share = 1;       // of gravity, in the time of grace
  double weight = 1;      // factor on gravity, in a fast fall
  double fall_share = 1;  // of gravity while falling, in a slow fall
  double terminal = std::numeric_limits<double>::infinity();  // u/s downwards
  double decay = 0;                                           // u/s² of a faster fall
};

// The vertical speed of a body without support.
Stretch gravity_stretch(double rise, const GravityPhase& phase, const Rules& rules) noexcept;

// The vertical speed after a whole tick at the gravity that fits its start.
double gravity_tick(double rise, const GravityPhase& phase, const Rules& rules) noexcept;

// The speed with which a stepped loop moves, of the speeds before and after its change.
double moving_speed(Integrator integrator, double before, double after) noexcept;

}  // namespace bushbaby::detail
