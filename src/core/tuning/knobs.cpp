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

constexpr std::array<std::string_view, 4> kIntegratorNames{"exact", "averaged", "semi_implicit",
                                                           "explicit"};
constexpr std::array<std::string_view, 2> kBodyShapeNames{"box", "capsule"};
constexpr std::array<std::string_view, 4> kCutStyleNames{"none", "stop", "scale", "weight"};
constexpr std::array<std::string_view, 3> kDriveStyleNames{"rate", "damped", "instant"};
constexpr std::array<std::string_view, 2> kFacingNames{"held", "speed"};
constexpr std::array<std::string_view, 2> kPaceWhenNames{"held", "not_held"};
constexpr std::array<std::string_view, 2> kPaceInAirNames{"changes", "kept"};
constexpr std::array<std::string_view, 4> kAutoRunNames{"none", "left", "right", "facing"};
constexpr std::array<std::string_view, 2> kChargeCurveNames{"height", "speed"};
constexpr std::array<std::string_view, 2> kNearGroundNames{"air_jump", "buffer"};
constexpr std::array<std::string_view, 2> kWallHoldNames{"push", "touch"};
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
      {"name", D::number, {}, BUSHBABY_AT(name), "The character's name, as printed in reports."},

      {"loop.tick_rate", D::frequency, between(1, 10000), BUSHBABY_AT(loop.tick_rate),
       "How many ticks the game's update loop does in a second."},
      {"loop.integrator",
       D::number,
       {},
       BUSHBABY_CHOICE(loop.integrator, kIntegratorNames),
       "How a tick turns acceleration into motion; pick the one your own loop uses."},
      {"loop.gravity_on_launch_tick",
       D::number,
       {},
       BUSHBABY_AT(loop.gravity_on_launch_tick),
       "Whether gravity already acts on the tick that launches; false is refused with exact."},

      {"body.shape",
       D::number,
       {},
       BUSHBABY_CHOICE(body.shape, kBodyShapeNames),
       "The collision shape; a capsule is round at both ends."},
      {"body.width", D::length, between(0.001, kMostSize), BUSHBABY_AT(body.width),
       "Width of the body; the flush gap is 0.001 of it."},
      {"body.height", D::length, between(0.001, kMostSize), BUSHBABY_AT(body.height),
       "Height of the body."},

      {"run.top_speed", D::speed, at_least(0), BUSHBABY_AT(run.top_speed),
       "Run speed at full direction; a part of the direction asks for that part of it."},
      {"run.ground.style",
       D::number,
       {},
       BUSHBABY_CHOICE(run.ground.style, kDriveStyleNames),
       "On the ground: how the run speed follows the one that is asked for."},
      {"run.ground.speed_up", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.ground.speed_up),
       "On the ground: rate towards a faster speed in the direction of motion."},
      {"run.ground.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.ground.brake),
       "On the ground: rate towards a slower speed in the direction of motion, or to rest."},
      {"run.ground.turn", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.ground.turn),
       "On the ground: rate while moving against the held direction, until the speed is 0."},
      {"run.ground.reach_time", D::time, more_than(0), BUSHBABY_AT(run.ground.reach_time),
       "In the place of speed_up: the time from rest to top speed."},
      {"run.ground.stop_time", D::time, more_than(0), BUSHBABY_AT(run.ground.stop_time),
       "In the place of brake: the time from top speed to rest."},
      {"run.ground.turn_time", D::time, more_than(0), BUSHBABY_AT(run.ground.turn_time),
       "In the place of turn: the time from top speed to rest with the other direction held."},
      {"run.ground.speed_up_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.speed_up_lag),
       "With style damped, speeding up: the difference of speeds shrinks to 37 % in this time."},
      {"run.ground.brake_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.brake_lag),
       "With style damped, braking: the same."},
      {"run.ground.turn_lag", D::time, more_than(0), BUSHBABY_AT(run.ground.turn_lag),
       "With style damped, turning: the same."},
      {"run.ground.over_speed", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.ground.over_speed),
       "On the ground: rate at which a speed above top speed goes down to it; left out, as "
       "braking."},
      {"run.air.style",
       D::number,
       {},
       BUSHBABY_CHOICE(run.air.style, kDriveStyleNames),
       "In the air: how the run speed follows the one that is asked for."},
      {"run.air.speed_up", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.air.speed_up),
       "In the air: rate towards a faster speed in the direction of motion."},
      {"run.air.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.air.brake),
       "In the air: rate towards a slower speed in the direction of motion, or to rest."},
      {"run.air.turn", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.air.turn),
       "In the air: rate while moving against the held direction, until the speed is 0."},
      {"run.air.reach_time", D::time, more_than(0), BUSHBABY_AT(run.air.reach_time),
       "In the place of speed_up: the time from rest to top speed."},
      {"run.air.stop_time", D::time, more_than(0), BUSHBABY_AT(run.air.stop_time),
       "In the place of brake: the time from top speed to rest."},
      {"run.air.turn_time", D::time, more_than(0), BUSHBABY_AT(run.air.turn_time),
       "In the place of turn: the time from top speed to rest with the other direction held."},
      {"run.air.speed_up_lag", D::time, more_than(0), BUSHBABY_AT(run.air.speed_up_lag),
       "With style damped, speeding up: the difference of speeds shrinks to 37 % in this time."},
      {"run.air.brake_lag", D::time, more_than(0), BUSHBABY_AT(run.air.brake_lag),
       "With style damped, braking: the same."},
      {"run.air.turn_lag", D::time, more_than(0), BUSHBABY_AT(run.air.turn_lag),
       "With style damped, turning: the same."},
      {"run.air.over_speed", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.air.over_speed),
       "In the air: rate at which a speed above top speed goes down to it; left out, as braking."},
      {"run.steepest_footing", D::angle, between(0, 89), BUSHBABY_AT(run.steepest_footing),
       "The steepest surface, from level, that gives footing; steeper ones are walls."},
      {"run.slope.uphill", D::ratio, between(0, 10), BUSHBABY_AT(run.slope.uphill),
       "Share of top speed that is left uphill on the steepest footing; on a lesser slope the loss "
       "is less, in proportion to the sine of its angle."},
      {"run.slope.downhill", D::ratio, between(0, 10), BUSHBABY_AT(run.slope.downhill),
       "The same downhill; more than 1 is faster."},
      {"run.slope.hug_depth", D::length, at_least(0), BUSHBABY_AT(run.slope.hug_depth),
       "How far below the feet footing may lie at the end of a tick to be walked down to; left "
       "out, "
       "what the steepest footing needs, and no ledge."},
      {"run.slope.ramp_launch",
       D::number,
       {},
       BUSHBABY_AT(run.slope.ramp_launch),
       "Whether the end of a ramp is left along the ramp; otherwise it is left level."},
      {"run.toe_lift", D::length, at_least(0), BUSHBABY_AT(run.toe_lift),
       "A foot that misses a ledge, or meets a step, by no more than this is lifted on to it."},
      {"run.facing",
       D::number,
       {},
       BUSHBABY_CHOICE(run.facing, kFacingNames),
       "Which side the character faces: the one last held, or the one it last moved to."},
      {"run.auto_run",
       D::number,
       {},
       BUSHBABY_CHOICE(run.auto_run, kAutoRunNames),
       "The direction that counts as held while none is."},
      {"run.pace.top_speed", D::speed, at_least(0), BUSHBABY_AT(run.pace.top_speed),
       "Run speed of a second pace, with a button of its own; left out, there is none."},
      {"run.pace.when",
       D::number,
       {},
       BUSHBABY_CHOICE(run.pace.when, kPaceWhenNames),
       "Whether the second pace counts while the button is held, or while it is not."},
      {"run.pace.in_air",
       D::number,
       {},
       BUSHBABY_CHOICE(run.pace.in_air, kPaceInAirNames),
       "Whether the pace follows the button in the air too, or stays what it was on the ground."},
      {"run.pace.ground.speed_up", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.pace.ground.speed_up),
       "At the second pace on the ground, in the place of run.ground.speed_up; left out, as that."},
      {"run.pace.ground.brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.pace.ground.brake),
       "At the second pace on the ground, in the place of run.ground.brake; left out, as that."},
      {"run.pace.ground.turn", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.pace.ground.turn),
       "At the second pace on the ground, in the place of run.ground.turn; left out, as that."},
      {"run.pace.air.speed_up", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.pace.air.speed_up),
       "At the second pace in the air, in the place of run.air.speed_up; left out, as that."},
      {"run.pace.air.brake", D::acceleration, at_least(0, kMostRate),
       BUSHBABY_AT(run.pace.air.brake),
       "At the second pace in the air, in the place of run.air.brake; left out, as that."},
      {"run.pace.air.turn", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(run.pace.air.turn),
       "At the second pace in the air, in the place of run.air.turn; left out, as that."},

      {"jump.height", D::length, more_than(0), BUSHBABY_AT(jump.height),
       "Height of a full jump, take-off to apex."},
      {"jump.apex_time", D::time, more_than(0), BUSHBABY_AT(jump.apex_time),
       "Time from take-off to the apex of a full jump."},
      {"jump.launch_speed", D::speed, more_than(0), BUSHBABY_AT(jump.launch_speed),
       "Speed along up that a jump sets."},
      {"jump.gravity", D::acceleration, more_than(0, kMostRate), BUSHBABY_AT(jump.gravity),
       "Gravity while rising."},
      {"jump.cut.style",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.cut.style, kCutStyleNames),
       "What letting go of the button does to a rising jump."},
      {"jump.cut.keep", D::ratio, between(0, 1), BUSHBABY_AT(jump.cut.keep),
       "With style scale: the share of the speed along up that is kept."},
      {"jump.cut.weight", D::ratio, at_least(1), BUSHBABY_AT(jump.cut.weight),
       "With style weight: the factor on gravity until the apex."},
      {"jump.cut.min_hold", D::time, at_least(0), BUSHBABY_AT(jump.cut.min_hold),
       "No cut sooner than this after launch, so that the shortest hop has a known height."},

      {"jump.coyote", D::time, at_least(0), BUSHBABY_AT(jump.coyote),
       "How long a body that walked off or lost its ground may still jump from it."},
      {"jump.coyote_gravity", D::ratio, between(0, 1), BUSHBABY_AT(jump.coyote_gravity),
       "The share of gravity that acts during that time."},
      {"jump.buffer", D::time, at_least(0), BUSHBABY_AT(jump.buffer),
       "How long a press that could not jump is remembered, to jump at landing."},
      {"jump.hang.below_speed", D::speed, at_least(0), BUSHBABY_AT(jump.hang.below_speed),
       "Around the apex of a jump, below this speed along up or down, gravity is another."},
      {"jump.hang.gravity", D::ratio, more_than(0), BUSHBABY_AT(jump.hang.gravity),
       "The factor on gravity there: less than 1 floats, more than 1 snaps."},
      {"jump.allowed",
       D::number,
       {},
       BUSHBABY_AT(jump.allowed),
       "Whether the character may jump at all, from anything."},
      {"jump.sustain", D::time, at_least(0), BUSHBABY_AT(jump.sustain),
       "How long a held button holds the launch speed of a ground jump."},
      {"jump.charge.time", D::time, at_least(0), BUSHBABY_AT(jump.charge.time),
       "A press on the ground fills a gauge in this time, and its release launches; 0: no gauge."},
      {"jump.charge.height", D::length, more_than(0), BUSHBABY_AT(jump.charge.height),
       "Height of a jump with a full gauge; with an empty one it is a plain jump."},
      {"jump.charge.tap", D::time, at_least(0), BUSHBABY_AT(jump.charge.tap),
       "A hold of no more than this is a plain jump; the gauge fills from then on."},
      {"jump.charge.even_in",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.charge.even_in, kChargeCurveNames),
       "What grows evenly with the gauge: the height of the jump, or its launch speed."},
      {"jump.charge.bend", D::number, between(-1, 1), BUSHBABY_AT(jump.charge.bend),
       "How that grows with the gauge: -1 late, 0 evenly, 1 early."},
      {"jump.charge.may_run",
       D::number,
       {},
       BUSHBABY_AT(jump.charge.may_run),
       "Whether the character may run while it charges."},
      {"jump.air_jumps.count", D::number, between(0, kMostCount), BUSHBABY_AT(jump.air_jumps.count),
       "Jumps in the air before the next landing."},
      {"jump.air_jumps.unlimited",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.unlimited),
       "As many as wanted."},
      {"jump.air_jumps.height", D::length, more_than(0), BUSHBABY_AT(jump.air_jumps.height),
       "Height of a jump in the air; left out, it is launched like one from the ground."},
      {"jump.air_jumps.sustain", D::time, at_least(0), BUSHBABY_AT(jump.air_jumps.sustain),
       "How long a held button holds its launch speed."},
      {"jump.air_jumps.interval", D::time, at_least(0), BUSHBABY_AT(jump.air_jumps.interval),
       "The least time between a jump and one in the air after it."},
      {"jump.air_jumps.restore_on_wall",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.restore_on_wall),
       "Whether touching a wall gives all of them back."},
      {"jump.air_jumps.restore_on_bounce",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.restore_on_bounce),
       "Whether bouncing gives all of them back."},
      {"jump.air_jumps.walk_off_costs",
       D::number,
       {},
       BUSHBABY_AT(jump.air_jumps.walk_off_costs),
       "Whether losing the ground without a jump, past the time of grace, uses one up."},
      {"jump.corner_nudge", D::length, at_least(0), BUSHBABY_AT(jump.corner_nudge),
       "A head that clips a corner by no more than this is pushed past it."},
      {"jump.near_ground",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.near_ground, kNearGroundNames),
       "What a press that lands within the buffer means while air jumps are left."},

      {"fall.factor", D::ratio, more_than(0), BUSHBABY_AT(fall.factor),
       "Gravity while falling over gravity while rising."},
      {"fall.terminal_speed", D::speed, more_than(0), BUSHBABY_AT(fall.terminal_speed),
       "Speed along down at which gravity stops adding; left out, there is no limit."},
      {"fall.over_speed", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(fall.over_speed),
       "Rate at which a faster fall slows down to terminal speed; 0 keeps it."},
      {"fall.fast.speed", D::speed, more_than(0), BUSHBABY_AT(fall.fast.speed),
       "A press of down in the air sets at least this speed along down, until landing."},
      {"fall.fast.factor", D::ratio, at_least(1), BUSHBABY_AT(fall.fast.factor),
       "A press of down in the air multiplies gravity and terminal speed, until landing."},
      {"fall.fast.only_falling",
       D::number,
       {},
       BUSHBABY_AT(fall.fast.only_falling),
       "Whether such a press counts only while falling."},
      {"fall.glide.speed", D::speed, more_than(0), BUSHBABY_AT(fall.glide.speed),
       "Terminal speed while the jump button is held in a fall; left out, there is no glide."},
      {"fall.glide.brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(fall.glide.brake),
       "Rate at which a faster fall slows down to it."},

      {"wall.hold",
       D::number,
       {},
       BUSHBABY_CHOICE(wall.hold, kWallHoldNames),
       "What keeps the body at a wall: the direction towards it held, or touching it."},
      {"wall.slide_speed", D::speed, at_least(0), BUSHBABY_AT(wall.slide_speed),
       "Terminal speed at a wall; left out, the body falls there as anywhere."},
      {"wall.slide_brake", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(wall.slide_brake),
       "Rate at which a faster fall slows down to it."},
      {"wall.cling", D::time, at_least(0), BUSHBABY_AT(wall.cling),
       "How long a falling body stays where it is when it comes to a wall."},
      {"wall.coyote", D::time, at_least(0), BUSHBABY_AT(wall.coyote),
       "How long a wall that was lost may still be left by a jump."},
      {"wall.buffer", D::time, at_least(0), BUSHBABY_AT(wall.buffer),
       "How long a press is remembered for a wall; left out, as long as jump.buffer."},
      {"wall.climb.up_speed", D::speed, at_least(0), BUSHBABY_AT(wall.climb.up_speed),
       "Speed up a wall that holds the body, with up held; left out, it does not climb."},
      {"wall.climb.down_speed", D::speed, at_least(0), BUSHBABY_AT(wall.climb.down_speed),
       "Speed down it, with down held."},
      {"wall.climb.rate", D::acceleration, at_least(0, kMostRate), BUSHBABY_AT(wall.climb.rate),
       "Rate towards these speeds, and to rest; also of a faster fall."},
      {"wall.climb.reserve", D::time, more_than(0), BUSHBABY_AT(wall.climb.reserve),
       "How long it can climb and hold on before it must stand again; left out, for ever."},
      {"wall.climb.holds_on",
       D::number,
       {},
       BUSHBABY_AT(wall.climb.holds_on),
       "Whether it holds on where it is with neither held; otherwise it clings and slides then."},
      {"wall.climb.over", D::speed, at_least(0), BUSHBABY_AT(wall.climb.over),
       "Speed across, over the top, that it gets on climbing past it; 0 leaves it as it is."},
      {"wall.exit.on",
       D::number,
       {},
       BUSHBABY_ROW(on),
       "What leaves the wall: jump, away, towards, up and down, joined by +."},
      {"wall.exit.where",
       D::number,
       {},
       bind_wall_place(),
       "Where on the wall: anywhere, or where it ends below the upper half of the body."},
      {"wall.exit.hold", D::time, at_least(0), BUSHBABY_ROW(hold),
       "How long the directions must have been held."},
      {"wall.exit.away", D::speed, between(-1e6, 1e6), BUSHBABY_ROW(away),
       "Speed across that it gives, away from the wall; negative: towards it, over its top."},
      {"wall.exit.up", D::speed, at_least(0), BUSHBABY_ROW(up),
       "Speed along up that it gives at least; 0 leaves it as it is."},
      {"wall.exit.steer_lock", D::time, at_least(0), BUSHBABY_ROW(steer_lock),
       "The held direction does nothing for this long."},
      {"wall.exit.steer_fade", D::time, at_least(0), BUSHBABY_ROW(steer_fade),
       "Then the rates of the run grow from nothing to their own for this long."},
      {"wall.exit.restore",
       D::number,
       {},
       BUSHBABY_ROW(restore),
       "Whether it gives air jumps and dashes back."},
      {"wall.exit.same_wall",
       D::number,
       {},
       BUSHBABY_ROW(same_wall),
       "Whether a wall on the same side may be left again before a landing or an exit from the "
       "other side."},
      {"wall.exit.first",
       D::number,
       {},
       BUSHBABY_ROW(first),
       "Whether, beside a wall, it comes before a jump from the ground or in its time of grace."},
      {"wall.exit.sustain", D::time, at_least(0), BUSHBABY_ROW(sustain),
       "How long a held button holds the speed along up of this jump."},

      {"dash.charges", D::number, between(0, kMostCount), BUSHBABY_AT(dash.charges),
       "Dashes before the next landing; 0: none."},
      {"dash.distance", D::length, more_than(0), BUSHBABY_AT(dash.distance),
       "How far a dash goes; it stays exact when the time is rounded."},
      {"dash.time", D::time, more_than(0), BUSHBABY_AT(dash.time), "How long a dash lasts."},
      {"dash.speed", D::speed, more_than(0), BUSHBABY_AT(dash.speed),
       "How fast it is; two of distance, time and speed determine the third."},
      {"dash.direction",
       D::number,
       {},
       BUSHBABY_CHOICE(dash.direction, kDashDirectionNames),
       "Where it goes: as the character faces, as a side, one of eight, or as the stick is held."},
      {"dash.keep", D::ratio, between(0, 1), BUSHBABY_AT(dash.keep),
       "The share of its speed that is left at its end."},
      {"dash.cooldown", D::time, at_least(0), BUSHBABY_AT(dash.cooldown),
       "The least time between the end of a dash and the next."},
      {"dash.buffer", D::time, at_least(0), BUSHBABY_AT(dash.buffer),
       "How long a press that could not dash is remembered."},
      {"dash.jump_out", D::number, {}, BUSHBABY_AT(dash.jump_out), "Whether a jump may end it."},
      {"dash.restore_on_wall",
       D::number,
       {},
       BUSHBABY_AT(dash.restore_on_wall),
       "Whether touching a wall gives dashes back."},
      {"dash.restore_on_bounce",
       D::number,
       {},
       BUSHBABY_AT(dash.restore_on_bounce),
       "Whether bouncing gives dashes back."},

      {"drop.by",
       D::number,
       {},
       BUSHBABY_CHOICE(drop.by, kDropByNames),
       "What drops the body through a platform of one side that it stands on: a press of down, or "
       "of jump with down held."},
      {"drop.window", D::time, more_than(0), BUSHBABY_AT(drop.window),
       "For how long that platform then lets it through."},

      {"push.share", D::ratio, at_least(0), BUSHBABY_AT(push.share),
       "The share of a push's speed that the character takes."},
      {"push.lock", D::time, at_least(0), BUSHBABY_AT(push.lock),
       "How long it has no control after a push that does not say so itself."},
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
