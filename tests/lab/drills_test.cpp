// Drills measure what the constants say, on our character and on a controller from outside.
#include "bushbaby/lab/drills.h"

#include <cmath>
#include <set>

#include "bushbaby/lab/arc.h"

#include "home_made.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::rules_of;
using test::text_of;

double fact(const std::vector<DrillReport>& reports, std::string_view name) {
  const auto value = value_of(reports, name);
  EXPECT_TRUE(value) << name << " was not measured";
  return value.value_or(std::nan(""));
}

std::vector<DrillReport> drilled(const Tuning& tuning) {
  CharacterSubject subject(rules_of(tuning), tuning.name);
  return run_drills(subject);
}

TEST(Drills, TableIsComplete) {
  std::set<std::string_view> names;
  for (const Drill& drill : drills()) {
    EXPECT_EQ(find_drill(drill.name), &drill);
    for (const FactInfo& info : drill.facts) {
      EXPECT_TRUE(names.insert(info.name).second) << info.name;
      EXPECT_EQ(info.name.substr(0, drill.name.size() + 1), std::string(drill.name) + ".");
      EXPECT_EQ(info.measured.back(), '.');
    }
  }
}

TEST(Drills, ExactFactsAreTheClosedForms) {
  const Tuning tuning = test::pip();
  const auto reports = drilled(tuning);
  const Rules rules = rules_of(tuning);
  const ArcShape shape = predict_arc({rules.rise_gravity, rules.launch_speed, 1.7, 24.0, {}});
  EXPECT_NEAR(fact(reports, "stand_jump.height"), 3.25, 1e-9);
  EXPECT_NEAR(fact(reports, "stand_jump.apex_time"), 0.38, 1e-9);
  EXPECT_NEAR(fact(reports, "stand_jump.air_time"), shape.air_time, 1e-9);
  EXPECT_NEAR(fact(reports, "stand_jump.launch_speed"), rules.launch_speed, 1e-12);
  EXPECT_NEAR(fact(reports, "stand_jump.landing_speed"), shape.landing_speed, 1e-9);
  EXPECT_NEAR(fact(reports, "running_jump.distance"), 7 * shape.air_time, 1e-9);
  EXPECT_NEAR(fact(reports, "running_jump.height"), 3.25, 1e-9);
  // 7 u/s at 60 u/s², then 80 u/s².
  EXPECT_NEAR(fact(reports, "run_up.time"), 7.0 / 60, 1e-9);
  EXPECT_NEAR(fact(reports, "run_up.distance"), 49.0 / 120, 1e-9);
  EXPECT_EQ(fact(reports, "run_up.top_speed"), 7);
  EXPECT_NEAR(fact(reports, "stop.time"), 7.0 / 80, 1e-9);
  EXPECT_NEAR(fact(reports, "stop.distance"), 49.0 / 160, 1e-9);
  // A tap is cut 3 ticks after launch: 0.45 of the speed it then has, from the height it has.
  const double t = 3.0 / 60;
  const double speed = 0.45 * (rules.launch_speed - rules.rise_gravity * t);
  const double height = rules.launch_speed * t - rules.rise_gravity * t * t / 2;
  EXPECT_NEAR(fact(reports, "hop.height"), height + speed * speed / (2 * rules.rise_gravity), 1e-9);
}

TEST(Drills, ExactFactsDoNotDependOnTheTickRate) {
  Tuning tuning = test::pip();
  tuning.jump.cut.min_hold = Duration{0.1};  // a whole number of ticks at all of these rates
  const auto reference = drilled(at_tick_rate(tuning, 30));
  const std::set<std::string_view> sampled_drills{"hop",  "turn",        "hold_heights",
                                                  "drop", "air_control", "push"};
  for (const double rate : {60.0, 120.0, 240.0}) {
    const auto reports = drilled(at_tick_rate(tuning, rate));
    for (const Drill& drill : drills()) {
      for (const FactInfo& info : drill.facts) {
        // What depends on how long a tick is: the shortest tap, and what is measured at samples.
        const bool sampled = sampled_drills.count(drill.name) != 0 ||
                             info.name == "coyote.past_edge" || info.name == "buffer.height" ||
                             info.dimension == Dimension::ticks ||
                             info.dimension == Dimension::milliseconds;
        if (sampled) continue;
        if (!value_of(reports, info.name)) {
          EXPECT_FALSE(value_of(reference, info.name)) << info.name;
          continue;
        }
        EXPECT_NEAR(fact(reports, info.name), fact(reference, info.name), 1e-9)
            << info.name << " at " << rate << " Hz";
      }
    }
    EXPECT_NEAR(fact(reports, "hop.height"), fact(reference, "hop.height"), 1e-9);
  }
}

