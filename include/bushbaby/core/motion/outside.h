// What comes from outside: pushes, and statuses that take something away for a time.
//
//     push(pip, {{8, 6}, PushFrame::source}, bee.feet, rules);
//     set_status(pip, StatusKind::stun, {20, kStungByBee});
//     advance(pip, controls, rules, world);   // reports both in its events
#pragma once

#include <bushbaby/core/motion/character.h>
#include <bushbaby/core/motion/rules.h>
#include <bushbaby/core/world/surface.h>

namespace bushbaby {

/// Pushes a character between two ticks. The speed it takes is `push.share` of the push's. It ends
/// a dash, empties the gauge of a charge, ends a fast fall and a steering lock, and no cut follows;
/// for the time of its lock nothing that is held or pressed counts, and nothing drives the run.
/// `source` counts for PushFrame::source alone; a push from straight above or below, or from the
/// place of the feet, goes backwards. Velocity and source must be finite.
void push(Character& character, const Push& push, Vec source, const Rules& rules) noexcept;

/// Sets a status for N ticks, or lifts it with 0. Of a longer one that is in force the longer
/// time is not kept: the last word counts.
void set_status(Character& character, StatusKind kind, const Status& status) noexcept;

/// Goes on under other rules from the next tick on: what is under way keeps the time that it has
/// left, in seconds, as far as the new rules leave that much of it. So no window is open for longer
/// than they say, the time that has passed included, and none that they allow is lost. Whoever
/// changes the rules of a character between two ticks (a slider, a zone, a power) calls it once.
/// Both rules must come from `compile`.
void adopt(Character& character, const Rules& before, const Rules& after) noexcept;

}  // namespace bushbaby
