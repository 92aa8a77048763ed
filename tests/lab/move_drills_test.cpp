// The drills of the moveset measure what the knobs say.
#include <cmath>

#include "bushbaby/lab/drills.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::rules_of;
using test::text_of;
using test::with_loop;

DrillReport report_of(const Tuning& tuning, std::string_view drill) {
  CharacterSubject subject(rules_of(tuning), tuning.name);
  return run_drill(*find_drill(drill), subject);
}

double fact(const Tuning& tuning, const std::string& name) {
  const auto value = value_of({report_of(tuning, name.substr(0, name.find('.')))}, name);
  EXPECT_TRUE(value) << name << " was not measured: "
                     << report_of(tuning, name.substr(0, name.find('.'))).facts[0].why_not;
  return value.value_or(std::nan(""));
}

std::string why_not(const Tuning& tuning, std::string_view drill) {
  return report_of(tuning, drill).facts.at(0).why_not;
}

Duration in_ticks(int n) { return {static_cast<double>(n), Duration::Unit::ticks}; }

Tuning climber() {
  Tuning tuning = test::pip();
  tuning.wall.slide_speed = 2.5;
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 7, 13, in_ticks(6)}};
  return tuning;
}

Tuning dasher() {
  Tuning tuning = test::pip();
  tuning.dash.charges = 2;
  tuning.dash.distance = 3;
  tuning.dash.time = {Duration{0.15}};
  tuning.dash.keep = 0.4;
  return tuning;
}

TEST(MoveDrills, SayWhenThereIsNothingToMeasure) {
  const Tuning plain = test::pip();
  const auto last_why_not = [&plain](std::string_view drill) {
    return report_of(plain, drill).facts.back().why_not;  // the first is a count of 0
  };
  EXPECT_EQ(last_why_not("air_jump"), "it does not jump in the air");
  EXPECT_EQ(last_why_not("wall_gain"), "it does not jump from a wall");
  EXPECT_EQ(fact(plain, "air_jump.count"), 0);
  EXPECT_EQ(fact(plain, "dash.in_air"), 0);
  EXPECT_EQ(fact(plain, "wall_gain.jumps"), 0);
  EXPECT_EQ(why_not(plain, "charge"), "it jumps at the press: it does not charge");
  EXPECT_EQ(why_not(plain, "fast_fall"), "a press of down does not speed its fall up");
  EXPECT_EQ(why_not(plain, "glide"), "a held button does not slow its fall down");
  EXPECT_EQ(why_not(plain, "dash"), "it does not dash");
  EXPECT_EQ(why_not(plain, "wall_slide"), "it falls freely along a wall");
  EXPECT_EQ(why_not(plain, "wall_press"), "it does not jump from a wall");
  EXPECT_EQ(why_not(plain, "wall_push_off"), "it does not jump from a wall");
}

TEST(MoveDrills, AirJumpCountHeightAndInterval) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(test::pip(), loop);
    tuning.jump.air_jumps.height = 4;
    tuning.jump.air_jumps.count = 3;
    EXPECT_EQ(fact(tuning, "air_jump.count"), 3) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "air_jump.height"), 4, 1e-9) << text_of(loop);
    tuning.jump.air_jumps.unlimited = true;
    EXPECT_EQ(fact(tuning, "air_jump.count"), 20) << text_of(loop);
  }
  for (const int n : {0, 2, 9, 30}) {
    Tuning tuning = test::pip();
    tuning.jump.air_jumps.count = 1;
    tuning.jump.air_jumps.height = 4;
    tuning.jump.air_jumps.interval = in_ticks(n);
    EXPECT_EQ(fact(tuning, "air_jump.earliest"), std::max(n, 2)) << n;
  }
}

