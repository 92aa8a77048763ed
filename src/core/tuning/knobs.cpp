#include "bushbaby/core/tuning/knobs.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <type_traits>

#include "exits.h"
#include "text.h"

namespace bushbaby {
namespace {

// A range of a quantity in words, without its unit.
Phrase range_phrase(const Range& range, Dimension dimension) {
  constexpr double kMost = std::numeric_limits<double>::max();
  const bool bounded_above = range.hi < kMost;
  const auto end = [dimension](double value) { return Quantity{value, dimension, false, true}; };
  if (range.lo <= -kMost && !bounded_above) return "finite";
  if (!bounded_above) {
    return range.above_lo ? Phrase("more than ") + end(range.lo)
                          : Phrase(end(range.lo)) + " or more";
  }
  return range.above_lo ? Phrase("more than ") + end(range.lo) + " and at most " + end(range.hi)
                        : Phrase(end(range.lo)) + " to " + end(range.hi);
}

constexpr std::array<std::string_view, 4> kIntegratorNames{"exact", "trapezoidal", "semi_implicit",
                                                           "explicit"};
constexpr std::array<std::string_view, 2> kBodyShapeNames{"box", "capsule"};
constexpr std::array<std::string_view, 4> kCutStyleNames{"none", "stop", "scale", "weight"};
constexpr std::array<std::string_view, 3> kDriveStyleNames{"rate", "damped", "instant"};
constexpr std::array<std::string_view, 2> kFacingNames{"held", "speed"};
constexpr std::array<std::string_view, 2> kSprintWhenNames{"held", "not_held"};
constexpr std::array<std::string_view, 2> kSprintInAirNames{"changes", "kept"};
constexpr std::array<std::string_view, 4> kAutoRunNames{"none", "left", "right", "facing"};
constexpr std::array<std::string_view, 2> kChargeCurveNames{"height", "speed"};
constexpr std::array<std::string_view, 2> kNearGroundNames{"air_jump", "buffer"};
constexpr std::array<std::string_view, 2> kWallGrabNames{"push", "touch"};
constexpr std::array<std::string_view, 2> kWallPlaceNames{"anywhere", "top"};
constexpr std::array<std::string_view, 3> kDropByNames{"nothing", "down", "down_jump"};
constexpr std::array<std::string_view, 4> kDashDirectionNames{"facing", "sideways", "eight",
                                                              "free"};

constexpr std::string_view kExitWords =
    "jump, away, towards, up or down, or some of them joined by +";

// More than this is better said by `unlimited`, or a mistake.
constexpr double kMostCount = 100;

// What is larger than this in u, s and their kin is a slip, and its powers and products would not
// stay finite.
constexpr double kMostSize = 1e6;
constexpr double kMostRate = 1e9;  // u/s²

constexpr Range at_least(double lo, double hi = kMostSize) { return {lo, hi, false}; }
constexpr Range more_than(double lo, double hi = kMostSize) { return {lo, hi, true}; }
constexpr Range between(double lo, double hi) { return {lo, hi, false}; }

// Binds a knob to a member; the type of the member picks the alternative of KnobBinding.
// NOLINTBEGIN(bugprone-macro-parentheses): a member access takes no parentheses
#define BUSHBABY_AT(member) +[](Tuning& t, std::size_t) -> decltype((t.member)) { return t.member; }

#define BUSHBABY_CHOICE(member, names)                                                       \
  ChoiceBinding {                                                                            \
    (names).data(), (names).size(),                                                          \
        [](const Tuning& t, std::size_t) { return static_cast<int>(t.member); },             \
        [](Tuning& t, std::size_t, int i) { t.member = static_cast<decltype(t.member)>(i); } \
  }

// The same for a member of a row.
#define BUSHBABY_ROW(member)                                                \
  +[](Tuning& t, std::size_t row) -> decltype((t.wall.exits[row].member)) { \
    return t.wall.exits[row].member;                                        \
  }
// NOLINTEND(bugprone-macro-parentheses)

ChoiceBinding bind_wall_place() {
  return {
      kWallPlaceNames.data(), kWallPlaceNames.size(),
      [](const Tuning& t, std::size_t row) { return static_cast<int>(t.wall.exits[row].where); },
      [](Tuning& t, std::size_t row, int i) {
        t.wall.exits[row].where = static_cast<WallPlace>(i);
      }};
}

std::vector<KnobList> make_lists() {
  return {{"wall.exit", kExitWords,
           [](std::string_view text) { return detail::exit_buttons(text).ok; },
           [](const Tuning& tuning) { return tuning.wall.exits.size(); },
           [](Tuning& tuning, std::size_t rows) { tuning.wall.exits.resize(rows); }}};
}

std::vector<Knob> make_table() {
  using D = Dimension;
  std::vector<Knob> table{
      {"name", D::number, {}, BUSHBABY_AT(name), "The character's name, as it appears in reports."},

      {"loop.tick_rate", D::frequency, between(1, 10000), BUSHBABY_AT(loop.tick_rate),
       "Ticks per second of the game's update loop."},
      {"loop.integrator",
       D::number,
       {},
       BUSHBABY_CHOICE(loop.integrator, kIntegratorNames),
       "How one tick turns acceleration into motion: pick the one your own loop uses."},
      {"loop.gravity_on_launch_tick",
       D::number,
       {},
       BUSHBABY_AT(loop.gravity_on_launch_tick),
       "Whether gravity already acts on the tick that launches the jump; not available with "
       "exact."},

      {"body.shape",
       D::number,
       {},
       BUSHBABY_CHOICE(body.shape, kBodyShapeNames),
       "Collision shape; a capsule is round at both ends."},
      {"body.width", D::length, between(0.001, kMostSize), BUSHBABY_AT(body.width),
       "Width of the body; it rests at most 0.001 of that away from what it touches."},
      {"body.height", D::length, between(0.001, kMostSize), BUSHBABY_AT(body.height),
       "Height of the body."},

      {"run.top_speed", D::speed, at_least(0), BUSHBABY_AT(run.top_speed),
       "Top run speed, with the stick fully over; half the stick asks for half of it."},
      {"run.ground.style",
       D::number,
       {},
       BUSHBABY_CHOICE(run.ground.style, kDriveStyleNames),
       "On the ground: how the run speed follows the input."},
      {"run.ground.accelerate", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.ground.accelerate),
       "On the ground: acceleration to a higher speed in the same direction."},
      {"run.ground.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.ground.brake),
       "On the ground: deceleration to a lower speed, or to rest."},
      {"run.ground.turn", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.ground.turn),
       "On the ground: deceleration while the opposite direction is held."},
      {"run.ground.reach_time", D::time, more_than(0), BUSHBABY_AT(run.ground.reach_time),
       "Instead of accelerate: time from rest to top speed."},
      {"run.ground.stop_time", D::time, more_than(0), BUSHBABY_AT(run.ground.stop_time),
       "Instead of brake: time from top speed to rest."},
      {"run.ground.turn_time", D::time, more_than(0), BUSHBABY_AT(run.ground.turn_time),
       "Instead of turn: time from top speed to rest with the opposite direction held."},
      {"run.ground.accelerate_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.accelerate_lag),
       "With style damped, when accelerating: time in which 63 % of the speed difference is made "
       "up."},
      {"run.ground.brake_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.brake_lag),
       "With style damped, when braking: the same."},
      {"run.ground.turn_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.turn_lag),
       "With style damped, when turning: the same."},
      {"run.ground.overspeed_brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.ground.overspeed_brake),
       "On the ground: deceleration from above top speed down to it; if omitted, same as brake."},
      {"run.air.style",
       D::number,
       {},
       BUSHBABY_CHOICE(run.air.style, kDriveStyleNames),
       "In the air: how the run speed follows the input."},
      {"run.air.accelerate", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.air.accelerate),
       "In the air: acceleration to a higher speed in the same direction."},
      {"run.air.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.air.brake),
       "In the air: deceleration to a lower speed, or to rest."},
      {"run.air.turn", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.air.turn),
       "In the air: deceleration while the opposite direction is held."},
      {"run.air.reach_time", D::time, more_than(0), BUSHBABY_AT(run.air.reach_time),
       "Instead of accelerate: time from rest to top speed."},
      {"run.air.stop_time", D::time, more_than(0), BUSHBABY_AT(run.air.stop_time),
       "Instead of brake: time from top speed to rest."},
      {"run.air.turn_time", D::time, more_than(0), BUSHBABY_AT(run.air.turn_time),
       "Instead of turn: time from top speed to rest with the opposite direction held."},
      {"run.air.accelerate_lag", D::time, more_than(0), BUSHBABY_AT(run.air.accelerate_lag),
       "With style damped, when accelerating: time in which 63 % of the speed difference is made "
       "up."},
      {"run.air.brake_lag", D::time, more_than(0), BUSHBABY_AT(run.air.brake_lag),
       "With style damped, when braking: the same."},
      {"run.air.turn_lag", D::time, more_than(0), BUSHBABY_AT(run.air.turn_lag),
       "With style damped, when turning: the same."},
      {"run.air.overspeed_brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.air.overspeed_brake),
       "In the air: deceleration from above top speed down to it; if omitted, same as brake."},
      {"run.steepest_ground", D::angle, between(0, 89), BUSHBABY_AT(run.steepest_ground),
       "Steepest slope the body can stand on; anything steeper is a wall."},
      {"run.slope.uphill", D::ratio, between(0, 10), BUSHBABY_AT(run.slope.uphill),
       "Top speed uphill on the steepest ground, as a share of that on the flat; gentler slopes "
       "cost less, in proportion to the sine of the angle."},
      {"run.slope.downhill", D::ratio, between(0, 10), BUSHBABY_AT(run.slope.downhill),
       "The same downhill; above 1 is faster than on the flat."},
      {"run.slope.stick_depth", D::length, at_least(0), BUSHBABY_AT(run.slope.stick_depth),
       "How far down the body is snapped to the ground when walking downhill; if omitted, just "
       "enough for the steepest ground."},
      {"run.slope.ramp_launch",
       D::number,
       {},
       BUSHBABY_AT(run.slope.ramp_launch),
       "Whether running off a ramp launches along the ramp; otherwise the body leaves it "
       "horizontally."},
      {"run.ledge_lift", D::length, at_least(0), BUSHBABY_AT(run.ledge_lift),
       "Steps and ledges up to this height are stepped onto."},
      {"run.facing",
       D::number,
       {},
       BUSHBABY_CHOICE(run.facing, kFacingNames),
       "Which way the character faces: the direction last held, or the one it last moved in."},
      {"run.auto_run",
       D::number,
       {},
       BUSHBABY_CHOICE(run.auto_run, kAutoRunNames),
       "Direction that counts as held when none is."},
      {"run.sprint.top_speed", D::speed, at_least(0), BUSHBABY_AT(run.sprint.top_speed),
       "Top speed while sprinting; if omitted, there is no sprint."},
      {"run.sprint.when",
       D::number,
       {},
       BUSHBABY_CHOICE(run.sprint.when, kSprintWhenNames),
       "Whether the character sprints while the button is held, or while it is not."},
      {"run.sprint.in_air",
       D::number,
       {},
       BUSHBABY_CHOICE(run.sprint.in_air, kSprintInAirNames),
       "Whether the sprint button also counts in the air, or the state at take-off is kept."},
      {"run.sprint.ground.accelerate", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.ground.accelerate),
       "While sprinting, instead of run.ground.accelerate; if omitted, the same."},
      {"run.sprint.ground.brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.ground.brake),
       "While sprinting, instead of run.ground.brake; if omitted, the same."},
      {"run.sprint.ground.turn", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.ground.turn),
       "While sprinting, instead of run.ground.turn; if omitted, the same."},
      {"run.sprint.air.accelerate", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.air.accelerate),
       "While sprinting, instead of run.air.accelerate; if omitted, the same."},
      {"run.sprint.air.brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.air.brake),
       "While sprinting, instead of run.air.brake; if omitted, the same."},
      {"run.sprint.air.turn", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.sprint.air.turn),
       "While sprinting, instead of run.air.turn; if omitted, the same."},

      {"jump.height", D::length, more_than(0), BUSHBABY_AT(jump.height),
       "Height of a full jump, from take-off to apex."},
      {"jump.apex_time", D::time, more_than(0), BUSHBABY_AT(jump.apex_time),
       "Time from take-off to apex of a full jump."},
      {"jump.launch_speed", D::speed, more_than(0), BUSHBABY_AT(jump.launch_speed),
       "Upward speed a jump starts with."},
      {"jump.gravity", D::acceleration, more_than(0, kMostRate), BUSHBABY_AT(jump.gravity),
       "Gravity while rising."},
      {"jump.cut.style",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.cut.style, kCutStyleNames),
       "What releasing the button does to a rising jump."},
      {"jump.cut.keep", D::ratio, between(0, 1), BUSHBABY_AT(jump.cut.keep),
       "With style scale: share of the upward speed that is kept."},
      {"jump.cut.weight", D::ratio, at_least(1), BUSHBABY_AT(jump.cut.weight),
       "With style weight: gravity is multiplied by this until the apex."},
      {"jump.cut.min_hold", D::time, at_least(0), BUSHBABY_AT(jump.cut.min_hold),
       "No cut before this time after launch, so that the lowest hop has a known height."},

      {"jump.coyote", D::time, at_least(0), BUSHBABY_AT(jump.coyote),
       "How long after leaving the ground a jump is still possible."},
      {"jump.coyote_gravity", D::ratio, between(0, 1), BUSHBABY_AT(jump.coyote_gravity),
       "Share of gravity that acts during that time."},
      {"jump.buffer", D::time, at_least(0), BUSHBABY_AT(jump.buffer),
       "How long an early press is remembered, to jump on landing."},
      {"jump.hang.below_speed", D::speed, at_least(0), BUSHBABY_AT(jump.hang.below_speed),
       "Below this vertical speed, up or down, gravity is multiplied by jump.hang.gravity."},
      {"jump.hang.gravity", D::ratio, more_than(0), BUSHBABY_AT(jump.hang.gravity),
       "Gravity multiplier around the apex: below 1 floats, above 1 snaps."},
      {"jump.allowed",
       D::number,
       {},
       BUSHBABY_AT(jump.allowed),
       "Whether the character can jump at all."},
      {"jump.sustain", D::time, at_least(0), BUSHBABY_AT(jump.sustain),
       "How long a held button keeps the launch speed of a ground jump."},
      {"jump.charge.time", D::time, at_least(0), BUSHBABY_AT(jump.charge.time),
       "A press on the ground charges a jump for up to this time, and releasing it launches; 0: no "
       "charging."},
      {"jump.charge.height", D::length, more_than(0), BUSHBABY_AT(jump.charge.height),
       "Height of a fully charged jump; uncharged it is a normal jump."},
      {"jump.charge.tap", D::time, at_least(0), BUSHBABY_AT(jump.charge.tap),
       "Holding for no longer than this is a normal jump; charging starts after it."},
      {"jump.charge.even_in",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.charge.even_in, kChargeCurveNames),
       "What grows linearly with the charge: the height of the jump, or its launch speed."},
      {"jump.charge.bend", D::number, between(-1, 1), BUSHBABY_AT(jump.charge.bend),
       "Curve of that growth: -1 late, 0 linear, 1 early."},
      {"jump.charge.may_run",
       D::number,
       {},
       BUSHBABY_AT(jump.charge.may_run),
       "Whether the character can run while charging."},
      {"jump.air_jumps.count", D::number, between(0, kMostCount), BUSHBABY_AT(jump.air_jumps.count),
       "Air jumps until the next landing."},
      {"jump.air_jumps.unlimited",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.unlimited),
       "No limit on air jumps."},
      {"jump.air_jumps.height", D::length, more_than(0), BUSHBABY_AT(jump.air_jumps.height),
       "Height of an air jump; if omitted, it launches like a ground jump."},
      {"jump.air_jumps.sustain", D::time, at_least(0), BUSHBABY_AT(jump.air_jumps.sustain),
       "How long a held button keeps its launch speed."},
      {"jump.air_jumps.interval", D::time, at_least(0), BUSHBABY_AT(jump.air_jumps.interval),
       "Minimum time between a jump and the next air jump."},
      {"jump.air_jumps.restore_on_wall",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.restore_on_wall),
       "Whether touching a wall restores all air jumps."},
      {"jump.air_jumps.restore_on_bounce",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.restore_on_bounce),
       "Whether bouncing restores all air jumps."},
      {"jump.air_jumps.walk_off_costs",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.walk_off_costs),
       "Whether walking off a ledge uses one up once coyote time is over."},
      {"jump.corner_nudge", D::length, at_least(0), BUSHBABY_AT(jump.corner_nudge),
       "A head that clips a corner by up to this much is pushed past it."},
      {"jump.near_ground",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.near_ground, kNearGroundNames),
       "What a press just above the ground does while air jumps are left: air jump now, or wait "
       "for the landing."},

      {"fall.factor", D::ratio, more_than(0), BUSHBABY_AT(fall.factor),
       "Gravity while falling ÷ gravity while rising."},
      {"fall.terminal_speed", D::speed, more_than(0), BUSHBABY_AT(fall.terminal_speed),
       "Top fall speed; if omitted, no limit."},
      {"fall.overspeed_brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(fall.overspeed_brake),
       "Deceleration from a faster fall down to terminal speed; 0 keeps the extra speed."},
      {"fall.fast.speed", D::speed, more_than(0), BUSHBABY_AT(fall.fast.speed),
       "Pressing down in the air sets at least this fall speed, until landing."},
      {"fall.fast.factor", D::ratio, at_least(1), BUSHBABY_AT(fall.fast.factor),
       "Pressing down in the air multiplies gravity and terminal speed, until landing."},
      {"fall.fast.only_falling",
       D::number,
       {},
       BUSHBABY_AT(fall.fast.only_falling),
       "Whether that works only while falling."},
      {"fall.glide.speed", D::speed, more_than(0), BUSHBABY_AT(fall.glide.speed),
       "Top fall speed while the jump button is held in a fall; if omitted, no gliding."},
      {"fall.glide.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(fall.glide.brake),
       "Deceleration from a faster fall to it."},

      {"wall.grab",
       D::number,
       {},
       BUSHBABY_CHOICE(wall.grab, kWallGrabNames),
       "What keeps the body on a wall: holding towards it, or just touching it."},
      {"wall.slide_speed", D::speed, at_least(0), BUSHBABY_AT(wall.slide_speed),
       "Top fall speed on a wall; if omitted, walls do not slow the fall."},
      {"wall.slide_brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(wall.slide_brake),
       "Deceleration from a faster fall to it."},
      {"wall.cling", D::time, at_least(0), BUSHBABY_AT(wall.cling),
       "How long a falling body sticks to a wall before it slides."},
      {"wall.coyote", D::time, at_least(0), BUSHBABY_AT(wall.coyote),
       "How long after losing a wall a wall jump is still possible."},
      {"wall.buffer", D::time, at_least(0), BUSHBABY_AT(wall.buffer),
       "How long a press is remembered for a wall jump; if omitted, same as jump.buffer."},
      {"wall.climb.up_speed", D::speed, at_least(0), BUSHBABY_AT(wall.climb.up_speed),
       "Climb speed with up held; if omitted, no climbing."},
      {"wall.climb.down_speed", D::speed, at_least(0), BUSHBABY_AT(wall.climb.down_speed),
       "Climb speed with down held."},
      {"wall.climb.rate", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(wall.climb.rate),
       "Acceleration to these speeds and to rest; also slows a faster fall."},
      {"wall.climb.reserve", D::time, more_than(0), BUSHBABY_AT(wall.climb.reserve),
       "How long the character can climb and hang on before it must stand again; if omitted, "
       "forever."},
      {"wall.climb.stays",
       D::number,
       {},
       BUSHBABY_AT(wall.climb.stays),
       "Whether it hangs on with neither up nor down held; otherwise it clings and slides."},
      {"wall.climb.over", D::speed, at_least(0), BUSHBABY_AT(wall.climb.over),
       "Horizontal speed it gets when climbing over the top; 0: none."},
      {"wall.exit.on",
       D::number,
       {},
       BUSHBABY_ROW(on),
       "What triggers this exit: jump, away, towards, up and down, joined by +."},
      {"wall.exit.where",
       D::number,
       {},
       bind_wall_place(),
       "Where on the wall: anywhere, or only where it ends below the upper half of the body."},
      {"wall.exit.hold", D::time, at_least(0), BUSHBABY_ROW(hold),
       "How long the directions must have been held."},
      {"wall.exit.away", D::speed, between(-1e6, 1e6), BUSHBABY_ROW(away),
       "Horizontal speed away from the wall; negative: towards it, to get over its top."},
      {"wall.exit.up", D::speed, at_least(0), BUSHBABY_ROW(up),
       "Minimum upward speed it gives; 0 leaves the speed alone."},
      {"wall.exit.steer_lock", D::time, at_least(0), BUSHBABY_ROW(steer_lock),
       "No air control for this long."},
      {"wall.exit.steer_fade", D::time, at_least(0), BUSHBABY_ROW(steer_fade),
       "After that, air control fades in over this time."},
      {"wall.exit.restore",
       D::number,
       {},
       BUSHBABY_ROW(restore),
       "Whether it restores air jumps and dashes."},
      {"wall.exit.same_wall",
       D::number,
       {},
       BUSHBABY_ROW(same_wall),
       "Whether a wall on the same side can be used again before landing or leaving the other "
       "side."},
      {"wall.exit.first",
       D::number,
       {},
       BUSHBABY_ROW(first),
       "Whether, next to a wall, it has priority over a ground or coyote jump."},
      {"wall.exit.sustain", D::time, at_least(0), BUSHBABY_ROW(sustain),
       "How long a held button keeps the upward speed of this jump."},

      {"dash.charges", D::number, between(0, kMostCount), BUSHBABY_AT(dash.charges),
       "Dashes until the next landing; 0: no dash."},
      {"dash.distance", D::length, more_than(0), BUSHBABY_AT(dash.distance),
       "Length of a dash; stays exact when the time is rounded to ticks."},
      {"dash.time", D::time, more_than(0), BUSHBABY_AT(dash.time), "Duration of a dash."},
      {"dash.speed", D::speed, more_than(0), BUSHBABY_AT(dash.speed),
       "Speed of a dash; any two of distance, time and speed give the third."},
      {"dash.direction",
       D::number,
       {},
       BUSHBABY_CHOICE(dash.direction, kDashDirectionNames),
       "Where it goes: facing, left or right, one of eight directions, or exactly where the stick "
       "points."},
      {"dash.keep", D::ratio, between(0, 1), BUSHBABY_AT(dash.keep),
       "Share of the dash speed that is left at its end."},
      {"dash.cooldown", D::time, at_least(0), BUSHBABY_AT(dash.cooldown),
       "Minimum time from the end of a dash to the next."},
      {"dash.buffer", D::time, at_least(0), BUSHBABY_AT(dash.buffer),
       "How long an early dash press is remembered."},
      {"dash.jump_out",
       D::number,
       {},
       BUSHBABY_AT(dash.jump_out),
       "Whether a jump can end a dash."},
      {"dash.restore_on_wall",
       D::number,
       {},
       BUSHBABY_AT(dash.restore_on_wall),
       "Whether touching a wall restores dashes."},
      {"dash.restore_on_bounce",
       D::number,
       {},
       BUSHBABY_AT(dash.restore_on_bounce),
       "Whether bouncing restores dashes."},

      {"drop.by",
       D::number,
       {},
       BUSHBABY_CHOICE(drop.by, kDropByNames),
       "What drops the body through the one-way platform it stands on: pressing down, or jump with "
       "down held."},
      {"drop.window", D::time, more_than(0), BUSHBABY_AT(drop.window),
       "How long that platform then stays passable."},

      {"push.share", D::ratio, at_least(0), BUSHBABY_AT(push.share),
       "Share of a push's speed that the character takes."},
      {"push.lock", D::time, at_least(0), BUSHBABY_AT(push.lock),
       "How long controls are locked after a push that does not say so itself."},
  };
  for (Knob& knob : table) {
    for (const KnobList& list : knob_lists()) {
      if (list.has(knob.key)) knob.list = &list;
    }
  }
  return table;
}