TEST(Drills, SteppedLoopsDifferByTickRateAndSayHowMuch) {
  // The height is derived for each rate; the air time comes in whole ticks and shows the cost.
  for (const Integrator integrator :
       {Integrator::trapezoidal, Integrator::semi_implicit, Integrator::explicit_step}) {
    const auto slow = drilled(test::with_loop(test::pip(), {integrator, 30, true}));
    const auto fast = drilled(test::with_loop(test::pip(), {integrator, 240, true}));
    EXPECT_NEAR(fact(slow, "stand_jump.height"), fact(fast, "stand_jump.height"), 1e-9);
    const double difference =
        std::abs(fact(slow, "stand_jump.air_time") - fact(fast, "stand_jump.air_time"));
    EXPECT_GT(difference, 1e-3);
    EXPECT_LT(difference, 2.0 / 30);
  }
}

TEST(Drills, WindowsMeasuredAreTheWindowsWritten) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (int n = 0; n <= 12; ++n) {
      Tuning tuning = test::with_loop(test::pip(), loop);
      tuning.jump.coyote = {static_cast<double>(n), Duration::Unit::ticks};
      tuning.jump.buffer = {static_cast<double>(n), Duration::Unit::ticks};
      CharacterSubject subject(rules_of(tuning));
      const auto reports = run_drills(subject, {"coyote", "buffer"});
      const std::string where = text_of(loop) + ", " + std::to_string(n) + " ticks";
      EXPECT_EQ(fact(reports, "coyote.window_ticks"), n) << where;
      EXPECT_EQ(fact(reports, "buffer.window_ticks"), n) << where;
      EXPECT_NEAR(fact(reports, "coyote.window_ms"), 1000 * n / loop.tick_rate, 1e-9) << where;
      // At full speed the rear passes the edge by the way of the ticks in between, and less than
      // one tick's more.
      const double step = 7 / loop.tick_rate;
      const double past = fact(reports, "coyote.past_edge");
      EXPECT_GE(past, std::max(0, n - 1) * step - 1e-9) << where;
      EXPECT_LE(past, n * step + 1e-9) << where;
      EXPECT_EQ(fact(reports, "buffer.height") > 0, n > 0) << where;
    }
  }
}

TEST(Drills, HoldHeightsTurnAndDropByHand) {
  Tuning tuning = test::pip();
  tuning.jump.cut = {CutStyle::stop, 0, 1, {0}};
  const auto reports = drilled(tuning);
  const Rules rules = rules_of(tuning);
  // A jump cut dead after k ticks is as high as it then is; the 23rd tick is past the apex.
  const auto height = [&](int ticks) {
    const double t = ticks / 60.0;
    return rules.launch_speed * t - rules.rise_gravity * t * t / 2;
  };
  EXPECT_NEAR(fact(reports, "hold_heights.lowest"), height(1), 1e-9);
  EXPECT_NEAR(fact(reports, "hold_heights.highest"), 3.25, 1e-9);
  EXPECT_EQ(fact(reports, "hold_heights.distinct"), 23);
  EXPECT_NEAR(fact(reports, "hold_heights.largest_step"), height(2) - height(1), 1e-9);
  // From 7 u/s: 7/120 s to turn, 7/60 s to speed up, 10.5 ticks; 49/240 u over, at a sample less.
  EXPECT_NEAR(fact(reports, "turn.time"), 11.0 / 60, 1e-9);
  EXPECT_NEAR(fact(reports, "turn.reversal_time"), 4.0 / 60, 1e-9);
  EXPECT_LE(fact(reports, "turn.overshoot"), 49.0 / 240);
  EXPECT_GE(fact(reports, "turn.overshoot"), 49.0 / 240 - 0.5 * 120 / 60 / 60);
  const Fall fall = predict_fall(4 * 1.4, rules.fall_gravity, 24.0);
  EXPECT_NEAR(fact(reports, "drop.time"), fall.time, 1e-9);
  EXPECT_NEAR(fact(reports, "drop.landing_speed"), fall.speed, 1e-9);
  EXPECT_NEAR(fact(reports, "drop.distance"), 7 * fall.time, 1e-9);
}

