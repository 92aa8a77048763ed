// A tuning: one character's constants, as a designer writes them.
//
// A tuning is a plain value. It is described, key by key, in the table of knobs
// (bushbaby/core/tuning/knobs.h) and turned into per-tick numbers by `compile`
// (bushbaby/core/tuning/compile.h). Nothing here is checked on assignment: `compile` checks all of
// it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/motion/mechanisms.h>
#include <bushbaby/core/world/duration.h>

namespace bushbaby {

enum class BodyShape {
  box,
  capsule,  ///< upright, round at its ends; of a body that is wider than high, at its sides
};

/// The drive on the ground, or in the air.
struct RunDrive : RunRates {
  DriveStyle style = DriveStyle::rate;

  /// Instead of rates: from rest to top speed, from top speed to rest, and from top speed to
  /// rest with the other direction held.
  std::optional<Duration> reach_time{}, stop_time{}, turn_time{};

  /// With style damped: the time in which the difference of speeds shrinks to 1/e of itself.
  Duration accelerate_lag{0.06}, brake_lag{0.06}, turn_lag{0.06};

  /// Rate at which a speed above top speed goes down to it, u/s²; absent: like braking.
  std::optional<double> overspeed_brake{};
};

/// When the sprint counts.
enum class SprintWhen {
  held,      ///< while its button is held
  not_held,  ///< while it is not
};

/// What becomes of a sprint in the air.
enum class SprintInAir {
  changes,  ///< it goes on following its button
  kept,     ///< it stays what it was when the ground was left, until landing
};

/// Rates of the sprint, u/s²; absent: those of the first.
struct SprintRates {
  std::optional<double> accelerate, brake, turn;
};

/// Where at a wall a way to leave it counts.
enum class WallPlace {
  anywhere,
  top,  ///< where the wall ends below the upper half of the body
};

/// A way to leave a wall: what must be pressed or held, where, and what it gives.
struct WallExit {
  /// Words joined by "+": of jump, away, towards, up and down. `jump` must be pressed, or
  /// remembered by the wall's buffer; directions must be held.
  std::string on = "jump";
  WallPlace where = WallPlace::anywhere;
  Duration hold{};  ///< how long the directions must have been held

  double away = 0;        ///< u/s across, away from the wall; negative: over its top
  double up = 0;          ///< u/s vertically that the body gets at least; 0 leaves it as it is
  Duration steer_lock{};  ///< the held direction does nothing for this long
  Duration steer_fade{};  ///< then its rates grow from nothing for this long
  bool restore = false;   ///< whether air jumps and dashes come back
  /// Whether the same side may be left again before a landing, or an exit from the other side.
  bool same_wall = true;
  bool first = false;  ///< whether it comes before a jump from the ground beside the wall
  Duration sustain{};  ///< how long a held button holds the vertical speed of this jump
};

[[nodiscard]] inline bool operator==(const WallExit& a, const WallExit& b) noexcept {
  return a.on == b.on && a.where == b.where && a.hold == b.hold && a.away == b.away &&
         a.up == b.up && a.steer_lock == b.steer_lock && a.steer_fade == b.steer_fade &&
         a.restore == b.restore && a.same_wall == b.same_wall && a.first == b.first &&
         a.sustain == b.sustain;
}

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
    double top_speed = 7;            ///< u/s
    RunDrive ground{{60, 80, 120}};  ///< u/s²
    RunDrive air{{45, 12, 70}};      ///< u/s²
    double steepest_ground = 50;     ///< degrees from level
    FacingRule facing = FacingRule::held;
    AutoRun auto_run = AutoRun::none;  ///< the direction while none is held

    /// On ground that slopes.
    struct Slope {
      double uphill = 1;                  ///< share of top speed on the steepest ground
      double downhill = 1;                ///< the same
      std::optional<double> stick_depth;  ///< u; absent: what the steepest ground needs
      bool ramp_launch = false;           ///< whether the end of a ramp is left along it, not level
    } slope{};
    double ledge_lift = 0;  ///< u: a foot that misses a ledge by less is lifted on to it