#undef BUSHBABY_AT
#undef BUSHBABY_CHOICE
#undef BUSHBABY_ROW

Phrase noun_of(Dimension dimension) {
  const Phrase unit(dimension);
  switch (dimension) {
    case Dimension::length: return Phrase("a length in ") + unit;
    case Dimension::time: return "a time";
    case Dimension::speed: return Phrase("a speed in ") + unit;
    case Dimension::acceleration: return Phrase("a rate in ") + unit;
    case Dimension::angle: return "an angle in degrees";
    case Dimension::frequency: return "a rate in Hz";
    case Dimension::ratio: return "a factor";
    case Dimension::ticks:
    case Dimension::milliseconds:
    case Dimension::number: break;
  }
  return "a number";
}

template <class... Ts>
struct Overloaded : Ts... {
  using Ts::operator()...;
};
template <class... Ts>
Overloaded(Ts...) -> Overloaded<Ts...>;

using detail::text_of;

std::string quoted(const std::string& text) { return '"' + text + '"'; }

std::string found_text(const KnobValue& value) {
  return std::holds_alternative<std::monostate>(value) ? "nothing" : describe(value);
}

// The duration that a knob value stands for: bare numbers are seconds.
std::optional<Duration> as_duration(const KnobValue& value) {
  if (const auto* duration = std::get_if<Duration>(&value)) return *duration;
  if (const auto* number = std::get_if<double>(&value)) return Duration{*number};
  return std::nullopt;
}

}  // namespace

