// The drills in a zone and across its border measure what the zone says.
#include <algorithm>
#include <cmath>

#include "bushbaby/lab/drills.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::pip;
using test::rules_of;
using test::text_of;
using test::with_loop;

// What one drill measures in a zone; not a number where it measures nothing.
class InZone {
 public:
  InZone(const Tuning& tuning, const Zone& zone, const char* drill)
      : subject_(rules_of(tuning), tuning.name) {
    EXPECT_TRUE(subject_.know(tuning, zone));
    reports_ = {run_drill(*find_drill(drill), subject_)};
    EXPECT_EQ(reports_[0].skipped, "");
  }
  double operator()(const char* fact) const {
    return value_of(reports_, fact).value_or(std::nan(""));
  }

 private:
  CharacterSubject subject_;
  std::vector<DrillReport> reports_;
};

TEST(ZoneDrills, ZoneEntryMeasuresWhatIsKept) {
  Zone zone;
  zone.box = {{3, 3}, {4, 4}};  // where it is makes no difference
  zone.traits.keep_horizontal = 0.6;
  zone.traits.keep_vertical = 0.25;
  zone.overrides = {{"run.top_speed", true, 0.5}};
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    const Tuning tuning = with_loop(pip(), loop);
    const InZone crossing(tuning, zone, "zone_entry");
    EXPECT_NEAR(crossing("zone_entry.kept_in"), 0.6, 1e-9);
    EXPECT_NEAR(crossing("zone_entry.speed_inside"), 3.5, 1e-9);
    EXPECT_NEAR(crossing("zone_entry.kept_out"), 1, 1e-9);
    // The tick of the border has its gravity as well.
    const Rules rules = rules_of(tuning);
    const double falls = std::sqrt(2 * rules.fall_gravity * 4 * 1.4);
    EXPECT_NEAR(crossing("zone_entry.fall_kept"), 0.25,
                0.5 * rules.fall_gravity * rules.dt / falls);
  }
}

TEST(ZoneDrills, SwimMeasuresTheFluid) {
  Zone zone;
  zone.box = {{0, 0}, {1, 1}};
  zone.fluid = Fluid{};
  zone.fluid->buoyancy = 30;
  zone.fluid->drag = 5;
  zone.fluid->current = {0, 0.5};
  zone.fluid->dive = 6;
  zone.fluid->stroke = 0.9;
  zone.fluid->stroke_every = {12, Duration::Unit::ticks};
  zone.fluid->exit_jump = 2.5;
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    const Tuning tuning = with_loop(pip(), loop);
    const Rules rules = rules_of(tuning);
    const InZone swim(tuning, zone, "swim");
    EXPECT_NEAR(swim("swim.drift"), 0.5 + (30 - rules.rise_gravity) / 5, 1e-3);
    EXPECT_NEAR(swim("swim.top_speed"), 7, 1e-3);
    EXPECT_NEAR(swim("swim.dive"), 6 - 0.5, 1e-3);
    EXPECT_EQ(swim("swim.stroke_every"), 12);
    EXPECT_GT(swim("swim.stroke"), 0.1);
    const double of_a_tick = rules.launch_speed * rules.dt;
    EXPECT_NEAR(swim("swim.exit_jump"), 2.5, 0.5 * of_a_tick);
  }
  zone.fluid->dive = zone.fluid->exit_jump = zone.fluid->stroke = 0;
  const InZone still(pip(), zone, "swim");
  EXPECT_TRUE(std::isnan(still("swim.dive")) && std::isnan(still("swim.stroke")));
  EXPECT_TRUE(std::isnan(still("swim.exit_jump")) && std::isnan(still("swim.stroke_every")));
}

TEST(ZoneDrills, ABallIsWalkedRoundAtThePaceOfLevelGround) {
  Zone zone;
  zone.box = {{0, 0}, {1, 1}};
  zone.turning.to = Turning::To::point;
  zone.turning.point = {40, -3};
  zone.turning.rate = 720;
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    const Tuning tuning = with_loop(pip(), loop);
    const InZone ball(tuning, zone, "round_walk");
    const double gathers = 7 / tuning.run.ground.accelerate;
    const double time = 2 * M_PI * 2 * 1.4 / 7 + gathers / 2;
    EXPECT_NEAR(ball("round_walk.time"), time, 2 / loop.tick_rate + 0.01);
    EXPECT_EQ(ball("round_walk.in_air"), 0);
    EXPECT_NEAR(ball("round_walk.jump"), 3.25, 0.05);
  }
}

TEST(ZoneDrills, AreLeftOutWithoutAZone) {
  CharacterSubject subject(rules_of(pip()));
  const auto all = run_drills(subject);
  EXPECT_TRUE(std::none_of(all.begin(), all.end(), [](const DrillReport& report) {
    return report.drill->needs == Terrain::zone;
  }));
  EXPECT_EQ(run_drill(*find_drill("round_walk"), subject).skipped,
            "no zone is given to measure in (--in ZONE)");
  Zone zone;
  zone.overrides = {{"run.top_speed", false, -3.0}};
  EXPECT_FALSE(subject.know(pip(), zone));
}

}  // namespace
}  // namespace bushbaby
