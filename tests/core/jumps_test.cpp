// The ways to jump: sustained, charged, in the air, and when none is allowed.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/why.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr double kSameHeight = 1e-9;

// The highest place of the feet over their start, while `held` says what is held at each tick.
template <class Held>
double top_of(const Rules& rules, const Held& held, int ticks = 400) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  const double floor = run.character.feet.y;
  double top = floor;
  for (int i = 0; i < ticks; ++i) {
    for (const Event& event : run.advance(held(i))) top = std::max(top, event.place.y);
    top = std::max(top, run.character.feet.y);
  }
  return top - floor;
}

// ---- sustain ------------------------------------------------------------------------------------

TEST(Sustain, TheHeightAskedForIsThatOfTheWholeJumpInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (const double ticks : {1.0, 4.0, 9.0}) {
      Tuning tuning = with_loop(pip(), loop);
      tuning.jump.sustain = {ticks, Duration::Unit::ticks};
      const double height = top_of(rules_of(tuning), [](int) { return kJump; });
      EXPECT_NEAR(height, 3.25, kSameHeight) << text_of(loop) << ", " << ticks << " ticks";
    }
  }
}

TEST(Sustain, AnyTwoQuantitiesGiveTheSameJump) {
  const JumpShape shape{{1.2, 0.6}, 0.1};
  const JumpAnswer jump = derive_jump({3.25, 0.5, {}, {}}, {}, shape);
  ASSERT_TRUE(jump.ok()) << describe(jump.refusal);
  const Apex apex = predict_apex(jump.launch_speed, jump.gravity, {}, shape);
  EXPECT_NEAR(apex.height, 3.25, 1e-12);
  EXPECT_NEAR(apex.time, 0.5, 1e-12);
  for (const JumpAsk& ask :
       {JumpAsk{3.25, {}, jump.launch_speed, {}}, JumpAsk{3.25, {}, {}, jump.gravity},
        JumpAsk{{}, 0.5, jump.launch_speed, {}}, JumpAsk{{}, 0.5, {}, jump.gravity}}) {
    const JumpAnswer same = derive_jump(ask, {}, shape);
    EXPECT_NEAR(same.launch_speed, jump.launch_speed, 1e-9);
    EXPECT_NEAR(same.gravity, jump.gravity, 1e-9);
  }
  EXPECT_FALSE(derive_jump({3.25, 0.1, {}, {}}, {}, shape).ok()) << "no time left to slow down";
  EXPECT_FALSE(derive_jump({1.0, {}, 20.0, {}}, {}, shape).ok()) << "held alone it is higher";
}