    /// a sprint, with a button of its own.
    struct Sprint {
      std::optional<double> top_speed;  ///< u/s; absent: there is none
      SprintWhen when = SprintWhen::held;
      SprintInAir in_air = SprintInAir::changes;
      SprintRates ground{};
      SprintRates air{};
    } sprint{};
  } run;

  /// Two of the first four determine the others; which two are given is the designer's choice.
  struct Jump {
    std::optional<double> height;        ///< u, take-off to apex
    std::optional<Duration> apex_time;   ///< take-off to apex
    std::optional<double> launch_speed;  ///< u/s
    std::optional<double> gravity;       ///< u/s², while rising

    struct Cut {
      CutStyle style = CutStyle::none;
      double keep = 0.4;    ///< share of the vertical speed that a `scale` cut leaves
      double weight = 2.5;  ///< factor on gravity after a `weight` cut
      Duration min_hold{};  ///< no cut sooner than this after launch
    } cut{};

    Duration coyote{};          ///< how long a body that lost its ground may still jump
    double coyote_gravity = 1;  ///< share of gravity while it may
    Duration buffer{};          ///< how long a press that could not jump is remembered

    Hang hang;
    double corner_nudge = 0;  ///< u: a head that clips a corner by less is pushed past it

    bool allowed = true;  ///< whether the character may jump at all
    Duration sustain{};   ///< how long a held button holds the launch speed, from the ground

    /// With a time, a press on the ground fills a gauge and its release launches.
    struct Charge {
      Duration time{};               ///< to fill the gauge; 0: no charging
      std::optional<double> height;  ///< u, of a jump with a full gauge
      Duration tap{};  ///< a hold of no more than this is a plain jump; the gauge fills after it
      ChargeCurve even_in = ChargeCurve::height;
      double bend = 0;      ///< -1 … 1: that grows late, evenly or early
      bool may_run = true;  ///< whether it may run while it charges
    } charge{};

    struct AirJumps {
      int count = 0;                 ///< jumps in the air before the next landing
      bool unlimited = false;        ///< no limit
      std::optional<double> height;  ///< u; absent: that of a jump
      Duration sustain{};            ///< how long a held button holds its launch speed
      Duration interval{};           ///< least time since the last jump
      bool restore_on_wall = false;  ///< touching a wall gives them back
      bool restore_on_bounce = false;
      bool walk_off_costs = false;  ///< ground lost past the time of grace uses one up
    } air_jumps{};
    NearGround near_ground = NearGround::air_jump;
  } jump;

  struct Fall {
    double factor = 1;                     ///< gravity while falling over gravity while rising
    std::optional<double> terminal_speed;  ///< u/s; absent: no limit
    double overspeed_brake = 0;  ///< u/s²: rate at which a faster fall slows down to terminal speed

    /// A press of down in the air, until landing.
    struct Fast {
      std::optional<double> speed;  ///< u/s downwards that it sets at least
      double factor = 1;            ///< on gravity and terminal speed
      bool only_falling = true;     ///< a press on the way up does nothing
    } fast{};

    /// A lower terminal speed while the jump button is held.
    struct Glide {
      std::optional<double> speed;  ///< u/s downwards; absent: no glide
      double brake = 100;           ///< u/s²: rate at which a faster fall slows down to it
    } glide{};
  } fall;

  struct Wall {
    WallGrab grab = WallGrab::push;
    std::optional<double> slide_speed;  ///< u/s downwards; absent: no wall slide
    double slide_brake = 200;           ///< u/s²: rate at which a faster fall slows down to it
    Duration cling{};                   ///< how long a falling body stays where it is first
    Duration coyote{};                  ///< how long a wall may still be left by a jump
    std::optional<Duration> buffer;     ///< absent: that of a jump
    /// Moving along a wall that holds the body, and holding on to it.
    struct Climb {
      std::optional<double> up_speed;  ///< u/s, with up held; absent: no climbing
      double down_speed = 3;           ///< u/s, with down held
      double rate = 200;  ///< u/s², towards either speed, or to rest with neither held
      std::optional<Duration>
          reserve;        ///< for how long, before a landing gives it back; absent: ever
      bool stays = true;  ///< with neither up nor down held; otherwise it clings and slides
      double over = 0;    ///< u/s across that it gets at the top, over it; 0 leaves it as it is
    } climb{};

    std::vector<WallExit> exits;  ///< the first that matches counts
  } wall;

  struct Dash {
    int charges = 0;                 ///< dashes before the next landing; 0: no dash
    std::optional<double> distance;  ///< u
    std::optional<Duration> time;
    std::optional<double> speed;  ///< u/s
    DashDirection direction = DashDirection::sideways;
    double keep = 1;       ///< share of the speed that is left at the end
    Duration cooldown{};   ///< from the end of one to the start of the next
    Duration buffer{};     ///< how long a press that could not dash is remembered
    bool jump_out = true;  ///< whether a jump may end it
    bool restore_on_wall = false;
    bool restore_on_bounce = false;
  } dash;

  /// Falling through a platform of one side that it stands on.
  struct Drop {
    DropBy by = DropBy::nothing;
    Duration window{0.2};  ///< how long the platform lets the body through
  } drop;

  /// How the character takes a push from outside.
  struct Push {
    double share = 1;  ///< of the push's speed that it takes
    Duration lock{};   ///< no control for this long, unless the push says otherwise
  } push;
};

/// The same character at another tick rate: durations written in ticks become seconds first, so
/// that they keep their length. `tick_rate` in Hz.
[[nodiscard]] Tuning at_tick_rate(Tuning tuning, double tick_rate);

}  // namespace bushbaby