bool Range::contains(double value) const noexcept {
  return std::isfinite(value) && (above_lo ? value > lo : value >= lo) && value <= hi;
}

std::string describe(const Range& range) {
  return describe(range_phrase(range, Dimension::number));
}

std::string describe(const KnobValue& value) {
  return std::visit(Overloaded{
                        [](std::monostate) { return std::string("not set"); },
                        [](double number) { return text_of(number); },
                        [](bool flag) { return std::string(flag ? "true" : "false"); },
                        [](const Duration& duration) {
                          return duration.unit == Duration::Unit::ticks
                                     ? quoted(detail::ticks_text(duration.amount))
                                     : text_of(duration.amount);
                        },
                        [](const std::string& text) { return quoted(text); },
                    },
                    value);
}

std::string_view Knob::mechanism() const noexcept { return key.substr(0, key.find('.')); }

std::string KnobPlace::key() const {
  if (knob->list == nullptr) return std::string(knob->key);
  return std::string(knob->list->key) + "." + std::to_string(row + 1) + "." +
         std::string(knob->list->name_of(knob->key));
}

const std::vector<KnobList>& knob_lists() {
  static const std::vector<KnobList> lists = make_lists();
  return lists;
}

const KnobList* find_list(std::string_view key) {
  for (const KnobList& list : knob_lists()) {
    if (list.key == key) return &list;
  }
  return nullptr;
}