TEST(Sustain, LettingGoEndsItAndTheLaunchSpeedIsHeldTickByTick) {
  Tuning tuning = pip();
  tuning.jump.cut.style = CutStyle::none;
  tuning.jump.sustain = {6, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (int held = 1; held <= 8; ++held) {
    Mover run(rules, world, {0, 0});
    for (int tick = 1; tick <= 8; ++tick) {
      run.advance(tick <= held ? kJump : kNothing);
      const int free = std::max(0, tick - std::min(held, 6));
      EXPECT_NEAR(run.character.velocity.y,
                  rules.launch_speed - free * rules.rise_gravity * rules.dt, 1e-9)
          << held << " held, tick " << tick;
    }
  }
}

TEST(Sustain, ATapAndABumpedHeadEndIt) {
  Tuning tuning = pip();
  tuning.jump.sustain = {20, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld low = world_of({{{-9, -1}, {9, 0}}, {{-9, 2}, {9, 3}}});
  Mover run(rules, low, {0, 0});
  run.advance(kJump, 5);
  EXPECT_EQ(run.all(EventKind::bumped_head).size(), 1U);
  EXPECT_LT(run.character.velocity.y, 0);
  EXPECT_EQ(run.character.sustain_left, 0);
}

TEST(Sustain, OfAJumpInTheAirCountsInTheHeightAskedForInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.jump.cut.style = CutStyle::none;
    tuning.jump.air_jumps.count = 1;
    tuning.jump.air_jumps.height = 2;
    tuning.jump.air_jumps.sustain = {4, Duration::Unit::ticks};
    const Rules rules = rules_of(tuning);
    const LevelWorld world(std::vector<Box>{});
    for (const bool held : {true, false}) {
      Character character;
      double top = 0;
      for (int i = 0; i < 400; ++i) {
        advance(character, i == 0 || held ? kJump : kNothing, rules, world);
        top = std::max(top, character.feet.y);
        EXPECT_EQ(character.jump_kind, JumpKind::air);
      }
      if (loop.integrator != Integrator::exact && held) {
        EXPECT_NEAR(top, 2, kSameHeight) << text_of(loop);
      } else if (held) {
        EXPECT_LE(top, 2 + kSameHeight);
        EXPECT_GT(top, 2 - rules.rise_gravity * rules.dt * rules.dt / 8);
      } else {
        EXPECT_LT(top, 2 - 0.2) << "let go, nothing sustains it";
      }
    }
  }
}

TEST(Sustain, OfAWallJumpIsTheRowsOwn) {
  Tuning tuning = pip();
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 8, 10}, {}};
  tuning.wall.exits[0].sustain = {9, Duration::Unit::ticks};
  tuning.wall.exits.pop_back();
  const Rules rules = rules_of(tuning);
  const LevelWorld world = world_of({{{-50, -1}, {50, 0}}, {{5, -1}, {6, 60}}});
  Mover run(rules, world, {4.59, 20});
  run.advance(kRight, 10);
  for (int tick = 1; tick <= 12; ++tick) {
    run.advance(kRightJump);
    const int free = std::max(0, tick - 9);
    EXPECT_NEAR(run.character.velocity.y, 10 - free * rules.rise_gravity * rules.dt, 1e-9) << tick;
  }
  EXPECT_EQ(run.character.jump_kind, JumpKind::wall);
}

// ---- charge -------------------------------------------------------------------------------------

Tuning charger() {
  Tuning tuning = pip();
  tuning.jump.height = 1.5;
  tuning.jump.charge.time = {30, Duration::Unit::ticks};
  tuning.jump.charge.height = 4.5;
  return tuning;
}

double charged_height(const Rules& rules, int held) {
  return top_of(rules, [held](int i) { return i < held ? kJump : kNothing; });
}

TEST(Charge, OneContinuousCurveFromThePlainHop) {
  for (const double bend : {-1.0, 0.0, 0.5, 1.0}) {
    Tuning tuning = charger();
    tuning.jump.charge.bend = bend;
    const Rules rules = rules_of(tuning);
    for (int held = 1; held <= 35; ++held) {
      const double s = std::min(1.0, held / 30.0);
      const double share = s + bend * s * (1 - s);
      EXPECT_NEAR(charged_height(rules, held), 1.5 + 3 * share, kSameHeight) << held << ' ' << bend;
    }
  }
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(charger(), loop));
    EXPECT_NEAR(charged_height(rules, 1), 1.6, 0.002) << text_of(loop);
    EXPECT_NEAR(charged_height(rules, 30), 4.5, kSameHeight) << text_of(loop);
    EXPECT_NEAR(charged_height(rules, 90), 4.5, kSameHeight) << text_of(loop);
  }
}

TEST(Charge, TheGaugeIsReadableAndReleaseLaunches) {
  const Rules rules = rules_of(charger());
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::charge_started).size(), 1U);
  EXPECT_DOUBLE_EQ(charge_of(run.character, rules), 1.0 / 30);
  run.advance(kRightJump, 14);
  EXPECT_DOUBLE_EQ(charge_of(run.character, rules), 0.5);
  EXPECT_GT(run.character.velocity.x, 6) << "running is allowed by default";
  EXPECT_TRUE(run.character.grounded());
  run.advance(kNothing);
  ASSERT_EQ(run.all(EventKind::jumped).size(), 1U);
  EXPECT_EQ(detail_of(run.all(EventKind::jumped)[0]), "charged");
  EXPECT_EQ(charge_of(run.character, rules), 0);
  run.advance(kNothing, 5);
  EXPECT_TRUE(run.all(EventKind::cut).empty()) << "launched on release: that is no cut";
}

