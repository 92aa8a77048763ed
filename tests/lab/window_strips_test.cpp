// Windows tick by tick: as many presses as the tuning allows, in every loop, at every rate.
#include <algorithm>
#include <random>

#include "bushbaby/lab/windows.h"

#include "support.h"

namespace bushbaby {
namespace {

const WindowStrip& strip_of(const std::vector<WindowStrip>& strips, std::string_view name) {
  return *std::find_if(strips.begin(), strips.end(),
                       [name](const WindowStrip& strip) { return strip.name == name; });
}

template <class Counts>
int count(const WindowStrip& strip, const Counts& counts) {
  return static_cast<int>(std::count_if(strip.presses.begin(), strip.presses.end(), counts));
}

int jumps_from(const WindowStrip& strip, Chance chance) {
  return count(strip, [chance](const PressOutcome& press) {
    return press.jump == chance && press.waited == 0;
  });
}

int longest_wait(const WindowStrip& strip) {
  int longest = 0;
  for (const PressOutcome& press : strip.presses) longest = std::max(longest, press.waited);
  return longest;
}

// Coyote time, buffer and the same of walls, of random lengths: counted press by press.
TEST(WindowStrips, AreAsLongAsTheTuningSays) {
  std::mt19937_64 random(3);
  const auto ticks = [&random] {
    return Duration{static_cast<double>(random() % 13), Duration::Unit::ticks};
  };
  for (const JumpLoop& loop : test::all_loops({50, 60, 144})) {
    for (int round = 0; round < 4; ++round) {
      Tuning tuning = test::with_loop(test::pip(), loop);
      tuning.jump.coyote = ticks();
      tuning.jump.buffer = ticks();
      tuning.wall.slide_speed = 3;
      tuning.wall.coyote = ticks();
      tuning.wall.buffer = ticks();
      WallExit exit;
      exit.away = 6;
      exit.up = 9;
      tuning.wall.exits = {exit};
      SCOPED_TRACE(test::text_of(loop) + ", coyote " + describe(KnobValue(tuning.jump.coyote)) +
                   ", buffer " + describe(KnobValue(tuning.jump.buffer)) + ", wall " +
                   describe(KnobValue(tuning.wall.coyote)) + ", " +
                   describe(KnobValue(*tuning.wall.buffer)));
      CharacterSubject subject(test::rules_of(tuning));
      const auto strips = measure_windows(subject);
      for (const WindowStrip& strip : strips) ASSERT_EQ(strip.why_not, "");
      EXPECT_EQ(jumps_from(strip_of(strips, "edge"), Chance::coyote), tuning.jump.coyote.amount);
      EXPECT_EQ(longest_wait(strip_of(strips, "landing")), tuning.jump.buffer.amount);
      EXPECT_EQ(longest_wait(strip_of(strips, "wall met")), tuning.wall.buffer->amount);
      EXPECT_EQ(jumps_from(strip_of(strips, "wall left"), Chance::coyote),
                tuning.wall.coyote.amount);
      // The ground may be left up to the tick in which it ends, and from the one after a landing.
      const WindowStrip& edge = strip_of(strips, "edge");
      for (std::size_t i = 0; i < edge.presses.size(); ++i) {
        const bool before = edge.first + static_cast<int>(i) <= 0;
        EXPECT_EQ(edge.presses[i].jump == Chance::ground, before)
            << edge.first + static_cast<int>(i);
      }
    }
  }
}

TEST(WindowStrips, StretchesCoverEveryPressOnce) {
  Tuning tuning = test::pip();
  tuning.jump.coyote = {5, Duration::Unit::ticks};
  tuning.jump.buffer = {7, Duration::Unit::ticks};
  tuning.jump.air_jumps.count = 1;
  CharacterSubject subject(test::rules_of(tuning));
  for (const WindowStrip& strip : measure_windows(subject)) {
    int next = strip.first;
    for (const WindowStretch& stretch : stretches_of(strip)) {
      EXPECT_EQ(stretch.first, next);
      for (int tick = stretch.first; tick <= stretch.last; ++tick) {
        const PressOutcome& press = strip.presses[static_cast<std::size_t>(tick - strip.first)];
        EXPECT_EQ(press.jump, stretch.jump);
        EXPECT_EQ(press.waited > 0, stretch.longest_wait > 0);
        EXPECT_LE(press.waited, stretch.longest_wait);
      }
      next = stretch.last + 1;
    }
    EXPECT_EQ(next, strip.first + static_cast<int>(strip.presses.size()));
    EXPECT_TRUE(strip.open_after);
  }
}

TEST(WindowStrips, SayWhyThereAreNone) {
  Tuning tuning = test::pip();
  tuning.run.top_speed = 0;
  CharacterSubject subject(test::rules_of(tuning));
  const auto strips = measure_windows(subject);
  EXPECT_EQ(strip_of(strips, "edge").why_not, "it does not run off a ledge");
  EXPECT_EQ(strip_of(strips, "landing").why_not, "");
  EXPECT_TRUE(strip_of(strips, "edge").presses.empty());
}

}  // namespace
}  // namespace bushbaby