const std::vector<Knob>& knobs() {
  static const std::vector<Knob> table = make_table();
  return table;
}

const Knob* find_knob(std::string_view key) {
  const auto& table = knobs();
  const auto at =
      std::find_if(table.begin(), table.end(), [key](const Knob& knob) { return knob.key == key; });
  return at == table.end() ? nullptr : &*at;
}

std::optional<KnobPlace> find_place(std::string_view key) {
  for (const KnobList& list : knob_lists()) {
    if (!list.has(key)) continue;
    const std::string_view rest = list.name_of(key);
    const std::size_t dot = std::min(rest.find('.'), rest.size());
    std::size_t row = 0;
    const auto [end, error] = std::from_chars(rest.data(), rest.data() + dot, row);
    if (error != std::errc{} || end != rest.data() + dot || row == 0) return std::nullopt;
    const Knob* knob = find_knob(std::string(list.key) + std::string(rest.substr(dot)));
    if (knob == nullptr) return std::nullopt;
    return KnobPlace{knob, row - 1};
  }
  const Knob* knob = find_knob(key);
  if (knob == nullptr) return std::nullopt;
  return KnobPlace{knob, 0};
}

std::vector<KnobPlace> places_of(const Tuning& tuning) {
  std::vector<KnobPlace> places;
  const KnobList* listed = nullptr;
  for (const Knob& knob : knobs()) {
    if (knob.list == nullptr) {
      places.push_back({&knob, 0});
      continue;
    }
    if (knob.list == listed) continue;
    listed = knob.list;  // row by row, where the first knob of the list stands
    for (std::size_t row = 0; row < listed->rows(tuning); ++row) {
      for (const Knob& other : knobs()) {
        if (other.list == listed) places.push_back({&other, row});
      }
    }
  }
  return places;
}