// The same hold in seconds launches alike at every rate, whatever the curve grows in.
TEST(Charge, IsTheSameHoldAtEveryTickRate) {
  for (const ChargeCurve curve : {ChargeCurve::height, ChargeCurve::speed}) {
    for (const double tap : {0.0, 0.1}) {
      for (int tenths = 1; tenths <= 6; ++tenths) {
        std::vector<double> heights;
        for (const double rate : {30.0, 60.0, 120.0, 240.0}) {
          Tuning tuning = at_tick_rate(charger(), rate);
          tuning.jump.charge.tap = Duration{tap};
          tuning.jump.charge.even_in = curve;
          heights.push_back(charged_height(rules_of(tuning), static_cast<int>(tenths * rate / 10)));
        }
        for (const double height : heights) EXPECT_NEAR(height, heights[0], kSameHeight) << tenths;
        const double s = std::clamp((tenths / 10.0 - tap) / (0.5 - tap), 0.0, 1.0);
        // Heights go with the square of the launch speed.
        const double v = std::sqrt(1.5) + s * (std::sqrt(4.5) - std::sqrt(1.5));
        EXPECT_NEAR(heights[0], curve == ChargeCurve::height ? 1.5 + 3 * s : v * v, 1e-6) << tenths;
      }
    }
  }
}

TEST(Charge, ATapIsAPlainJumpAndTheCurveBeginsThere) {
  Tuning tuning = charger();
  tuning.jump.charge.tap = {6, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  for (int held = 1; held <= 6; ++held) {
    EXPECT_NEAR(charged_height(rules, held), 1.5, kSameHeight) << held;
  }
  EXPECT_NEAR(charged_height(rules, 7), 1.5 + 3.0 / 24, kSameHeight) << "no dead step";
  EXPECT_NEAR(charged_height(rules, 30), 4.5, kSameHeight);
  tuning.jump.charge.tap = tuning.jump.charge.time;
  const Compiled compiled = compile(tuning);
  ASSERT_FALSE(compiled.ok());
  EXPECT_EQ(compiled.violations.front().key, "jump.charge.tap");
}

TEST(Charge, MayRootTheFeet) {
  Tuning tuning = charger();
  tuning.jump.charge.may_run = false;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 30);
  run.advance(kRightJump, 30);
  EXPECT_EQ(run.character.velocity.x, 0);
}