TEST(MoveDrills, AirJumpsDoNotPassForCoyoteTimeNorForTheBuffer) {
  for (const int jumps : {1, 2}) {
    for (const bool costs : {false, true}) {
      for (int n = 0; n <= 8; ++n) {
        Tuning tuning = test::pip();
        tuning.jump.coyote = tuning.jump.buffer = in_ticks(n);
        tuning.jump.air_jumps.count = jumps;
        tuning.jump.air_jumps.walk_off_costs = costs;
        EXPECT_EQ(fact(tuning, "coyote.window_ticks"), n) << jumps << costs;
        EXPECT_EQ(fact(tuning, "buffer.window_ticks"), n) << jumps << costs;
      }
    }
  }
  Tuning endless = test::pip();
  endless.jump.coyote = in_ticks(6);
  endless.jump.air_jumps.unlimited = true;
  EXPECT_EQ(fact(endless, "coyote.window_ticks"), 6) << "by its events";
  EXPECT_EQ(why_not(endless, "buffer"), "its jumps in the air never end");
}

TEST(MoveDrills, ChargeIsTheCurveOfTheTuning) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(test::pip(), loop);
    tuning.jump.charge.time = {Duration{0.5}};
    tuning.jump.charge.height = 5;
    // A tick of the half second: a loop that steps is a little off the straight line.
    EXPECT_NEAR(fact(tuning, "charge.lowest"), 3.25 + 1.75 / (0.5 * loop.tick_rate), 0.01)
        << text_of(loop);
    EXPECT_NEAR(fact(tuning, "charge.highest"), 5, 1e-9) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "charge.full_time"), 0.5, 1e-9) << text_of(loop);
  }
  Tuning tuning = test::pip();
  tuning.jump.charge.time = {Duration{0.5}};
  tuning.jump.charge.height = 5;
  EXPECT_NEAR(fact(tuning, "charge.largest_step"), 1.75 / 30, 1e-9);
  EXPECT_NEAR(fact(tuning, "stand_jump.height"), 5, 1e-9) << "held, and let go when it is full";
  EXPECT_NEAR(fact(tuning, "hop.height"), 3.25 + 1.75 / 30, 1e-9);
  tuning.jump.charge.tap = in_ticks(6);
  EXPECT_NEAR(fact(tuning, "hop.height"), 3.25, 1e-9) << "a tap is a plain jump";
  EXPECT_NEAR(fact(tuning, "charge.full_time"), 0.5, 1e-9);
}

TEST(MoveDrills, AirControlGrowsWithTheAirRates) {
  Tuning stiff = test::pip();
  stiff.run.air = {{0, 0, 0}};
  EXPECT_EQ(fact(stiff, "air_control.from_rest"), 0);
  EXPECT_NEAR(fact(stiff, "air_control.span"), 0, 1e-9);
  // From rest at 10 u/s² for the whole air time, by hand.
  Tuning soft = test::pip();
  soft.run.air = {{10, 10, 10}};
  const double time = fact(soft, "stand_jump.air_time");
  EXPECT_NEAR(fact(soft, "air_control.from_rest"), 5 * time * time, 0.3)
      << "the press tick does not steer";
  EXPECT_GT(fact(test::pip(), "air_control.span"), fact(soft, "air_control.span"));
}

TEST(MoveDrills, FastFallAndGlideByHand) {
  Tuning tuning = test::pip();
  tuning.fall.fast.speed = 40;
  const double height = 3.25;
  const Rules rules = rules_of(tuning);
  const double plain = std::sqrt(2 * height / rules.fall_gravity);
  // Within a tick of the apex the press sets 40 u/s, which is kept.
  EXPECT_NEAR(fact(tuning, "fast_fall.time_saved"), plain - height / 40, 1.5 / 60);
  EXPECT_EQ(fact(tuning, "fast_fall.landing_speed"), 40);
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning glider = with_loop(test::pip(), loop);
    glider.fall.glide.speed = 3;
    EXPECT_EQ(fact(glider, "glide.speed"), 3) << text_of(loop);
    EXPECT_GT(fact(glider, "glide.time_gained"), 10) << text_of(loop);
  }
}