bool reset_knobs(Tuning& tuning, std::string_view key) {
  static const Tuning fresh;
  bool found = false;
  for (const Knob& knob : knobs()) {
    const bool below = knob.key.size() > key.size() && knob.key[key.size()] == '.';
    if (knob.key.substr(0, key.size()) != key || (knob.key.size() != key.size() && !below))
      continue;
    found = true;
    if (knob.list != nullptr) {
      knob.list->resize(tuning, 0);
    } else {
      (void)set_knob(tuning, knob, get_knob(fresh, knob));
    }
  }
  return found;
}

Phrase describe_expected(const Knob& knob) {
  const auto number = [&knob] {
    return noun_of(knob.dimension) + ", " + range_phrase(knob.range, knob.dimension);
  };
  const auto duration = [&knob] {
    return "a time, " + describe(knob.range) + Phrase(": a number (in ") + Phrase(Dimension::time) +
           "), \"110 ms\" or \"7 ticks\"";
  };
  return std::visit(
      Overloaded{
          [&](KnobAccess<double>) { return number(); },
          [&](KnobAccess<std::optional<double>>) { return number(); },
          [&](KnobAccess<Duration>) { return duration(); },
          [&](KnobAccess<std::optional<Duration>>) { return duration(); },
          [](KnobAccess<bool>) { return Phrase("true or false"); },
          [&](KnobAccess<int>) { return Phrase("a whole number, " + describe(knob.range)); },
          [&](KnobAccess<std::string>) {
            return Phrase(
                std::string(knob.list != nullptr ? knob.list->words : "a text in quotes"));
          },
          [](const ChoiceBinding& choice) {
            std::string names = "one of ";
            for (std::size_t i = 0; i < choice.count; ++i) {
              names += (i > 0 ? ", " : "") + std::string(choice.names[i]);
            }
            return Phrase(std::move(names));
          },
      },
      knob.binding);
}

