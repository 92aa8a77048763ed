// The table of knobs and the compile step.
#include "bushbaby/core/tuning/knobs.h"

#include <cmath>
#include <set>

#include "support.h"

namespace bushbaby {
namespace {

TEST(Knobs, EachIsDescribedOnceAndCompletely) {
  std::set<std::string_view> keys;
  for (const Knob& knob : knobs()) {
    EXPECT_TRUE(keys.insert(knob.key).second) << knob.key << " stands twice in the table";
    EXPECT_EQ(find_knob(knob.key), &knob);
    EXPECT_FALSE(knob.help.empty()) << knob.key;
    EXPECT_EQ(knob.help.back(), '.') << knob.key;
    EXPECT_FALSE(describe_expected(knob).empty()) << knob.key;
  }
  EXPECT_EQ(find_knob("run.top_spede"), nullptr);
}

TEST(Knobs, DefaultsAreInRange) { EXPECT_TRUE(check_ranges(Tuning{}).empty()); }

TEST(Knobs, SettingChangesThatKnobAlone) {
  for (const Knob& knob : knobs()) {
    Tuning tuning;
    const KnobValue value = test::other_value(knob);
    EXPECT_FALSE(set_knob(tuning, knob, value)) << knob.key;
    for (const Knob& other : knobs()) {
      const KnobValue expected = &other == &knob ? value : get_knob(Tuning{}, other);
      EXPECT_EQ(get_knob(tuning, other), expected) << knob.key << " changed " << other.key;
    }
  }
}

TEST(Knobs, RefuseWhatTheyCannotTakeAndStayAsTheyWere) {
  const KnobValue bad[] = {std::nan(""),
                           std::numeric_limits<double>::infinity(),
                           -1e300,
                           Duration{-1},
                           Duration{std::nan("")},
                           std::string("seven")};
  for (const Knob& knob : knobs()) {
    if (knob.key == "name") continue;  // takes any text
    for (const KnobValue& value : bad) {
      Tuning tuning;
      const auto violation = set_knob(tuning, knob, value);
      ASSERT_TRUE(violation) << knob.key << " took " << describe(value);
      EXPECT_EQ(violation->key, (KnobPlace{&knob, 0}.key()));
      EXPECT_EQ(get_knob(tuning, knob), get_knob(Tuning{}, knob)) << knob.key;
    }
  }
}

TEST(Knobs, RowsOfAListHaveKeysOfTheirOwn) {
  const auto place = find_place("wall.exit.2.away");
  ASSERT_TRUE(place);
  EXPECT_EQ(place->knob, find_knob("wall.exit.away"));
  EXPECT_EQ(place->row, 1U);
  EXPECT_EQ(place->key(), "wall.exit.2.away");
  for (const char* key : {"wall.exit.away", "wall.exit.0.away", "wall.exit.x.away", "wall.exit.1",
                          "wall.exit.1.awya", "run.1.top_speed"}) {
    EXPECT_FALSE(find_place(key)) << key;
  }
  Tuning tuning;
  const std::size_t without = places_of(tuning).size();
  EXPECT_FALSE(set_knob(tuning, *place->knob, 8.0, 0)) << "the row behind the last is added";
  EXPECT_EQ(tuning.wall.exits.size(), 1U);
  EXPECT_EQ(tuning.wall.exits[0].away, 8.0);
  EXPECT_TRUE(set_knob(tuning, *find_knob("wall.exit.on"), std::string("jump+jump"), 1));
  EXPECT_EQ(tuning.wall.exits.size(), 1U) << "a refused value adds no row";
  EXPECT_EQ(places_of(tuning).size(), without + 11);
}

TEST(Compile, ReportsEveryViolationAtOnce) {
  Tuning tuning = test::pip();
  tuning.body.width = -1;
  tuning.run.top_speed = std::nan("");
  tuning.fall.factor = 0;
  const Compiled compiled = compile(tuning);
  ASSERT_EQ(compiled.violations.size(), 3U);
  EXPECT_EQ(compiled.violations[0].key, "body.width");
  EXPECT_EQ(compiled.violations[1].key, "run.top_speed");
  EXPECT_EQ(compiled.violations[2].key, "fall.factor");
}

TEST(Compile, RefusesKnobsThatContradictEachOther) {
  Tuning tuning = test::pip();
  tuning.loop.gravity_on_launch_tick = false;
  EXPECT_EQ(compile(tuning).violations.at(0).key, "loop.gravity_on_launch_tick");

  tuning = test::pip();
  tuning.jump.gravity = 30;
  const Violation clash = compile(tuning).violations.at(0);
  EXPECT_EQ(clash.key, "jump");
  EXPECT_EQ(describe(clash).substr(0, 34), "jump: found gravity 30 u/s² where");
  EXPECT_EQ(describe(clash.expected), "one of them omitted");
}

TEST(Compile, RoundsWindowsToTheNearestTickAndSaysSo) {
  struct Case {
    Duration asked;
    std::int64_t ticks;
    bool reported;
  };
  using Unit = Duration::Unit;
  const Case cases[] = {{{7, Unit::ticks}, 7, false},
                        {{7.0 / 60}, 7, false},
                        {{0.11}, 7, true},
                        {{0.10833333}, 6, true},
                        {{6.5 / 60}, 7, true},
                        {{2.5, Unit::ticks}, 3, true},
                        {{0.117}, 7, true}};
  for (const Case& c : cases) {
    Tuning tuning = test::pip();
    tuning.jump.cut.min_hold = c.asked;
    const Compiled compiled = compile(tuning);
    EXPECT_EQ(compiled.rules.cut_from_tick, c.ticks) << c.asked.amount;
    EXPECT_EQ(compiled.roundings.size(), c.reported ? 1U : 0U) << c.asked.amount;
  }
  Tuning tuning = test::pip();
  tuning.jump.cut.min_hold = Duration{0.11};
  EXPECT_EQ(describe(compile(tuning).roundings.at(0), 60),
            "jump.cut.min_hold is 6.6 ticks at 60 Hz: using 7 ticks = 0.1167 s");
}

TEST(Compile, GroundSlopeIsTheCosine) {
  for (const double degrees : {0.0, 30.0, 45.0, 60.0, 89.0}) {
    Tuning tuning = test::pip();
    tuning.run.steepest_ground = degrees;
    EXPECT_NEAR(compile(tuning).rules.ground_slope, std::cos(degrees * std::acos(-1.0) / 180),
                1e-15);
  }
}

}  // namespace
}  // namespace bushbaby