TEST(MoveDrills, DashIsTheDashWritten) {
  for (const JumpLoop& loop : all_loops({24, 30, 60, 144, 240})) {
    const Tuning tuning = with_loop(dasher(), loop);
    const double ticks = std::floor(0.15 * loop.tick_rate + 0.5 + 1e-9);
    EXPECT_NEAR(fact(tuning, "dash.distance"), 3, 1e-9) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "dash.time"), ticks / loop.tick_rate, 1e-9) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "dash.kept_speed"), 0.4 * fact(tuning, "dash.speed"), 1e-9);
    EXPECT_EQ(fact(tuning, "dash.in_air"), 2) << text_of(loop);
  }
  for (const int n : {0, 1, 7, 20}) {
    Tuning tuning = dasher();
    tuning.dash.cooldown = in_ticks(n);
    EXPECT_EQ(fact(tuning, "dash.cooldown"), n);
  }
}

TEST(MoveDrills, PushTimeIsTheLock) {
  for (const JumpLoop& loop : all_loops({60})) {
    for (const int n : {0, 1, 12, 40}) {
      Tuning tuning = with_loop(test::pip(), loop);
      tuning.push.lock = in_ticks(n);
      EXPECT_EQ(fact(tuning, "push.lock_ticks"), n) << text_of(loop);
    }
  }
  Tuning heavy = test::pip();
  heavy.push.share = 0.25;
  EXPECT_LT(fact(heavy, "push.distance"), fact(test::pip(), "push.distance") / 2);
}

TEST(MoveDrills, WallSlideAndCling) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (const int n : {0, 1, 6}) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.wall.cling = in_ticks(n);
      EXPECT_EQ(fact(tuning, "wall_slide.speed"), 2.5) << text_of(loop);
      // A loop that moves by the speed of before lets go a tick late.
      const int late = loop.integrator == Integrator::explicit_step && n > 0 ? 1 : 0;
      EXPECT_NEAR(fact(tuning, "wall_slide.cling"), n, late) << text_of(loop);
    }
  }
}

TEST(MoveDrills, WallWindowsMeasuredAreTheWindowsWritten) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (int n = 0; n <= 8; n += 2) {
      for (const int air_jumps : {0, 1}) {
        Tuning tuning = with_loop(climber(), loop);
        tuning.wall.coyote = in_ticks(n);
        tuning.wall.buffer = in_ticks(n);
        tuning.jump.air_jumps.count = air_jumps;
        const std::string where = text_of(loop) + ", " + std::to_string(n) + " ticks";
        EXPECT_EQ(fact(tuning, "wall_press.late"), n) << where;
        EXPECT_EQ(fact(tuning, "wall_press.early"), n) << where;
      }
    }
  }
}

TEST(MoveDrills, WallLockMeasuredIsTheLockWritten) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (int n = 0; n <= 12; n += 3) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.wall.exits[0].steer_lock = in_ticks(n);
      EXPECT_EQ(fact(tuning, "wall_push_off.lock_ticks"), n) << text_of(loop);
    }
  }
}

// A jump in the air is none from a wall, even where both look the same from outside.
TEST(MoveDrills, AJumpInTheAirBesideAWallIsNoWallJump) {
  Tuning tuning = test::pip();
  tuning.jump.air_jumps.count = 2;
  EXPECT_EQ(fact(tuning, "wall_gain.jumps"), 0);
  for (const char* drill : {"wall_press", "wall_push_off"}) {
    EXPECT_EQ(why_not(tuning, drill), "it does not jump from a wall");
  }
}

TEST(MoveDrills, WallRegainCountsTheJumpsThatOneWallGives) {
  Tuning tuning = climber();
  EXPECT_EQ(fact(tuning, "wall_gain.jumps"), 20);
  tuning.wall.exits[0].same_wall = false;
  EXPECT_EQ(fact(tuning, "wall_gain.jumps"), 1);
  tuning.wall.exits[0].same_wall = true;
  // Straight up: v²/2g higher with each jump, and the wall goes on holding the body.
  tuning.wall.exits[0].away = 0;
  const Rules rules = rules_of(tuning);
  EXPECT_EQ(fact(tuning, "wall_gain.jumps"), 20);
  EXPECT_NEAR(fact(tuning, "wall_gain.height"), 13 * 13 / (2 * rules.rise_gravity), 0.01);
  EXPECT_EQ(fact(tuning, "wall_push_off.away"), 0);
  // A press that lets go is no jump.
  tuning.wall.exits = {{"jump + down"}, {"jump", WallPlace::anywhere, {}, 7, 13}};
  EXPECT_EQ(fact(tuning, "wall_gain.jumps"), 20) << "without down";
}

