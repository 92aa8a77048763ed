// From the jump that a designer asks for to the constants that give it, exact for the loop.
//
//     JumpAsk ask;
//     ask.height = 3.25;
//     ask.apex_time = 0.38;
//     const JumpAnswer answer = derive_jump(ask, {Integrator::semi_implicit, 60, true});
//     if (answer.ok()) use(answer.gravity, answer.launch_speed);
//
// The stepped loops see a jump only at ticks, so the same constants give a different height in
// each; here the launch speed is chosen such that the highest *sample* is the height asked for.
// All formulas are derived in docs/model.md, "Jump".
#pragma once

#include <optional>

#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/tuning/violation.h>

namespace bushbaby {

/// What of a game's update loop decides the height of a jump.
struct JumpLoop {
  Integrator integrator = Integrator::exact;
  double tick_rate = 60;               ///< Hz
  bool gravity_on_launch_tick = true;  ///< must be true with `exact`
};

/// Any two determine the rest. More than two are accepted when they agree within 1e-6 of each
/// other (relative, in continuous time).
struct JumpAsk {
  std::optional<double> height;        ///< u, take-off to apex
  std::optional<double> apex_time;     ///< s, take-off to apex
  std::optional<double> launch_speed;  ///< u/s
  std::optional<double> gravity;       ///< u/s²
};

/// What of a tuning shapes a jump, apart from gravity and launch speed.
struct JumpShape {
  Hang hang;
  double sustain = 0;  ///< s for which the launch speed is held; whole ticks in a stepped loop
};

struct JumpAnswer {
  double gravity = 0;       ///< u/s², while rising
  double launch_speed = 0;  ///< u/s
  Violation refusal;        ///< why there is no answer, if there is none; its key is empty

  [[nodiscard]] bool ok() const noexcept { return refusal.expected.empty(); }
};

/// Solves for gravity and launch speed. With `exact` both are the continuous ones. With a stepped
/// loop, of height and apex time: gravity is the continuous 2H/T² and the launch speed is the one
/// whose highest sample is H (to rounding), at the asked tick or next to it; of height and launch
/// speed: gravity is the one whose highest sample is H; without a height: the continuous ones.
/// Refuses, with the reason, when fewer than two are given, when they contradict each other, when
/// one is not a positive finite number, and when the loop cannot do it.
///
/// The jump asked for is the whole one: what is sustained and the slow part of a hang band
/// included. With a hang band, in a stepped loop the highest sample may then jump as the launch
/// speed grows, so that a height may have several launch speeds or none: the one nearest the
/// continuous answer is taken, and none is a refusal.
[[nodiscard]] JumpAnswer derive_jump(const JumpAsk& ask, const JumpLoop& loop,
                                     const JumpShape& shape = {});

/// The apex of a full jump.
struct Apex {
  double height = 0;  ///< u above take-off
  double time = 0;    ///< s after take-off
};

/// The apex that a loop reaches, in closed form but for stepped loops with a hang band: the true
/// one with `exact`, the highest sample (the earliest, if several tie) with a stepped loop.
/// `launch_speed` and `gravity` positive.
[[nodiscard]] Apex predict_apex(double launch_speed, double gravity, const JumpLoop& loop,
                                const JumpShape& shape = {}) noexcept;

}  // namespace bushbaby