KnobValue get_knob(const Tuning& tuning, const Knob& knob, std::size_t row) {
  if (knob.list != nullptr && !knob.has_row(tuning, row)) {
    Tuning fresh;
    knob.list->resize(fresh, 1);
    return get_knob(fresh, knob, 0);
  }
  // The bindings give mutable references because one accessor serves both ways; nothing is written
  // through them here.
  auto& reached = const_cast<Tuning&>(tuning);  // NOLINT(cppcoreguidelines-pro-type-const-cast)
  const auto optional_value = [](const auto& value) -> KnobValue {
    if (value) return *value;
    return {};
  };
  return std::visit(
      Overloaded{
          [&](KnobAccess<std::optional<double>> at) { return optional_value(at(reached, row)); },
          [&](KnobAccess<std::optional<Duration>> at) { return optional_value(at(reached, row)); },
          [&](KnobAccess<int> at) { return KnobValue(static_cast<double>(at(reached, row))); },
          [&](const ChoiceBinding& choice) {
            const int index = choice.get(tuning, row);
            const bool known = index >= 0 && static_cast<std::size_t>(index) < choice.count;
            return KnobValue(known ? std::string(choice.names[index]) : std::to_string(index));
          },
          [&](auto at) { return KnobValue(at(reached, row)); },
      },
      knob.binding);
}

