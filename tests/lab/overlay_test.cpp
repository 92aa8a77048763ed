// Overlay: what a press would do is what it does, and what is reported to differ does.
#include "bushbaby/lab/overlay.h"

#include <algorithm>
#include <functional>
#include <random>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

#include "support.h"

namespace bushbaby {
namespace {

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

Tuning demo_tuning(const char* name) { return load_tuning(kDemo + name)->tuning; }

CharacterSubject subject_of(const Tuning& tuning) {
  return CharacterSubject(test::rules_of(tuning), tuning.name);
}

Chance chance_of(const Events& events) {
  bool coyote = false;
  for (const Event& event : events) {
    coyote = coyote || event.kind == EventKind::coyote_used;
    if (event.kind != EventKind::jumped) continue;
    switch (static_cast<JumpKind>(event.detail)) {
      case JumpKind::ground:
      case JumpKind::charged: return coyote ? Chance::coyote : Chance::ground;
      case JumpKind::wall: return Chance::wall;
      case JumpKind::air: return Chance::air;
      default: return Chance::other;
    }
  }
  return Chance::nothing;
}

// In every tick of the demo's climb before which the button is up and nothing is remembered: the
// press is made, and does what was reported.
TEST(Overlay, ReportsWhatAPressWouldDo) {
  const Tuning tuning = demo_tuning("pip.tuning.toml");
  const Stage stage = level_stage(*load_level(kDemo + "hollow-trunk.level.toml"));
  const Inputs inputs = *load_inputs(kDemo + "moonlit-climb.inputs");
  const auto variant = record_run(subject_of(tuning), "Pip", stage, inputs);
  ASSERT_TRUE(variant);
  ASSERT_EQ(variant->notes.size() + 1, variant->trace.samples.size());
  CharacterSubject pip = subject_of(tuning);
  ASSERT_TRUE(pip.place(stage));
  std::map<Chance, int> seen;
  for (std::size_t i = 0; i < variant->notes.size(); ++i) {
    const Sample& sample = variant->trace.samples[i + 1];
    const Character& now = pip.character();
    const bool waits = now.buffer_left > 0 || now.wall_buffer_left > 0;
    if (i > 0) {
      EXPECT_EQ(variant->notes[i - 1].remembers, waits);
    }
    if (!now.controls.jump && !waits) {
      ASSERT_TRUE(pip.keep());
      Controls press = sample.held;
      press.jump = true;
      pip.advance(press);
      EXPECT_EQ(chance_of(pip.events()), variant->notes[i].chance) << "tick " << i + 1;
      ++seen[variant->notes[i].chance];
      pip.go_back();
    }
    pip.advance(sample.held);
    ASSERT_EQ(pip.observe().feet, sample.feet);
  }
  for (const Chance chance :
       {Chance::nothing, Chance::ground, Chance::coyote, Chance::wall, Chance::air}) {
    EXPECT_GT(seen[chance], 0) << name_of(chance);
  }
}

TEST(Overlay, OfAThingWithItselfIsNothing) {
  const Stage stage = level_stage(*load_level(kDemo + "first-limbs.level.toml"));
  const Inputs inputs = *load_inputs(kDemo + "late-leaps.inputs");
  for (const char* name : {"pip.tuning.toml", "dorro.tuning.toml"}) {
    const CharacterSubject subject = subject_of(demo_tuning(name));
    const auto one = record_run(subject, "one", stage, inputs);
    ASSERT_TRUE(one);
    std::vector<Variant> twice{*one, *one};
    EXPECT_TRUE(compare_arcs(twice).empty());
    EXPECT_TRUE(compare_events(twice).empty());
    for (Variant& variant : twice) {
      CharacterSubject own = subject;
      variant.facts = run_drills(own, {"stand_jump", "hop"});
    }
    EXPECT_TRUE(compare_facts(twice).empty());
  }
}

// A jump of a drill begins at its take-off, whatever came before, and is compared by its arc.
TEST(Overlay, JumpsOfADrillBeginAtTheirTakeOff) {
  Tuning tuning = demo_tuning("pip.tuning.toml");
  std::vector<Variant> variants;
  for (const double factor : {1.7, 2.2}) {
    tuning.fall.factor = factor;
    tuning.run.ground.accelerate = 30 * factor;  // another run-up
    variants.push_back(*record_drill(subject_of(tuning), "x", *find_drill("running_jump")));
    const Trace& trace = variants.back().trace;
    EXPECT_EQ(trace.samples.front().tick, 0);
    EXPECT_EQ(trace.samples.front().feet, (Vec{0, 0}));
    EXPECT_TRUE(trace.samples.front().grounded);
    EXPECT_EQ(variants.back().notes.size() + 1, trace.samples.size());
    EXPECT_EQ(trace.events.front().tick, 1);
    const std::vector<Arc> arcs = find_arcs(trace);
    ASSERT_EQ(arcs.size(), 1U);
    EXPECT_NEAR(arcs[0].height(), variants.back().jump->arc.height(), 1e-9);
    // It can jump again in the first tick that begins on the ground, and the notes say so.
    const auto ready = ready_after(variants.back(), arcs[0]);
    ASSERT_TRUE(ready);
    EXPECT_GE(*ready, arcs[0].landing_time * 60);
    EXPECT_LT(*ready, arcs[0].landing_time * 60 + 1);
  }
  const auto rows = compare_arcs(variants);
  const auto has = [&rows](const char* what) {
    return std::any_of(rows.begin(), rows.end(),
                       [what](const Compared& r) { return r.what == what; });
  };
  EXPECT_TRUE(has("air time"));
  EXPECT_TRUE(has("landing speed"));
  EXPECT_FALSE(has("height"));
  for (const Compared& row : rows) EXPECT_FALSE(is_same(row, 1));
}

// As many events are matched as can be in order: against trying all choices.
TEST(Overlay, MatchesAsManyEventsAsItCan) {
  std::mt19937_64 random(7);
  for (int round = 0; round < 300; ++round) {
    std::vector<Variant> variants(2);
    for (Variant& variant : variants) {
      variant.trace.tick_rate = 60;
      for (int i = 0, n = static_cast<int>(random() % 8); i < n; ++i) {
        Event event;
        event.kind = random() % 2 == 0 ? EventKind::apex : EventKind::landed;
        // No time is that of the other trace, so that no match is omitted as the same.
        event.tick = 1 + 2 * i + (&variant == variants.data() ? 0 : 1);
        variant.trace.events.push_back(event);
      }
    }
    const auto& a = variants[0].trace.events;
    const auto& b = variants[1].trace.events;
    const std::function<std::size_t(std::size_t, std::size_t)> most = [&](std::size_t i,
                                                                          std::size_t j) {
      if (i == a.size() || j == b.size()) return std::size_t{0};
      std::size_t best = std::max(most(i + 1, j), most(i, j + 1));
      if (a[i].kind == b[j].kind) best = std::max(best, 1 + most(i + 1, j + 1));
      return best;
    };
    std::size_t matched = 0;
    std::size_t single = 0;
    double last = -1;
    for (const Compared& row : compare_events(variants)) {
      if (row.values[0] && row.values[1]) {
        ++matched;
        EXPECT_GT(*row.values[1], last);  // in order
        last = *row.values[1];
      } else {
        ++single;
      }
    }
    // The ones of a trace without events are not compared: it may be one that reports none.
    if (b.empty()) continue;
    EXPECT_EQ(matched, most(0, 0));
    EXPECT_EQ(matched * 2 + single, a.size() + b.size());
  }
}

TEST(Overlay, WhatIsSwitchedOffHasItsDefaults) {
  const Tuning fresh;
  for (const char* key : {"jump.coyote", "jump.air_jumps", "fall.fast", "wall", "wall.exit", "dash",
                          "run.sprint", "jump.cut"}) {
    Tuning tuning = demo_tuning("pip.tuning.toml");
    const Tuning before = tuning;
    ASSERT_TRUE(reset_knobs(tuning, key));
    const std::string group = std::string(key) + ".";
    int changed = 0;
    for (const KnobPlace& place : places_of(before)) {
      const std::string_view knob = place.knob->key;
      const bool in = knob == key || knob.substr(0, group.size()) == group;
      if (in && place.knob->list != nullptr) {
        EXPECT_FALSE(place.knob->has_row(tuning, 0));
        ++changed;
        continue;
      }
      const KnobValue now = get_knob(tuning, *place.knob, place.row);
      EXPECT_EQ(now, get_knob(in ? fresh : before, *place.knob, place.row)) << knob;
      changed += now == get_knob(before, *place.knob, place.row) ? 0 : 1;
    }
    EXPECT_GT(changed, 0) << key;
    EXPECT_TRUE(compile(tuning).ok()) << key;
  }
  Tuning tuning;
  EXPECT_FALSE(reset_knobs(tuning, "jump.coy"));
  EXPECT_FALSE(reset_knobs(tuning, ""));
}

}  // namespace
}  // namespace bushbaby
