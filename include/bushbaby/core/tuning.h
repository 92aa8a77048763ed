// A tuning: one character's constants, as a designer writes them.
//
// A tuning is a plain value. It is described, key by key, in the table of knobs
// (bushbaby/core/knobs.h) and turned into per-tick numbers by `compile`
// (bushbaby/core/rules.h). Nothing here is checked on assignment: `compile` checks all of it.
#pragma once

#include <optional>
#include <string>

namespace bushbaby {

/// How a tick turns acceleration into motion. See docs/model.md, "Loops".
enum class Integrator {
  exact,          ///< closed form within the tick; free flight is the same at every tick rate
  averaged,       ///< x += (v + v') / 2 · dt
  semi_implicit,  ///< v += a · dt, then x += v · dt
  explicit_step,  ///< x += v · dt, then v += a · dt; written "explicit"
};

enum class BodyShape { box };

/// What letting go of the jump button does to a rising body.
enum class CutStyle {
  none,    ///< nothing: every jump is a full jump
  stop,    ///< the speed along up becomes 0
  scale,   ///< the speed along up is multiplied by `keep`
  weight,  ///< gravity is multiplied by `weight` until the apex
};

/// A length of time, kept as it was written: seconds, or ticks of the tuning's own tick rate.
struct Duration {
  enum class Unit { seconds, ticks };
  double amount = 0;
  Unit unit = Unit::seconds;
};

[[nodiscard]] constexpr bool operator==(const Duration& a, const Duration& b) noexcept {
  return a.amount == b.amount && a.unit == b.unit;
}
[[nodiscard]] constexpr bool operator!=(const Duration& a, const Duration& b) noexcept {
  return !(a == b);
}

/// The duration in seconds at `tick_rate` Hz.
[[nodiscard]] double seconds(const Duration& duration, double tick_rate) noexcept;

/// How fast the run speed may change, in u/s².
struct RunRates {
  double speed_up = 0;  ///< towards a faster speed in the direction of motion
  double brake = 0;     ///< towards a slower speed in the direction of motion, or to rest
  double turn = 0;      ///< while moving against the held direction
};

/// Another gravity around the apex of a jump: below `below_speed` (u/s, 0 or more) along up or
/// down, gravity is multiplied by `gravity` (more than 0). No band by default.
struct Hang {
  double below_speed = 0;
  double gravity = 1;
};

struct Tuning {
  std::string name;

  struct Loop {
    double tick_rate = 60;  ///< Hz
    Integrator integrator = Integrator::exact;
    bool gravity_on_launch_tick = true;  ///< whether gravity acts on the tick that launches
  } loop;

  struct Body {
    BodyShape shape = BodyShape::box;
    double width = 0.8;   ///< u
    double height = 1.4;  ///< u
  } body;

  struct Run {
    double top_speed = 7;          ///< u/s
    RunRates ground{60, 80, 120};  ///< u/s²
    RunRates air{45, 12, 70};      ///< u/s²
    double steepest_footing = 50;  ///< degrees from level
  } run;

  /// Two of the first four determine the others; which two are given is the designer's choice.
  struct Jump {
    std::optional<double> height;        ///< u, take-off to apex
    std::optional<Duration> apex_time;   ///< take-off to apex
    std::optional<double> launch_speed;  ///< u/s
    std::optional<double> gravity;       ///< u/s², while rising

    struct Cut {
      CutStyle style = CutStyle::none;
      double keep = 0.5;    ///< share of the speed along up that a `scale` cut leaves
      double weight = 2;    ///< factor on gravity after a `weight` cut
      Duration min_hold{};  ///< no cut sooner than this after launch
    } cut;

    Duration coyote{};          ///< how long a body that lost its ground may still jump
    double coyote_gravity = 1;  ///< share of gravity while it may
    Duration buffer{};          ///< how long a press that could not jump is remembered

    Hang hang;
  } jump;

  struct Fall {
    double factor = 1;                     ///< gravity while falling over gravity while rising
    std::optional<double> terminal_speed;  ///< u/s; absent: no limit
  } fall;
};

/// The same character at another tick rate: durations written in ticks become seconds first, so
/// that they keep their length. `tick_rate` in Hz.
[[nodiscard]] Tuning at_tick_rate(Tuning tuning, double tick_rate);

}  // namespace bushbaby
