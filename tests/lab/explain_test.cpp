// What became of each press: by hand, and against the events of random play.
#include "bushbaby/lab/explain.h"

#include <set>

#include "situation.h"

namespace bushbaby {
namespace {

using test::kJump;
using test::kNothing;
using test::rules_of;
using test::Situation;

std::vector<Controls> held(std::initializer_list<std::pair<Controls, int>> spans) {
  std::vector<Controls> controls;
  for (const auto& [what, ticks] : spans) {
    controls.insert(controls.end(), static_cast<std::size_t>(ticks), what);
  }
  return controls;
}

std::vector<Press> presses_with(const Tuning& tuning, const std::vector<Controls>& controls) {
  CharacterSubject subject(rules_of(tuning));
  const auto presses = follow_presses(subject, floor_stage(), controls);
  EXPECT_TRUE(presses);
  return presses.value_or(std::vector<Press>{});
}

TEST(Presses, AreRememberedAsLongAsTheBufferIsAndNoLonger) {
  // The tick that ends on the ground, of a jump let go at once: the first decision there is next.
  Tuning tuning = test::pip();
  CharacterSubject subject(rules_of(tuning));
  const auto trace = run_inputs(subject, floor_stage(), held({{kJump, 1}, {kNothing, 60}}));
  ASSERT_TRUE(trace);
  std::int64_t landed = 0;
  for (const Event& event : trace->events) {
    if (event.kind == EventKind::landed) landed = event.tick;
  }
  ASSERT_GT(landed, 15);
  const int n = 6;
  tuning.jump.buffer = {static_cast<double>(n), Duration::Unit::ticks};
  for (int early = 1; early <= n + 3; ++early) {
    for (const bool kept : {false, true}) {
      const auto press_at = static_cast<int>(landed + 1 - early);
      const auto presses = presses_with(
          tuning,
          held({{kJump, 1}, {kNothing, press_at - 2}, {kJump, 1}, {kept ? kJump : kNothing, 40}}));
      ASSERT_GE(presses.size(), 2U);
      const Press& press = presses[1];
      EXPECT_EQ(press.tick, press_at);
      EXPECT_EQ(press.button, Button::jump);
      if (early <= n) {
        EXPECT_EQ(press.end, Press::End::done) << early;
        EXPECT_EQ(press.remembered, early);
        EXPECT_EQ(press.end_tick, landed + 1);
        EXPECT_EQ(press.trial.candidate, Candidate::ground_jump);
      } else {
        EXPECT_EQ(press.end, Press::End::nothing) << early;
        EXPECT_EQ(press.remembered, n);
        EXPECT_EQ(press.too_soon_for, landed + 1);
        EXPECT_EQ(*press.too_soon_for - press.end_tick, early - n) << "ran out so long before";
        EXPECT_EQ(press.lasted, kept);
      }
    }
  }
}

TEST(Presses, FillAGaugeAreReplacedOrLeftOpen) {
  Tuning tuning = test::pip();
  tuning.jump.charge.time = {10, Duration::Unit::ticks};
  tuning.jump.charge.height = 5;
  const auto charged = presses_with(tuning, held({{kNothing, 3}, {kJump, 6}, {kNothing, 5}}));
  ASSERT_EQ(charged.size(), 1U);
  EXPECT_EQ(charged[0].end, Press::End::charged);
  EXPECT_EQ(charged[0].tick, 4);
  EXPECT_EQ(charged[0].end_tick, 10);
  EXPECT_EQ(presses_with(tuning, held({{kJump, 6}}))[0].end, Press::End::open);

  tuning = test::pip();
  tuning.jump.buffer = {20, Duration::Unit::ticks};
  const auto twice = presses_with(
      tuning, held({{kJump, 1}, {kNothing, 1}, {kJump, 1}, {kNothing, 1}, {kJump, 1}}));
  ASSERT_EQ(twice.size(), 3U);
  EXPECT_EQ(twice[0].end, Press::End::done);
  EXPECT_EQ(twice[1].end, Press::End::replaced);
  EXPECT_EQ(twice[1].end_tick, 5);
  EXPECT_EQ(twice[2].end, Press::End::open);
}

// Of all that buttons did in random play each deed is reported one press, and of no other.
TEST(Presses, AccountForEveryDeedOfRandomPlay) {
  std::size_t deeds = 0;
  std::size_t remembered = 0;
  for (std::uint32_t seed = 1; seed <= 400; ++seed) {
    Situation situation(seed);
    const Rules rules = rules_of(situation.tuning);
    const LevelWorld world(situation.level, kNothingTravels);
    const auto feet = situation.find_room(rules, world);
    if (!feet) continue;
    situation.level.start = *feet;
    CharacterSubject subject(rules);
    const Stage stage = level_stage(situation.level);
    const auto trace = run_inputs(subject, stage, situation.controls);
    const auto presses = follow_presses(subject, stage, situation.controls);
    if (!trace || !presses) continue;
    // By the button alone: rows of wall.exit without jump leave a wall by directions.
    std::multiset<std::pair<std::int64_t, Button>> happened;
    for (const Event& event : trace->events) {
      const bool jumped = event.kind == EventKind::jumped;
      if (jumped && static_cast<JumpKind>(event.detail) != JumpKind::wall) {
        happened.insert({event.tick, Button::jump});
      }
      if (event.kind == EventKind::dash_started) happened.insert({event.tick, Button::dash});
      if (detail_of(event) == "dropped") {
        const bool by_jump = rules.drop_by == DropBy::down_jump;
        happened.insert({event.tick, by_jump ? Button::jump : Button::down});
      }
      if (event.kind == EventKind::fast_fell) happened.insert({event.tick, Button::down});
    }
    std::multiset<std::pair<std::int64_t, Button>> reported;
    for (const Press& press : *presses) {
      const bool did = press.end == Press::End::done || press.end == Press::End::charged;
      if (press.remembered > 0 && did) {
        ++remembered;
        EXPECT_TRUE(press.end == Press::End::charged ||
                    press.end_tick == press.tick + press.remembered);
      }
      const bool leaves_wall = press.trial.candidate == Candidate::wall_exit;
      if (did && !leaves_wall) reported.insert({press.end_tick, press.button});
      // A press of down that lets go of a wall may begin a fast fall as well; the wall is reported.
      if (did && leaves_wall && press.button == Button::down) {
        happened.erase({press.end_tick, Button::down});
      }
    }
    ASSERT_EQ(reported, happened) << "seed " << seed;
    deeds += happened.size();
  }
  EXPECT_GT(deeds, 5000U);
  EXPECT_GT(remembered, 200U);
}

}  // namespace
}  // namespace bushbaby
