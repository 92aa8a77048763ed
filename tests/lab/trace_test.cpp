// Traces: arcs in them, hashes, and that watching changes nothing.
#include "bushbaby/lab/trace.h"

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/subject.h"

#include "support.h"

namespace bushbaby {
namespace {

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

struct Demo {
  Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  Level level = *load_level(kDemo + "first-limbs.level.toml");
  Inputs inputs = *load_inputs(kDemo + "first-leaps.inputs");
};

Trace run_demo(const Demo& demo) {
  CharacterSubject subject(compile(demo.tuning).rules);
  return *run_inputs(subject, level_stage(demo.level),
                     controls_of(demo.inputs, demo.tuning.loop.tick_rate));
}

TEST(Trace, DemoInputsDoWhatItReports) {
  const Demo demo;
  const Trace trace = run_demo(demo);
  const std::vector<Arc> arcs = find_arcs(trace);
  ASSERT_EQ(arcs.size(), 5U);
  const auto top_of = [&](const char* name) {
    for (const Solid& solid : demo.level.solids) {
      if (solid.name == name) return solid.box.hi.y;
    }
    return -1.0;
  };
  const double flush = 0.001 * demo.tuning.body.width;
  EXPECT_NEAR(arcs[0].landing.y, top_of("root"), flush);
  EXPECT_NEAR(arcs[1].landing.y, top_of("low limb"), flush);
  EXPECT_NEAR(arcs[1].height(), 3.25, 1e-9);
  EXPECT_NEAR(arcs[2].landing.y, top_of("far limb"), flush);
  EXPECT_FALSE(arcs[3].from_jump);
  EXPECT_NEAR(arcs[3].landing.y, top_of("far floor"), flush);
  for (const Arc& arc : arcs) EXPECT_TRUE(arc.landed);
}

TEST(Trace, WatchingChangesNothing) {
  const Demo demo;
  const Trace trace = run_demo(demo);
  const Rules rules = compile(demo.tuning).rules;
  const LevelWorld world(demo.level, kNothingTravels);
  Character character;
  ASSERT_TRUE(place(character, demo.level.start, rules, world));
  std::size_t i = 0;
  for (const Controls& held : controls_of(demo.inputs, rules.tick_rate)) {
    advance(character, held, rules, world);
    const Sample& sample = trace.samples.at(++i);
    ASSERT_EQ(sample.feet, character.feet);
    ASSERT_EQ(sample.velocity, character.velocity);
    ASSERT_EQ(sample.grounded, character.grounded());
  }
}

TEST(Trace, HashSeesEveryField) {
  const Demo demo;
  const Trace trace = run_demo(demo);
  const std::uint64_t hash = hash_of(trace);
  EXPECT_EQ(hash_of(run_demo(demo)), hash);
  const auto changed = [&](auto change) {
    Trace copy = trace;
    change(copy);
    return hash_of(copy) != hash;
  };
  EXPECT_TRUE(changed([](Trace& t) { t.samples[9].feet.x += 1e-12; }));
  EXPECT_TRUE(changed([](Trace& t) { t.samples[9].velocity.y = -0.0; }));
  EXPECT_TRUE(changed([](Trace& t) { t.samples[9].stance = Stance::rising; }));
  EXPECT_TRUE(changed([](Trace& t) { t.samples[9].held.dash = true; }));
  EXPECT_TRUE(changed([](Trace& t) { t.events[0].fraction = 0.5; }));
  EXPECT_TRUE(changed([](Trace& t) { t.events[0].place.y += 1e-12; }));
  EXPECT_TRUE(changed([](Trace& t) { t.events.pop_back(); }));
}

TEST(Trace, InferredEventsGiveTheArcsOfAStepLoop) {
  // A stepped loop's own events and those inferred from its samples alone report the same arcs.
  Demo demo;
  demo.tuning.loop.integrator = Integrator::semi_implicit;
  const Trace trace = run_demo(demo);
  Trace bare = trace;
  bare.events = infer_events(bare);
  const auto arcs = find_arcs(trace);
  const auto inferred = find_arcs(bare);
  ASSERT_EQ(inferred.size(), arcs.size());
  for (std::size_t i = 0; i < arcs.size(); ++i) {
    EXPECT_EQ(inferred[i].from_jump, arcs[i].from_jump) << i;
    EXPECT_EQ(inferred[i].take_off, arcs[i].take_off) << i;
    EXPECT_EQ(inferred[i].apex, arcs[i].apex) << i;
    EXPECT_NEAR(inferred[i].landing_time, arcs[i].landing_time, 1e-12) << i;
  }
}

}  // namespace
}  // namespace bushbaby