// The same character in another length: every length, speed and acceleration times k.
Tuning scaled(Tuning tuning, double k) {
  for (const KnobPlace& place : places_of(tuning)) {
    const Dimension dimension = place.knob->dimension;
    const bool scales = dimension == Dimension::length || dimension == Dimension::speed ||
                        dimension == Dimension::acceleration;
    const KnobValue value = get_knob(tuning, *place.knob, place.row);
    if (!scales || !std::holds_alternative<double>(value)) continue;
    EXPECT_FALSE(set_knob(tuning, *place.knob, std::get<double>(value) * k, place.row));
  }
  return tuning;
}

Tuning moveset() {
  Tuning tuning = test::pip();
  tuning.jump.coyote = tuning.jump.buffer = {7, Duration::Unit::ticks};
  tuning.jump.air_jumps.count = 1;
  tuning.fall.fast.speed = 30;
  tuning.fall.glide.speed = 3.5;
  tuning.wall.slide_speed = 2.5;
  tuning.wall.cling = {6, Duration::Unit::ticks};
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 6.5, 15, {7, Duration::Unit::ticks}}};
  tuning.dash.charges = 1;
  tuning.dash.distance = 3;
  tuning.dash.time = Duration{10, Duration::Unit::ticks};
  return tuning;
}

// Stages scale with the body: whoever drills a mote or a giant measures the same, in its own
// lengths.
TEST(Drills, ScaleWithTheBody) {
  const auto reference = drilled(moveset());
  for (const double k : {1.0 / 64, 128.0}) {
    const auto reports = drilled(scaled(moveset(), k));
    int compared = 0;
    for (const Drill& drill : drills()) {
      for (const FactInfo& info : drill.facts) {
        const auto here = value_of(reports, info.name);
        const auto there = value_of(reference, info.name);
        ASSERT_EQ(here.has_value(), there.has_value()) << info.name << " times " << k;
        if (!here) continue;
        const bool scales =
            info.dimension == Dimension::length || info.dimension == Dimension::speed;
        EXPECT_NEAR(*here / (scales ? k : 1), *there, 1e-6 * std::max(1.0, std::abs(*there)))
            << info.name << " times " << k;
        ++compared;
      }
    }
    EXPECT_GT(compared, 55) << "most of the drills measure something";
  }
}

TEST(Drills, LongWindowsAreMeasuredAndEndlessOnesSayThatTheyGoOn) {
  Tuning tuning = test::pip();
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 6.5, 15}};
  tuning.wall.slide_speed = 2;
  // Apart, since a press in the time of grace would jump before it is remembered.
  const auto set = [&](double ticks) {
    const Duration window{ticks, Duration::Unit::ticks};
    tuning.jump.buffer = {};
    tuning.jump.coyote = tuning.wall.coyote = tuning.wall.cling = window;
    auto reports = drilled(tuning);
    tuning.jump.coyote = {};
    tuning.jump.buffer = window;
    CharacterSubject subject(rules_of(tuning));
    for (DrillReport& report : reports) {
      if (report.drill->name == "buffer") report = run_drill(*report.drill, subject);
    }
    return reports;
  };
  const char* facts[] = {"coyote.window_ticks", "buffer.window_ticks", "wall_press.late",
                         "wall_slide.cling"};
  const auto long_ones = set(150);
  for (const char* name : facts) EXPECT_EQ(fact(long_ones, name), 150) << name;
  const auto endless = set(5000);
  for (const DrillReport& report : endless) {
    for (const Fact& one : report.facts) {
      const bool window =
          std::find(std::begin(facts), std::end(facts), one.info->name) != std::end(facts);
      if (!window) continue;
      EXPECT_TRUE(one.or_more) << one.info->name;
      // Ten seconds; of a press before landing as long as a fall can be waited for.
      EXPECT_GE(one.value, one.info->name == "buffer.window_ticks" ? 450 : 600) << one.info->name;
    }
  }
  for (const DrillReport& report : long_ones) {
    for (const Fact& one : report.facts) {
      EXPECT_EQ(one.or_more, one.info->name == "wall_gain.jumps") << one.info->name;
    }
  }
}