TEST(MoveDrills, WallRegainGrowsWithTheSpeedUp) {
  Tuning low = climber();
  Tuning high = climber();
  high.wall.exits[0].up = 16;
  EXPECT_GT(fact(high, "wall_gain.height"), fact(low, "wall_gain.height") + 0.5);
  EXPECT_GT(fact(high, "wall_gain.height"), 0) << "it climbs";
}

TEST(MoveDrills, ClimbMeasuresItsKnobsInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(climber(), loop);
    tuning.wall.climb.up_speed = 3;
    tuning.wall.climb.down_speed = 1.5;
    tuning.wall.climb.reserve = Duration{2};
    EXPECT_NEAR(fact(tuning, "climb.up_speed"), 3, 1e-9) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "climb.down_speed"), 1.5, 1e-9) << text_of(loop);
    // Two seconds of holding on, the first of which stop the fall; then gravity stops the rise.
    EXPECT_NEAR(fact(tuning, "climb.time"), 2, 0.15) << text_of(loop);
    EXPECT_NEAR(fact(tuning, "climb.height"), 6, 0.4) << text_of(loop);
    EXPECT_EQ(fact(tuning, "climb.over"), 1) << text_of(loop);
    tuning.wall.climb.reserve = Duration{0.5};
    EXPECT_EQ(fact(tuning, "climb.over"), 0) << "the wall is 2.8 u high: " << text_of(loop);
  }
}

TEST(MoveDrills, ClimbSaysWhatDoesNotEndAndWhatIsNone) {
  Tuning tuning = climber();
  EXPECT_EQ(fact(tuning, "climb.over"), 0);
  EXPECT_EQ(why_not(tuning, "climb"), "it does not climb along a wall");
  tuning.wall.climb.up_speed = 3;
  tuning.wall.exits.push_back({"down"});
  for (const Fact& fact : report_of(tuning, "climb").facts) {
    const bool ends = fact.info->name != "climb.time" && fact.info->name != "climb.height";
    EXPECT_EQ(fact.or_more, !ends) << fact.info->name;
    if (fact.info->name == "climb.down_speed") {
      EXPECT_EQ(fact.why_not, "with down held it falls");
    }
  }
}

TEST(MoveDrills, PaceMeasuresItsKnobs) {
  Tuning tuning = test::pip();
  EXPECT_EQ(why_not(tuning, "sprint"), "its button changes no speed");
  tuning.run.sprint.top_speed = 12;
  tuning.run.sprint.ground.accelerate = 24;
  EXPECT_EQ(fact(tuning, "sprint.top_speed"), 12);
  EXPECT_NEAR(fact(tuning, "sprint.time"), 0.5, 1e-9);
  const double ratio = fact(tuning, "sprint.jump_distance") / fact(tuning, "running_jump.distance");
  EXPECT_NEAR(ratio, 12.0 / 7, 1e-9) << "the same time in the air";
  EXPECT_EQ(fact(tuning, "sprint.landing_speed"), 7);
  tuning.run.sprint.in_air = SprintInAir::kept;
  EXPECT_EQ(fact(tuning, "sprint.landing_speed"), 12);
}

TEST(MoveDrills, WallJumpsFromTheFootAndTheirHeight) {
  Tuning tuning = climber();
  tuning.jump.cut.style = CutStyle::none;
  const Rules rules = rules_of(tuning);
  const double plain = 13.0 * 13.0 / (2 * rules.rise_gravity);
  EXPECT_NEAR(fact(tuning, "wall_push_off.height"), plain, 1e-9) << "the closed form";
  EXPECT_EQ(fact(tuning, "wall_press.standing"), 0);
  tuning.wall.exits[0].sustain = in_ticks(6);
  tuning.wall.exits[0].first = true;
  EXPECT_NEAR(fact(tuning, "wall_push_off.height"), plain + 13 * 0.1, 1e-9);
  EXPECT_EQ(fact(tuning, "wall_press.standing"), 1);
}

}  // namespace
}  // namespace bushbaby