TEST(Charge, GoesOnOverTheEdgeWithinTheTimeOfGraceOnly) {
  Tuning tuning = charger();
  tuning.jump.coyote = {5, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  for (int after = 1; after <= 8; ++after) {
    Mover run(rules, ledge, {-1, 0});
    run.advance(kRightJump, 2);
    while (run.character.grounded()) run.advance(kRightJump);
    run.advance(kRightJump, after - 1);
    run.advance(kRight);
    const bool in_time = after <= 5;
    EXPECT_EQ(run.all(EventKind::jumped).size(), in_time ? 1U : 0U) << after;
    EXPECT_EQ(run.all(EventKind::charge_lost).size(), in_time ? 0U : 1U) << after;
    EXPECT_EQ(run.all(EventKind::coyote_used).size(), in_time ? 1U : 0U) << after;
  }
}

TEST(Charge, ABufferedPressChargesIfHeldAndHopsIfNot) {
  Tuning tuning = charger();
  tuning.jump.buffer = {10, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const bool holds : {true, false}) {
    Mover run(rules, world, {0, 0.6});
    while (run.character.feet.y > 0.3) run.advance(kNothing);
    run.advance(kJump);
    while (!run.character.grounded()) run.advance(holds ? kJump : kNothing);
    run.advance(holds ? kJump : kNothing);
    EXPECT_EQ(run.all(EventKind::jumped).size(), holds ? 0U : 1U);
    EXPECT_EQ(run.all(EventKind::charge_started).size(), holds ? 1U : 0U);
    EXPECT_EQ(run.all(EventKind::buffer_used).size(), 1U);
  }
}

TEST(Charge, RefusesWhatCannotWork) {
  const auto refusal = [](const Tuning& tuning) {
    const Compiled compiled = compile(tuning);
    return compiled.ok() ? std::string() : compiled.violations.front().key;
  };
  Tuning tuning = charger();
  tuning.jump.charge.height.reset();
  EXPECT_EQ(refusal(tuning), "jump.charge.height");
  tuning.jump.charge.height = 1;
  EXPECT_EQ(refusal(tuning), "jump.charge.height") << "lower than the hop";
  tuning = charger();
  tuning.jump.sustain = Duration{0.1};
  EXPECT_EQ(refusal(tuning), "jump.sustain");
}

// ---- air jumps ----------------------------------------------------------------------------------

Tuning flier(int count) {
  Tuning tuning = pip();
  tuning.jump.cut.style = CutStyle::none;
  tuning.jump.air_jumps.count = count;
  tuning.jump.air_jumps.height = 2;
  return tuning;
}

// Presses jump every other tick for a while and counts the jumps of a kind.
std::size_t jumps_by_mashing(Mover& run, int presses, std::string_view kind) {
  for (int i = 0; i < presses; ++i) {
    run.advance(kJump);
    run.advance(kNothing);
  }
  std::size_t count = 0;
  for (const Event& event : run.all(EventKind::jumped)) count += detail_of(event) == kind ? 1U : 0U;
  return count;
}

TEST(AirJump, HasItsOwnHeightInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(flier(1), loop));
    const LevelWorld world(flat_floor(), kNothingTravels);
    Mover run(rules, world, {0, 0});
    run.advance(kJump);
    while (run.character.velocity.y > 0) run.advance(kNothing);
    const double from = run.character.feet.y;
    double top = from;
    run.advance(kJump);
    for (int i = 0; i < 150; ++i) {
      for (const Event& event : run.advance(kNothing)) top = std::max(top, event.place.y);
      top = std::max(top, run.character.feet.y);
    }
    EXPECT_NEAR(top - from, 2, kSameHeight) << text_of(loop);
  }
}

TEST(AirJump, CountsUntilTheNextLanding) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (int count = 0; count <= 4; ++count) {
    const Rules rules = rules_of(flier(count));
    Mover run(rules, world, {0, 0});
    run.advance(kJump);
    run.advance(kNothing);
    EXPECT_EQ(jumps_by_mashing(run, 8, "air"), static_cast<std::size_t>(count));
    while (!run.character.grounded()) run.advance(kNothing);
    EXPECT_EQ(run.character.air_jumps_used, 0);
  }
  Tuning endless = flier(0);
  endless.jump.air_jumps.unlimited = true;
  const Rules rules = rules_of(endless);
  Mover run(rules, world, {0, 0});
  EXPECT_EQ(jumps_by_mashing(run, 50, "air"), 49U);
}

TEST(AirJump, KeepsItsInterval) {
  Tuning tuning = flier(9);
  tuning.jump.air_jumps.interval = {7, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  jumps_by_mashing(run, 30, "air");
  const auto jumps = run.all(EventKind::jumped);
  ASSERT_GE(jumps.size(), 5U);
  for (std::size_t i = 1; i < jumps.size(); ++i) {
    EXPECT_EQ(jumps[i].tick - jumps[i - 1].tick, 8) << "the first even tick from 7 on";
  }
}

TEST(AirJump, WalkingOffMayCostOneAfterTheTimeOfGrace) {
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  for (const bool costs : {false, true}) {
    for (const int coyote : {0, 4}) {
      Tuning tuning = flier(2);
      tuning.jump.air_jumps.walk_off_costs = costs;
      tuning.jump.coyote = {static_cast<double>(coyote), Duration::Unit::ticks};
      const Rules rules = rules_of(tuning);
      Mover run(rules, ledge, {-1, 0});
      while (run.character.grounded()) run.advance(kRight);
      run.advance(kRight, 6);
      EXPECT_EQ(run.character.air_jumps_used, costs ? 1 : 0) << coyote;
      EXPECT_EQ(jumps_by_mashing(run, 5, "air"), costs ? 1U : 2U) << coyote;
    }
  }
}

TEST(AirJump, JustAboveTheGroundMayWaitForTheLanding) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const NearGround means : {NearGround::air_jump, NearGround::buffer}) {
    Tuning tuning = flier(1);
    tuning.jump.buffer = {6, Duration::Unit::ticks};
    tuning.jump.near_ground = means;
    const Rules rules = rules_of(tuning);
    // Ticks to the landing when jump is pressed: within the buffer a press waits, before it not.
    for (int early = 1; early <= 9; ++early) {
      Mover probe(rules, world, {0, 4});
      int landing = 0;
      while (!probe.character.grounded()) {
        probe.advance(kNothing);
        ++landing;
      }
      Mover run(rules, world, {0, 4});
      run.advance(kNothing, landing - early);
      run.advance(kJump);
      run.advance(kNothing, early);
      const auto jumps = run.all(EventKind::jumped);
      ASSERT_EQ(jumps.size(), 1U) << early;
      const bool waits = means == NearGround::buffer && early <= 6;
      EXPECT_EQ(detail_of(jumps[0]), waits ? "ground" : "air") << early;
    }
  }
}