TEST(Drills, ImpactIsFlushInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const auto reports = drilled(test::with_loop(test::pip(), loop));
    const double gap = fact(reports, "impact.gap");
    EXPECT_GT(gap, 0) << text_of(loop);
    EXPECT_LE(gap, 0.001 * 0.8) << text_of(loop);
    EXPECT_EQ(fact(reports, "impact.rebound"), 0) << text_of(loop);
    const double widest = fact(reports, "impact.widest_gap");
    EXPECT_GT(widest, 0) << text_of(loop);
    EXPECT_LE(widest, 0.001 * 0.8 + 1e-8) << text_of(loop);  // so far out a little is rounded
  }
}

TEST(Drills, SayWhatASubjectDoesNotDo) {
  Tuning tuning = test::pip();
  tuning.run.top_speed = 0;
  tuning.run.ground.brake = 0;
  for (const DrillReport& report : drilled(tuning)) {
    const std::set<std::string_view> standing{
        "stand_jump", "hop", "hold_heights", "buffer", "platform_carry", "platform_momentum"};
    const bool runs = standing.count(report.drill->name) == 0;
    for (const Fact& measured : report.facts) {
      // What never happens has a count of 0 all the same.
      const std::set<std::string_view> counts{"air_jump.count", "air_jump.chances", "dash.in_air",
                                              "climb.over", "drop_through.platforms"};
      if (measured.info->name == "drop_through.up") {
        EXPECT_EQ(measured.value, 1) << "for that it need not run";
        continue;
      }
      if (counts.count(measured.info->name) != 0) {
        EXPECT_EQ(measured.value, 0) << measured.info->name;
        continue;
      }
      EXPECT_EQ(measured.value.has_value(), !runs) << measured.info->name;
      EXPECT_EQ(measured.why_not.empty(), !runs) << measured.info->name;
    }
  }
  tuning = test::pip();
  tuning.run.ground.brake = 0;
  EXPECT_EQ(run_drill(*find_drill("stop"), *std::make_unique<CharacterSubject>(rules_of(tuning)))
                .facts.at(0)
                .why_not,
            "it does not stop");
}

// The classic mistake: it may jump whenever its vertical speed is nothing.
class Hoverer final : public test::HomeMade {
 protected:
  [[nodiscard]] bool may_jump() const override { return now_.velocity.y == 0; }
};

TEST(Drills, EveryTickOfAnArcIsTriedForAJumpInTheAir) {
  Hoverer subject;
  const DrillReport report = run_drill(*find_drill("air_jump"), subject);
  // 10 u/s less 0.5 a tick: the speed is 0 after 20 ticks, and a press in the tick after that
  // jumps.
  EXPECT_EQ(value_of({report}, "air_jump.chances"), 1);
  EXPECT_EQ(value_of({report}, "air_jump.earliest"), 20);
  EXPECT_GE(value_of({report}, "air_jump.count").value_or(0), 1);
  test::HomeMade honest;
  const DrillReport none = run_drill(*find_drill("air_jump"), honest);
  EXPECT_EQ(value_of({none}, "air_jump.count"), 0) << "so that never can be a target";
  EXPECT_EQ(value_of({none}, "air_jump.chances"), 0);
  EXPECT_FALSE(value_of({none}, "air_jump.earliest")) << "nothing, not 0 ticks";
}

TEST(Drills, RunOnAControllerFromOutside) {
  test::HomeMade subject;
  const auto reports = run_drills(subject);
  // Semi-implicit from 10 u/s by 0.5 u/s a tick: 9.5, 9, …, 0.5, 0: by hand, 95 steps of 0.02 u,
  // the top is the 19th sample (and the 20th), the floor is passed in the 40th.
  EXPECT_NEAR(fact(reports, "stand_jump.height"), 95 * 0.02, 1e-12);
  EXPECT_NEAR(fact(reports, "stand_jump.apex_time"), 19 * 0.02, 1e-12);
  EXPECT_NEAR(fact(reports, "running_jump.height"), 95 * 0.02, 1e-12);
  const double air_time = fact(reports, "stand_jump.air_time");
  EXPECT_NEAR(fact(reports, "running_jump.distance"), 5 * air_time, 1e-12);
  EXPECT_EQ(fact(reports, "run_up.top_speed"), 5);
  EXPECT_NEAR(fact(reports, "run_up.time"), 0.02, 1e-12);
  for (const DrillReport& report : reports) {
    const bool possible = report.drill->needs == Terrain::floor;
    EXPECT_EQ(report.skipped.empty(), possible) << report.drill->name;
    if (report.drill->name == "impact") {
      EXPECT_EQ(report.skipped, "the subject cannot be put on a wall");
    }
  }
}

}  // namespace
}  // namespace bushbaby