std::optional<Violation> set_knob(Tuning& tuning, const Knob& knob, const KnobValue& value,
                                  std::size_t row) {
  const bool adds_row = knob.list != nullptr && row == knob.list->rows(tuning);
  if (adds_row) knob.list->resize(tuning, row + 1);
  const auto refuse = [&] {
    if (adds_row) knob.list->resize(tuning, row);
    return Violation{KnobPlace{&knob, row}.key(), found_text(value), describe_expected(knob)};
  };
  const bool unset = std::holds_alternative<std::monostate>(value);
  const auto* number = std::get_if<double>(&value);
  const bool fits = number != nullptr && knob.range.contains(*number);
  const auto set_duration = [&](auto& target) -> std::optional<Violation> {
    const auto duration = as_duration(value);
    if (!duration || !knob.range.contains(duration->amount)) return refuse();
    target = *duration;
    return std::nullopt;
  };
  const auto set_same_type = [&](auto& target) -> std::optional<Violation> {
    const auto* same = std::get_if<std::decay_t<decltype(target)>>(&value);
    if (same == nullptr) return refuse();
    target = *same;
    return std::nullopt;
  };
  return std::visit(Overloaded{
                        [&](KnobAccess<double> at) -> std::optional<Violation> {
                          if (!fits) return refuse();
                          at(tuning, row) = *number;
                          return std::nullopt;
                        },
                        [&](KnobAccess<std::optional<double>> at) -> std::optional<Violation> {
                          if (!unset && !fits) return refuse();
                          at(tuning, row) = unset ? std::nullopt : std::optional<double>(*number);
                          return std::nullopt;
                        },
                        [&](KnobAccess<int> at) -> std::optional<Violation> {
                          if (!fits || *number != std::floor(*number)) return refuse();
                          at(tuning, row) = static_cast<int>(*number);
                          return std::nullopt;
                        },
                        [&](KnobAccess<Duration> at) { return set_duration(at(tuning, row)); },
                        [&](KnobAccess<std::optional<Duration>> at) -> std::optional<Violation> {
                          if (!unset) return set_duration(at(tuning, row));
                          at(tuning, row).reset();
                          return std::nullopt;
                        },
                        [&](KnobAccess<bool> at) { return set_same_type(at(tuning, row)); },
                        [&](KnobAccess<std::string> at) -> std::optional<Violation> {
                          const auto* text = std::get_if<std::string>(&value);
                          const bool wrong_words =
                              knob.list != nullptr && text != nullptr && !knob.list->takes(*text);
                          return wrong_words ? refuse() : set_same_type(at(tuning, row));
                        },
                        [&](const ChoiceBinding& choice) -> std::optional<Violation> {
                          const auto* text = std::get_if<std::string>(&value);
                          if (text == nullptr) return refuse();
                          const auto* end = choice.names + choice.count;
                          const auto* name = std::find(choice.names, end, *text);
                          if (name == end) return refuse();
                          choice.set(tuning, row, static_cast<int>(name - choice.names));
                          return std::nullopt;
                        },
                    },
                    knob.binding);
}

std::vector<Violation> check_ranges(const Tuning& tuning) {
  std::vector<Violation> violations;
  Tuning scratch = tuning;
  for (const KnobPlace& place : places_of(tuning)) {
    const KnobValue value = get_knob(tuning, *place.knob, place.row);
    if (auto violation = set_knob(scratch, *place.knob, value, place.row)) {
      violations.push_back(*violation);
    }
  }
  return violations;
}

}  // namespace bushbaby
