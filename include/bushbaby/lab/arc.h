// Closed forms of a jump, both ways: from constants to the arc, and from the arc that a designer
// asks for to the constants.
//
//     ArcAsk ask;
//     ask.jump.height = 3.25;
//     ask.air_time = 0.67;
//     ask.fall_factor = 1.7;
//     const auto constants = derive_arc(ask, {Integrator::exact, 60, true});
//
// All formulas are derived in docs/model.md, "Arc". They describe a jump from level ground to the
// same level in continuous time; `derive_arc` makes the height exact for stepped loops too.
#pragma once

#include <optional>
#include <string>

#include <tl/expected.hpp>

#include <bushbaby/core/tuning/jump.h>

namespace bushbaby {

/// What decides an arc in continuous time.
struct ArcConstants {
  double gravity = 0;                    ///< u/s² while rising, more than 0
  double launch_speed = 0;               ///< u/s, more than 0
  double fall_factor = 1;                ///< gravity while falling over `gravity`, more than 0
  std::optional<double> terminal_speed;  ///< u/s, more than 0; absent: no limit
  JumpShape shape{};                     ///< hang band, and what is sustained
};

struct ArcShape {
  double height = 0;         ///< u
  double apex_time = 0;      ///< s
  double air_time = 0;       ///< s, take-off to landing
  double landing_speed = 0;  ///< u/s downwards
};

/// The arc of those constants. Constants must be in their ranges.
[[nodiscard]] ArcShape predict_arc(const ArcConstants& constants) noexcept;

/// How a body falls from rest through `height` (u) under `gravity` (u/s²), no faster than
/// `terminal_speed` (u/s), first through the hang band.
struct Fall {
  double time = 0;   ///< s
  double speed = 0;  ///< u/s downwards, at the end
};
[[nodiscard]] Fall predict_fall(double height, double gravity, std::optional<double> terminal_speed,
                                const Hang& hang = {}) noexcept;

/// Any two of the four of `jump`, or one of them with `air_time` or with `distance`. A distance
/// needs `top_speed`: it is covered at that speed all the way.
struct ArcAsk {
  JumpAsk jump;
  std::optional<double> air_time;   ///< s
  std::optional<double> distance;   ///< u
  std::optional<double> top_speed;  ///< u/s
  double fall_factor = 1;
  std::optional<double> terminal_speed;  ///< u/s
  JumpShape shape{};
};

/// The constants that give what was asked for, or why there are none: too few, contradictory,
/// impossible, or not positive finite numbers. A height is exact for the loop (see `derive_jump`);
/// an air time is exact in continuous time, and in a stepped loop comes out in whole ticks.
[[nodiscard]] tl::expected<ArcConstants, Violation> derive_arc(const ArcAsk& ask,
                                                               const JumpLoop& loop);

}  // namespace bushbaby
