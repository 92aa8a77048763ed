// The drills of the table, one function each; what they measure stands in the table itself.
#pragma once

#include <optional>

#include "bushbaby/lab/drills.h"

namespace bushbaby::detail {

// Running, jumping and falling.
Measured stand_jump(Subject& subject, const Drill& drill);
Measured hop(Subject& subject, const Drill& drill);
Measured running_jump(Subject& subject, const Drill& drill);
Measured run_up(Subject& subject, const Drill& drill);
Measured stop(Subject& subject, const Drill& drill);
Measured turn(Subject& subject, const Drill& drill);
Measured hold_heights(Subject& subject, const Drill& drill);
Measured drop(Subject& subject, const Drill& drill);
Measured impact(Subject& subject, const Drill& drill);
std::optional<RecordedJump> record_full_jump(Subject& subject);
std::optional<RecordedJump> record_tap(Subject& subject);
std::optional<RecordedJump> record_leap(Subject& subject);

// Windows.
Measured coyote(Subject& subject, const Drill& drill);
Measured buffer(Subject& subject, const Drill& drill);

// The moveset.
Measured air_jump(Subject& subject, const Drill& drill);
Measured charge(Subject& subject, const Drill& drill);
Measured air_control(Subject& subject, const Drill& drill);
Measured fast_fall(Subject& subject, const Drill& drill);
Measured glide(Subject& subject, const Drill& drill);
Measured dash(Subject& subject, const Drill& drill);
Measured push(Subject& subject, const Drill& drill);
Measured wall_slide(Subject& subject, const Drill& drill);
Measured wall_press(Subject& subject, const Drill& drill);
Measured wall_gain(Subject& subject, const Drill& drill);
Measured climb(Subject& subject, const Drill& drill);
Measured sprint(Subject& subject, const Drill& drill);
Measured wall_push_off(Subject& subject, const Drill& drill);

// Terrain.
Measured slope(Subject& subject, const Drill& drill);
Measured crest(Subject& subject, const Drill& drill);
Measured seam(Subject& subject, const Drill& drill);
Measured drop_through(Subject& subject, const Drill& drill);

// What travels.
Measured platform_carry(Subject& subject, const Drill& drill);
Measured platform_momentum(Subject& subject, const Drill& drill);

// Zones.
Measured zone_entry(Subject& subject, const Drill& drill);
Measured swim(Subject& subject, const Drill& drill);
Measured round_walk(Subject& subject, const Drill& drill);

}  // namespace bushbaby::detail