// ---- permission ---------------------------------------------------------------------------------

TEST(Permission, IsTheTuningsTheSurfacesAndAStatuss) {
  const Level floor = flat_floor();
  Level thorns = floor;
  thorns.solids[0].traits.jump = false;
  const LevelWorld world(floor, kNothingTravels);
  const LevelWorld thorn_world(thorns, kNothingTravels);
  Tuning tuning = pip();
  const Rules rules = rules_of(tuning);
  tuning.jump.allowed = false;
  const Rules barred = rules_of(tuning);

  Mover free(rules, world, {0, 0});
  EXPECT_TRUE(available(free.character, kNothing, rules, world).possible);
  EXPECT_EQ(available(free.character, kNothing, barred, world).trial.hurdle, Hurdle::not_allowed);
  EXPECT_EQ(describe(available(free.character, kNothing, barred, world).trial),
            "no ground jump: the tuning does not allow it (jump.allowed)");

  Mover on_thorns(rules, thorn_world, {0, 0});
  on_thorns.advance(kJump, 5);
  EXPECT_TRUE(on_thorns.all(EventKind::jumped).empty());
  EXPECT_EQ(available(on_thorns.character, kNothing, rules, thorn_world).trial.hurdle,
            Hurdle::surface);

  set_status(free.character, StatusKind::no_jump, {4, 77});
  const Availability locked = available(free.character, kNothing, rules, world);
  EXPECT_FALSE(locked.possible);
  EXPECT_EQ(describe(locked.trial), "no ground jump: locked by no_jump for another 4 ticks");
  for (int i = 0; i < 4; ++i) {
    free.advance(kJump);
    free.advance(kNothing, 0);
  }
  EXPECT_TRUE(free.all(EventKind::jumped).empty());
  ASSERT_EQ(free.all(EventKind::locked).size(), 1U);
  EXPECT_EQ(free.all(EventKind::locked)[0].value, 77) << "the game's own reason";
  free.advance(kNothing);
  EXPECT_EQ(free.all(EventKind::unlocked).size(), 1U);
  free.advance(kJump);
  EXPECT_EQ(free.all(EventKind::jumped).size(), 1U);
}

TEST(Permission, APressDuringALockIsRemembered) {
  Tuning tuning = pip();
  tuning.jump.buffer = {5, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const StatusKind kind : {StatusKind::stun, StatusKind::no_jump, StatusKind::no_control}) {
    for (int early = 1; early <= 7; ++early) {
      Mover run(rules, world, {0, 0});
      set_status(run.character, kind, {10});
      run.advance(kNothing, 10 - early);
      run.advance(kJump, early);
      EXPECT_TRUE(run.all(EventKind::jumped).empty());
      run.advance(kJump);
      EXPECT_EQ(run.all(EventKind::jumped).size(), early <= 5 ? 1U : 0U)
          << name_of(kind) << ' ' << early;
    }
  }
}

}  // namespace
}  // namespace bushbaby
