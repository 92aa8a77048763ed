// Sessions: what is played is what a run gives; takes again, comparing, going back.
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gmock/gmock.h>

#include "bushbaby/data/inputs_file.h"

#include "anything.h"
#include "play_support.h"
#include "session/shown.h"

namespace bushbaby::live {
namespace {

using test::kJump;
using test::knob;
using test::kNone;
using test::kRight;
using test::kRightJump;
using test::play;
using test::session_on;

// Held for a while, then something else, as hands do.
std::vector<Controls> random_play(std::mt19937_64& random, int ticks) {
  std::vector<Controls> all;
  Controls held;
  int left = 0;
  for (int i = 0; i < ticks; ++i) {
    if (left-- == 0) {
      left = static_cast<int>(random() % 25);
      const std::int8_t sides[] = {-127, 0, 127, 127};
      held = {sides[random() % 4], sides[random() % 3], random() % 2 == 0, random() % 9 == 0,
              random() % 5 == 0};
      if (random() % 6 == 0) held = {};
    }
    all.push_back(held);
  }
  return all;
}

Trace run_of(const Tuning& tuning, const Level& level, const std::vector<Controls>& controls) {
  CharacterSubject subject(compile_book(tuning, level.zones).book);
  return *run_inputs(subject, level_stage(level), controls);
}

constexpr const char* kLevels[] = {"first-limbs.level.toml", "hollow-trunk.level.toml",
                                   "sap-pool.level.toml", "swinging-gourd.level.toml",
                                   "crooked-hollow.level.toml"};

TEST(Sessions, WhatIsPlayedIsWhatARunGives) {
  std::mt19937_64 random(1);
  for (const char* level : kLevels) {
    SCOPED_TRACE(level);
    Session session = session_on(level);
    const auto controls = random_play(random, 1500);
    for (const Controls& held : controls) session.play(held);
    EXPECT_EQ(hash_of(session.stretch()),
              hash_of(run_of(session.desk().good(), session.level(), controls)));
    // Recorded inputs are the same when they are written and read.
    EXPECT_TRUE(session.is_repeatable());
    EXPECT_EQ(session.inputs_so_far(), controls);
    const auto again = parse_inputs(write_inputs(inputs_of(session.inputs_so_far())), "a.inputs");
    ASSERT_TRUE(again);
    EXPECT_EQ(controls_of(*again, 60), controls);
  }
}

TEST(Sessions, KeysMoveTheCharacterByTheTickThatFollows) {
  Session session = session_on();
  session.frame(1 / 60.0);
  session.hands().press(Held::right);
  session.hands().press(Held::jump);
  session.hands().release(Held::jump);
  const std::int64_t before = session.shown();
  session.frame(1 / 60.0);
  ASSERT_EQ(session.shown(), before + 1);
  EXPECT_EQ(session.reel().tick(session.shown()).held, kRightJump);
  EXPECT_FALSE(session.character().grounded());
  // Frames of any length make the ticks of their time; a pause makes none.
  for (int i = 0; i < 100; ++i) session.frame(1 / 100.0);
  EXPECT_NEAR(static_cast<double>(session.shown()), static_cast<double>(before) + 61, 1);
  session.pause(true);
  const std::int64_t paused = session.shown();
  session.hands().press(Held::left);
  session.frame(0.2);
  EXPECT_EQ(session.shown(), paused);
}

// Back and on again with the same things held: the same bits, whatever was looked at in between.
TEST(Sessions, GoingBackLosesNothingUntilItIsPlayedFromThere) {
  std::mt19937_64 random(2);
  for (const char* level : kLevels) {
    SCOPED_TRACE(level);
    Session session = session_on(level);
    session.set_ghost(Ghost::of_file());
    (void)session.desk().set(knob("fall.factor"), 2.1);
    const auto controls = random_play(random, 900);
    for (const Controls& held : controls) session.play(held);
    const std::uint64_t straight = hash_of(session.stretch());
    const std::uint64_t beside = hash_of(session.ghost().trail());
    const std::size_t presses = session.presses().size();
    session.scrub(500);
    EXPECT_EQ(session.shown(), 500);
    EXPECT_EQ(session.reel().last(), 900);
    session.step_back();
    session.step_forward();
    EXPECT_EQ(session.shown(), 500);
    session.scrub(-5);
    EXPECT_EQ(session.shown(), 0);
    session.scrub(1 << 20);
    EXPECT_EQ(session.shown(), 900);
    EXPECT_EQ(hash_of(session.stretch()), straight);
    session.scrub(500);
    for (std::size_t i = 500; i < controls.size(); ++i) session.play(controls[i]);
    EXPECT_EQ(hash_of(session.stretch()), straight);
    EXPECT_EQ(hash_of(session.ghost().trail()), beside);
    EXPECT_EQ(session.inputs_so_far(), controls);
    EXPECT_EQ(session.presses().size(), presses);
  }
}

// The last take again: what the same inputs would have given from its standstill.
TEST(Sessions, TheLastTakeIsPlayedAgainWhenAKnobMoves) {
  Session session = session_on();
  play(session, kNone, 20);
  play(session, kJump, 30);
  play(session, kNone, 30);
  EXPECT_FALSE(session.again());
  ASSERT_FALSE(session.desk().set(knob("fall.factor"), 2.6));
  session.frame(0);
  ASSERT_TRUE(session.again());
  const Trace fresh = run_of(session.desk().good(), session.level(), session.inputs_so_far());
  // It stood still for 20 ticks: the take begins at the last of them.
  const auto& again = session.again()->samples;
  ASSERT_EQ(again.size(), 61U);
  for (std::size_t i = 0; i < again.size(); ++i) {
    EXPECT_EQ(again[i].feet, fresh.samples[20 + i].feet);
    EXPECT_EQ(again[i].velocity, fresh.samples[20 + i].velocity);
  }
  // What was really played stays as it was.
  EXPECT_EQ(session.played().samples.size(), 61U);
  EXPECT_NE(session.played().samples[35].feet, again[35].feet);
  // The bend follows the knob, both ways.
  const auto air_time = [&] { return find_arcs(*session.again()).front().air_time(); };
  const double heavy = air_time();
  ASSERT_FALSE(session.desk().set(knob("fall.factor"), 1.2));
  session.frame(0);
  EXPECT_GT(air_time(), heavy);
  // Standing still after it changes nothing; the next move is a take of its own.
  play(session, kNone, 60);
  EXPECT_EQ(session.again()->samples.front().tick, 20);
  play(session, kRight, 1);
  EXPECT_EQ(session.played().samples.front().tick, session.shown() - 1);
  EXPECT_FALSE(session.again());
}

TEST(Sessions, HoldingUpTheFileIsForAsLongAsItIsHeld) {
  Session session = session_on();
  ASSERT_FALSE(session.desk().set(knob("jump.height"), 4.5));
  const auto launch = [&] { return session.book().rules(0).launch_speed; };
  const double high = launch();
  session.restart();
  EXPECT_TRUE(session.is_repeatable());
  ASSERT_TRUE(session.hold_file(true));
  EXPECT_EQ(session.in_force(), InForce::file);
  EXPECT_LT(launch(), high);
  play(session, kJump, 40);
  ASSERT_EQ(find_arcs(session.played()).size(), 1U);
  EXPECT_NEAR(find_arcs(session.played()).front().height(), 3.25, 1e-9);
  EXPECT_FALSE(session.again());
  (void)session.hold_file(false);
  EXPECT_FALSE(session.is_repeatable()) << "the file's numbers moved it for a while";
  EXPECT_EQ(launch(), high);
  // What was played with the file's numbers, again with those that are set.
  session.frame(0);
  ASSERT_TRUE(session.again());
  EXPECT_GT(find_arcs(*session.again()).front().height(), 4);
  EXPECT_EQ(session.desk().changed().size(), 1U);
  // Another loop or body cannot be put on in the middle of a jump.
  ASSERT_FALSE(session.desk().set(knob("body.width"), 0.6));
  EXPECT_FALSE(session.hold_file(true));
  EXPECT_EQ(session.in_force(), InForce::present);
}

TEST(Sessions, ExaggerationIsNeverKept) {
  Session session = session_on();
  const Tuning before = session.desk().present();
  const auto steps = session.desk().steps().size();
  for (const char* key : {"jump.coyote", "fall.factor", "run.top_speed", "jump.cut.keep"}) {
    const KnobPlace place = knob(key);
    ASSERT_TRUE(session.hold_amplified(&place)) << key;
    EXPECT_EQ(session.in_force(), InForce::amplified);
    const auto amount = [&place](const Tuning& tuning) {
      const KnobValue value = get_knob(tuning, *place.knob);
      const auto* duration = std::get_if<Duration>(&value);
      return duration != nullptr ? duration->amount : std::get<double>(value);
    };
    const double large = amount(session.desk().tuning(InForce::amplified));
    EXPECT_NEAR(large, std::min(4 * amount(before), place.knob->range.hi), 1e-12) << key;
    play(session, kRightJump, 5);
    (void)session.hold_amplified(nullptr);
    EXPECT_EQ(session.in_force(), InForce::present);
    EXPECT_EQ(first_difference(session.desk().present(), before), "");
    EXPECT_EQ(session.desk().steps().size(), steps);
  }
  // What is off, no number, or what a body is cannot grow.
  for (const char* key : {"jump.sustain", "jump.cut.style", "body.width", "loop.tick_rate"}) {
    const KnobPlace place = knob(key);
    EXPECT_FALSE(session.hold_amplified(&place)) << key;
  }
}

TEST(Sessions, TheCompanionPartsWhereTheNumbersDo) {
  Opening setup = test::setup_of(test::pip_file(), "first-limbs.level.toml");
  setup.ghost = Ghost::of_file();
  Session session(std::move(setup));
  play(session, kRight, 30);
  EXPECT_FALSE(session.ghost().parted());
  play(session, kNone, 30);
  ASSERT_FALSE(session.desk().set(knob("jump.height"), 4.0));
  play(session, kNone, 10);
  const std::int64_t before = session.shown();
  play(session, kJump, 20);
  EXPECT_EQ(session.ghost().parted(), before + 1);
  ASSERT_TRUE(session.ghost().at(session.shown()));
  EXPECT_LT(session.ghost().at(session.shown())->feet.y, session.character().feet.y);
  // Back on the ground and still, they are together again.
  play(session, kNone, 90);
  play(session, kRight, 5);
  EXPECT_FALSE(session.ghost().parted());
}

TEST(Sessions, ARecordedRunIsSeenBesideAndPartsToo) {
  Session first = session_on();
  play(first, kRight, 40);
  play(first, kRightJump, 30);
  const Trace recorded = first.stretch();
  Session session = session_on();
  session.set_ghost(Ghost::of_trace("before", recorded));
  play(session, kRight, 40);
  play(session, kRight, 10);
  EXPECT_EQ(session.ghost().parted(), 41);
  EXPECT_EQ(session.ghost().at(50)->feet, recorded.samples[50].feet);
  EXPECT_FALSE(session.ghost().at(500));
}

// ---- what is reported
// -------------------------------------------------------------------------------

TEST(Sessions, LandingsSayHowFarTheyAreOff) {
  Opening setup = test::setup_of(test::pip_file(), "first-limbs.level.toml");
  setup.targets = *load_targets(test::demo("pip.targets.toml"));
  Session session(std::move(setup));
  play(session, kNone, 5);
  play(session, kJump, 60);
  ASSERT_EQ(session.landings().size(), 1U);
  const Landing& full = session.landings().back();
  EXPECT_FALSE(full.running);
  EXPECT_NEAR(full.height, 3.25, 1e-9);
  EXPECT_NEAR(*full.height_off, 0, 1e-9);
  EXPECT_EQ(landing_text(full, session.desk().units()),
            "3.25 u high (on target), 0.6687 s in the air (0.0013 under), 0 u far");
  play(session, kNone, 5);
  play(session, kJump, 2);
  play(session, kNone, 60);
  ASSERT_EQ(session.landings().size(), 2U);
  EXPECT_LT(*session.landings().back().height_off, -1.5);
  // Gone back, it is reported the one that was last then.
  session.scrub(80);
  EXPECT_EQ(session.last_landing()->tick, full.tick);
  session.scrub(3);
  EXPECT_EQ(session.last_landing(), nullptr);
}

// Off the edge of a limb: as many ticks late as the press comes behind the window.
TEST(Sessions, PressesSayHowLateAndHowEarlyTheyWere) {
  TuningFile file = test::pip_file();
  file.tuning.jump.air_jumps.count = 0;
  file.tuning.fall.glide.speed.reset();
  const auto off_an_edge = [&](int after) {
    Session session(test::setup_of(file, "first-limbs.level.toml"));
    const auto& solids = session.level().solids;
    const Solid& limb = *std::find_if(solids.begin(), solids.end(),
                                      [](const Solid& solid) { return solid.name == "low limb"; });
    EXPECT_TRUE(session.restart_at({limb.box.hi.x - 0.3, limb.box.hi.y + 0.001}));
    while (session.character().grounded()) session.play(kRight);
    play(session, kRight, after - 1);
    play(session, kRightJump, 1);
    play(session, kRight, 40);
    const auto presses = session.presses();
    EXPECT_EQ(presses.size(), 1U);
    return lateness_text(presses.back(), 60);
  };
  EXPECT_EQ(off_an_edge(7), "");  // in coyote time
  EXPECT_EQ(off_an_edge(8), "1 tick late");
  const auto before_landing = [&](int before) {
    Session session(test::setup_of(file, "first-limbs.level.toml"));
    play(session, kJump, 30);
    play(session, kNone, 1);
    Session ahead = session;
    while (!ahead.character().grounded()) ahead.play(kNone);
    const std::int64_t landed = ahead.shown();
    while (session.shown() < landed - before) session.play(kNone);
    play(session, kJump, 1);
    play(session, kNone, 40);
    return lateness_text(session.presses().back(), 60);
  };
  EXPECT_EQ(before_landing(7), "");
  EXPECT_THAT(before_landing(12), testing::EndsWith("early"));
}

TEST(Sessions, WhyIsThatOfTheTickThatIsShown) {
  Session session = session_on();
  EXPECT_FALSE(session.why());
  play(session, kRight, 10);
  play(session, kRightJump, 10);
  session.scrub(11);
  ASSERT_TRUE(session.why());
  EXPECT_EQ(session.why()->tick, 11);
  EXPECT_TRUE(session.why()->why.happens(Candidate::ground_jump));
  session.step_forward();
  EXPECT_FALSE(session.why()->why.happens(Candidate::ground_jump));
  EXPECT_EQ(session.why()->jump_held_since, 11);
}

TEST(Sessions, RestartWhereThereIsRoom) {
  Session session = session_on();
  play(session, kRight, 50);
  const Solid& root = session.level().solids[1];
  EXPECT_FALSE(session.restart_at((root.box.lo + root.box.hi) * 0.5));
  EXPECT_EQ(session.shown(), 50) << "nothing happened";
  EXPECT_TRUE(session.restart_at({root.box.lo.x + 0.5, root.box.hi.y + 2}));
  EXPECT_EQ(session.shown(), 0);
  EXPECT_FALSE(session.is_repeatable());
  session.restart();
  EXPECT_TRUE(session.is_repeatable());
  EXPECT_EQ(session.character().feet.x, session.level().start.x);
  ASSERT_FALSE(session.desk().set(knob("fall.factor"), 2.0));
  EXPECT_FALSE(session.is_repeatable());
}

TEST(Sessions, AnotherTickRateBeginsAnew) {
  Session session = session_on();
  play(session, kRight, 30);
  ASSERT_FALSE(session.desk().set(knob("loop.tick_rate"), 144.0));
  session.frame(0);
  EXPECT_EQ(session.shown(), 0);
  for (int i = 0; i < 10; ++i) session.frame(0.1);
  EXPECT_NEAR(static_cast<double>(session.shown()), 144, 1);
  EXPECT_FALSE(session.hold_file(true)) << "the file's loop is another";
}

// A minute and a half of every rate is kept, and no more.
TEST(Sessions, TheReelForgetsWhatIsLongAgo) {
  Session session = session_on();
  play(session, kNone, 90 * 60 + 500);
  EXPECT_EQ(session.reel().last() - session.reel().first(), 90 * 60);
  session.scrub(0);
  EXPECT_EQ(session.shown(), 500);
  EXPECT_FALSE(session.why()) << "the tick before is not kept";
  EXPECT_EQ(session.inputs_so_far().size(), 500U) << "but what was held is";
  session.play(kRight);
  EXPECT_EQ(session.reel().last(), 501);
  EXPECT_EQ(session.inputs_so_far().size(), 501U);
}

// A kept trace begins where it was marked, as long as that is there.
TEST(Sessions, AStretchBeginsAtItsMark) {
  Session session = session_on();
  play(session, kRight, 40);
  session.scrub(25);
  session.mark();
  EXPECT_EQ(session.marked(), 25);
  session.scrub(40);
  EXPECT_EQ(session.stretch().samples.front().tick, 25);
  EXPECT_EQ(session.stretch().samples.size(), 16U);
  session.scrub(10);  // before it
  EXPECT_EQ(session.marked(), std::nullopt);
  EXPECT_EQ(session.stretch().samples.size(), 11U);
  session.scrub(25);
  session.mark();  // once more: taken away
  session.scrub(40);
  EXPECT_EQ(session.marked(), std::nullopt);
  session.mark();
  session.restart();
  EXPECT_EQ(session.marked(), std::nullopt);
}

// More than an hour of whatever: nothing breaks, and what is shown is finite.
TEST(Sessions, AnythingCanBeDoneAtAnyTime) {
  std::mt19937_64 random(7);
  const auto next = [&random] { return static_cast<std::uint8_t>(random()); };
  for (const char* level : kLevels) {
    Session session = session_on(level);
    session.set_ghost(Ghost::of_file());
    for (int step = 0; step < 48000; ++step) {
      test::do_anything(session, next);
      ASSERT_TRUE(test::is_sound(session)) << level << ", step " << step;
    }
  }
}

}  // namespace
}  // namespace bushbaby::live
