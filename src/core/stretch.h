// The two speeds of a body, along the run axis and along up, each change piece by piece at a
// constant rate. These are the pieces; how a loop walks through them is in advance.cpp.
#pragma once

#include "bushbaby/core/rules.h"

namespace bushbaby::detail {

// A stretch of time over which a speed changes at a constant rate.
struct Stretch {
  double rate = 0;     // u/s²
  double lasts = 0;    // s, possibly infinite
  double ends_at = 0;  // u/s, the speed when it has lasted to its end
};

// The run speed's way towards its target.
Stretch drive_stretch(double speed, double target, const RunRates& rates) noexcept;

// The run speed after a whole tick at the rate that fits its start, never past the target.
double drive_tick(double speed, double target, const RunRates& rates, double dt) noexcept;

// What decides a falling body's gravity, apart from its speed.
struct GravityPhase {
  bool heavy = false;  // a weight cut is in force
  bool hangs = false;  // the hang band applies
  double share = 1;    // of gravity, in the time of grace
};

// The speed along up of a body without support.
Stretch gravity_stretch(double rise, GravityPhase phase, const Rules& rules) noexcept;

// The speed along up after a whole tick at the gravity that fits its start.
double gravity_tick(double rise, GravityPhase phase, const Rules& rules) noexcept;

// The speed with which a stepped loop moves, of the speeds before and after its change.
double moving_speed(Integrator integrator, double before, double after) noexcept;

}  // namespace bushbaby::detail
