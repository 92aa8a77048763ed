// What runs must do: against what their traces and a character that is followed tick by tick say.
#include "bushbaby/lab/run_targets.h"

#include <algorithm>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/targets.h"

#include "visitor.h"

namespace bushbaby {
namespace {

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

std::shared_ptr<const RunStage> stage_of(const char* level, const char* inputs) {
  return std::make_shared<const RunStage>(
      RunStage{*load_level(kDemo + level), *load_inputs(kDemo + inputs), level, inputs});
}

// For every solid and zone of three levels: counted by a character of the test's own.
TEST(RunTargets, CountWhatTheTestCounts) {
  const Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  const std::pair<const char*, const char*> runs[] = {
      {"first-limbs.level.toml", "first-leaps.inputs"},
      {"hollow-trunk.level.toml", "moonlit-climb.inputs"},
      {"sap-pool.level.toml", "through-the-sap.inputs"}};
  int touched = 0;
  for (const auto& [level_name, inputs_name] : runs) {
    const auto stage = stage_of(level_name, inputs_name);
    const Level& level = stage->level;
    test::Visitor visitor(tuning, level, level.start);
    std::map<std::string, double> stands_or_meets;
    std::map<std::string, double> landings;
    std::map<std::string, double> inside;
    for (const Controls& held : controls_of(stage->inputs, 60)) {
      const Events events = visitor.tick(held);
      std::set<std::string> now;
      if (visitor.character.grounded())
        now.insert(level.solids[visitor.character.ground.surface].name);
      for (const Event& event : events) {
        const bool zone = event.kind == EventKind::entered || event.kind == EventKind::left;
        if (zone || event.kind == EventKind::left_ground || event.kind == EventKind::wall_lost)
          continue;
        if (event.surface < level.solids.size()) now.insert(level.solids[event.surface].name);
        if (event.kind == EventKind::landed) ++landings[level.solids[event.surface].name];
      }
      for (const std::string& name : now) ++stands_or_meets[name];
      for (const ZoneId zone : visitor.character.zones) {
        if (zone < level.zones.size()) ++inside[level.zones[zone].name];
      }
    }
    const auto measured = [&](RunAsk::What what, const std::string& name) {
      return *measure_run({what, name, "", stage}, tuning).measured;
    };
    for (const Solid& solid : level.solids) {
      EXPECT_EQ(measured(RunAsk::What::touches, solid.name), stands_or_meets[solid.name])
          << solid.name;
      EXPECT_EQ(measured(RunAsk::What::lands_on, solid.name), landings[solid.name]) << solid.name;
      const bool ends = visitor.character.grounded() &&
                        level.solids[visitor.character.ground.surface].name == solid.name;
      EXPECT_EQ(measured(RunAsk::What::ends_on, solid.name), ends ? 1 : 0) << solid.name;
      touched += stands_or_meets[solid.name] > 0 ? 1 : 0;
    }
    // A zone that is left in a tick was touched in it; else the ticks at whose end it is in it.
    for (const Zone& zone : level.zones) {
      const double ticks = measured(RunAsk::What::touches, zone.name);
      EXPECT_GE(ticks, inside[zone.name]) << zone.name;
      EXPECT_LE(ticks, inside[zone.name] + 4) << zone.name;
    }
    EXPECT_EQ(measured(RunAsk::What::count, "landed"), visitor.count(EventKind::landed));
  }
  EXPECT_GT(touched, 8);
}

TEST(RunTargets, ReportWhatHappenedInstead) {
  Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  const auto stage = stage_of("first-limbs.level.toml", "late-leaps.inputs");
  const RunAsk limb{RunAsk::What::lands_on, "low limb", "", stage};
  EXPECT_EQ(measure_run(limb, tuning).measured, 1);
  const RunAsk hop{RunAsk::What::time, "jumped", "landed", stage};
  EXPECT_NEAR(*measure_run(hop, tuning).measured, 0.6165, 1e-3);
  EXPECT_EQ(measure_run({RunAsk::What::time, "dash_started", "landed", stage}, tuning).reported,
            "no dash_started");
  tuning.jump.coyote = {};
  const RunOutcome missed = measure_run(limb, tuning);
  EXPECT_EQ(missed.measured, 0);
  EXPECT_EQ(missed.reported, "it lands on \"root\", \"grove floor\"");
  EXPECT_NEAR(missed.place->y, 0, 0.001);
  EXPECT_EQ(measure_run({RunAsk::What::ends_on, "low limb", "", stage}, tuning).reported,
            "it ends on \"grove floor\"");
  // The zones of the level are those of the run: thick sap is swum in.
  const auto sap = stage_of("sap-pool.level.toml", "through-the-sap.inputs");
  EXPECT_GT(*measure_run({RunAsk::What::count, "jumped:stroke", "", sap}, tuning).measured, 0);
}

}  // namespace
}  // namespace bushbaby
