// Characters as bytes, sums of them, and the check that a game makes at its start.
#include "bushbaby/core/motion/saved.h"

#include <cmath>
#include <cstring>

#include <gtest/gtest.h>

#include "bushbaby/core/tuning/self_check.h"

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::rules_of;
using test::Situation;

// A character in the middle of a run of any kind.
Character on_its_way(std::uint32_t seed, Rules& rules, Level& level, std::vector<Controls>& held) {
  Situation situation(seed);
  rules = rules_of(situation.tuning);
  level = situation.level;
  held = situation.controls;
  const LevelWorld world(level, kNothingTravels);
  Character runner = situation.enter(rules, world).value_or(Character{});
  for (int i = 0; i < 40; ++i)
    (void)advance(runner, held[static_cast<std::size_t>(i)], rules, world);
  return runner;
}

// What was saved goes on as if it had never been.
TEST(Saved, ACharacterComesBackAsItWas) {
  for (std::uint32_t seed = 0; seed < 60; ++seed) {
    Rules rules;
    Level level;
    std::vector<Controls> held;
    Character a = on_its_way(seed, rules, level, held);
    const SavedCharacter saved = save(a);
    Character b;
    ASSERT_TRUE(load(saved.data(), saved.size(), b));
    ASSERT_EQ(a, b);
    ASSERT_EQ(hash_of(a), hash_of(b));
    const LevelWorld world(level, kNothingTravels);
    for (std::size_t i = 40; i < 80 && i < held.size(); ++i) {
      (void)advance(a, held[i], rules, world);
      (void)advance(b, held[i], rules, world);
    }
    ASSERT_EQ(hash_of(a), hash_of(b)) << seed;
  }
}

// Whatever is altered in the bytes, they are refused, and nothing is changed.
TEST(Saved, AlteredBytesAreRefused) {
  Rules rules;
  Level level;
  std::vector<Controls> held;
  const Character a = on_its_way(3, rules, level, held);
  const SavedCharacter saved = save(a);
  const Character untouched;
  for (std::size_t i = 0; i < saved.size(); ++i) {
    for (const int flip : {0x01, 0x80, 0xff}) {
      SavedCharacter altered = saved;
      altered[i] = static_cast<std::uint8_t>(altered[i] ^ flip);
      Character b;
      EXPECT_FALSE(load(altered.data(), altered.size(), b)) << i;
      EXPECT_EQ(b, untouched);
    }
  }
  Character b;
  EXPECT_FALSE(load(saved.data(), saved.size() - 1, b));
  EXPECT_FALSE(load(saved.data(), 0, b));
}

// The first bytes say what they are, and numbers stand in them with the least byte first.
TEST(Saved, TheBytesAreThoseOfEveryMachine) {
  Character character;
  character.tick = 0x0102030405060708;
  const SavedCharacter saved = save(character);
  const std::uint8_t expected[] = {'b', 'b', 'c', 'h', 2, 0, 0, 0, 8, 7, 6, 5, 4, 3, 2, 1};
  EXPECT_EQ(std::memcmp(saved.data(), expected, sizeof expected), 0);
}

// Every field counts in the sum: a change of any of them shows.
TEST(Saved, TheSumSeesEveryField) {
  const Character plain;
  const auto sum_after = [&](auto change) {
    Character changed = plain;
    change(changed);
    return hash_of(changed);
  };
  const std::uint64_t sum = hash_of(plain);
  EXPECT_NE(sum_after([](Character& c) { c.feet.x = 1e-300; }), sum);
  EXPECT_NE(sum_after([](Character& c) { c.controls.dash = true; }), sum);
  EXPECT_NE(sum_after([](Character& c) { c.ground.wedged = true; }), sum);
  EXPECT_NE(sum_after([](Character& c) { c.status[2].share = 0.5; }), sum);
  EXPECT_NE(sum_after([](Character& c) { c.zones[7] = 3; }), sum);
  EXPECT_NE(sum_after([](Character& c) { c.touching = 9; }), sum);
}

TEST(SelfCheck, ItsBitsAreTheKnownOnes) {
  EXPECT_TRUE(self_check());
  EXPECT_EQ(self_check_sum(), self_check_sum());
}

// A time so short that no rate fits it is refused, and no position becomes a number that is none.
TEST(Compile, RefusesTimesThatNoRateFits) {
  for (const double time : {1e-309, 1e-200, 1e-13}) {
    for (std::optional<Duration> RunDrive::*which :
         {&RunDrive::reach_time, &RunDrive::stop_time, &RunDrive::turn_time}) {
      Tuning tuning = test::pip();
      tuning.run.air.*which = Duration{time};
      const Compiled compiled = compile(tuning);
      ASSERT_EQ(compiled.violations.size(), 1U) << time;
      EXPECT_NE(describe(compiled.violations[0]).find("run.air."), std::string::npos);
    }
  }
  Tuning quick = test::pip();
  quick.run.ground.reach_time = Duration{1e-9};
  EXPECT_TRUE(compile(quick).ok());
}

}  // namespace
}  // namespace bushbaby
