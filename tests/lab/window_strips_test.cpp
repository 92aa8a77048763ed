// Windows tick by tick: as many presses as the tuning allows, in every loop, at every rate.
#include <algorithm>
#include <random>

#include <fmt/format.h>

#include "bushbaby/lab/drills.h"
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

// Cuts wait for what is left of the least hold, counted press by press; the subject's own events
// say the same. What is not cut rises in full.
TEST(ReleaseStrips, CutsComeWithTheLeastHold) {
  for (const JumpLoop& loop : test::all_loops({50, 60, 144})) {
    for (const CutStyle style : {CutStyle::scale, CutStyle::weight}) {
      for (const int least : {0, 1, 4, 9}) {
        Tuning tuning = test::with_loop(test::pip(), loop);
        tuning.jump.cut.style = style;
        tuning.jump.cut.min_hold = {static_cast<double>(least), Duration::Unit::ticks};
        SCOPED_TRACE(fmt::format("{}, least hold {}", test::text_of(loop), least));
        CharacterSubject subject(test::rules_of(tuning));
        const ReleaseStrip strip = measure_releases(subject);
        ASSERT_GT(strip.releases.size(), 10U) << strip.why_not;
        EXPECT_EQ(strip.rung, 1);
        const auto full = record_standing_jump(subject, kHeldThroughout);
        ASSERT_TRUE(full);
        for (std::size_t i = 0; i < strip.releases.size(); ++i) {
          const ReleaseOutcome& release = strip.releases[i];
          const int held = strip.held_for(i);
          SCOPED_TRACE(fmt::format("held for {}", held));
          const auto jump = record_standing_jump(subject, held);
          ASSERT_TRUE(jump);
          EXPECT_EQ(release.height, jump->arc.height());
          const auto& events = jump->trace.events;
          const auto cut = std::find_if(events.begin(), events.end(), [](const Event& event) {
            return event.kind == EventKind::cut;
          });
          ASSERT_EQ(release.effect == ReleaseEffect::cuts, cut != events.end());
          if (cut == events.end()) {
            EXPECT_EQ(release.height, full->arc.height());
            continue;
          }
          EXPECT_EQ(release.waited, std::max(0, least - held));
          const auto pressed = std::find_if(jump->trace.samples.begin(), jump->trace.samples.end(),
                                            [](const Sample& sample) { return sample.held.jump; });
          EXPECT_EQ(cut->tick, pressed->tick + held + release.waited);
          // About the tick of the apex there is nothing left to cut.
          EXPECT_LE(release.height, full->arc.height());
          if (i + 3 < strip.releases.size()) {
            EXPECT_LT(release.height, full->arc.height());
          }
        }
      }
    }
  }
}

TEST(ReleaseStrips, StretchesAreLevelOrGrow) {
  CharacterSubject pip(test::rules_of(test::pip()));
  const ReleaseStrip cuts = measure_releases(pip);
  const auto three = stretches_of(cuts);
  ASSERT_EQ(three.size(), 3U);
  EXPECT_EQ(three[0].last, 2);  // 3 ticks are the least hold: nothing waits from then on
  EXPECT_EQ(three[0].longest_wait, 2);
  EXPECT_TRUE(three[0].is_level());
  EXPECT_EQ(three[1].effect, ReleaseEffect::cuts);
  EXPECT_FALSE(three[1].is_level());
  EXPECT_EQ(three[2].effect, ReleaseEffect::nothing);
  EXPECT_NEAR(three[2].first_height, 3.25, 1e-9);

  Tuning tuning = test::pip();
  tuning.jump.charge.time = {30, Duration::Unit::ticks};
  tuning.jump.charge.height = 5;
  tuning.jump.charge.tap = {6, Duration::Unit::ticks};
  CharacterSubject charger(test::rules_of(tuning));
  const ReleaseStrip strip = measure_releases(charger);
  const auto stretches = stretches_of(strip);
  ASSERT_EQ(stretches.size(), 3U);
  const auto is = [&](std::size_t i, int first, int last, double low, double high) {
    EXPECT_EQ(stretches[i].effect, ReleaseEffect::jumps);
    EXPECT_EQ(stretches[i].first, first) << i;
    EXPECT_EQ(stretches[i].last, last) << i;
    EXPECT_NEAR(stretches[i].first_height, low, 1e-9) << i;
    EXPECT_NEAR(stretches[i].last_height, high, 1e-9) << i;
  };
  is(0, 1, 6, 3.25, 3.25);
  is(1, 7, 29, 3.25 + 1.75 / 24, 5 - 1.75 / 24);
  is(2, 30, strip.held_for(strip.releases.size() - 1), 5, 5);
  EXPECT_NEAR(stretches[1].largest_step, 1.75 / 24, 1e-9);
  EXPECT_EQ(strip.why_not, "");
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
