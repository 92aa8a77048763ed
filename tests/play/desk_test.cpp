// The desk: what is set, taken back, refused, saved, and read again; the history; what is measured.
#include <filesystem>
#include <random>

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <unistd.h>

#include "bushbaby/data/files.h"

#include "demo_folder.h"
#include "play_support.h"
#include "session/disk.h"
#include "session/history.h"
#include "session/measurer.h"

namespace bushbaby::live {
namespace {

using test::knob;

class Desks : public bushbaby::test::DemoFolder {
 protected:
  [[nodiscard]] Desk desk_of(const char* name) const {
    Opening setup = test::setup_of(*load_tuning(path(name)), "first-limbs.level.toml");
    return Desk(setup.file, setup.level, setup.book);
  }
};

// Against a model: the list of all tunings that were set, and a place in it.
TEST_F(Desks, UndoAndRedoGoThroughAllThatWasSet) {
  std::mt19937_64 random(3);
  Desk desk = desk_of("pip.tuning.toml");
  std::vector<Tuning> states{desk.present()};
  std::size_t now = 0;
  const char* const kKeys[] = {"fall.factor", "run.top_speed", "jump.height"};
  for (int step = 0; step < 3000; ++step) {
    const auto what = random() % 5;
    if (what == 0 && now > 0) {
      desk.undo();
      --now;
    } else if (what == 1 && now + 1 < states.size()) {
      desk.redo();
      ++now;
    } else {
      desk.settle();
      const KnobPlace place = knob(kKeys[random() % 3]);
      const double value = 1 + static_cast<double>(random() % 40) / 10;
      if (get_knob(desk.present(), *place.knob) == KnobValue(value)) continue;
      ASSERT_FALSE(desk.set(place, value));
      states.resize(++now);
      states.push_back(desk.present());
      if (states.size() > 200) break;
    }
    ASSERT_EQ(first_difference(desk.present(), states[now]), "");
    ASSERT_EQ(desk.can_undo(), now > 0);
    ASSERT_EQ(desk.can_redo(), now + 1 < states.size());
  }
}

TEST_F(Desks, ADragIsOneStep) {
  Desk desk = desk_of("pip.tuning.toml");
  for (int i = 0; i < 50; ++i) ASSERT_FALSE(desk.set(knob("fall.factor"), 1.7 + 0.01 * i));
  EXPECT_EQ(desk.steps().size(), 2U - 1U);
  desk.settle();
  ASSERT_FALSE(desk.set(knob("fall.factor"), 3.0));
  ASSERT_FALSE(desk.set(knob("run.top_speed"), 8.0));
  ASSERT_FALSE(desk.set(knob("fall.factor"), 3.5));
  EXPECT_EQ(desk.steps().size(), 4U);
  desk.undo();
  desk.undo();
  desk.undo();
  EXPECT_NEAR(desk.present().fall.factor, 1.7 + 0.49, 1e-12);
  desk.undo();
  EXPECT_EQ(desk.present().fall.factor, 1.7);
}

TEST_F(Desks, WhatCannotBeIsSaidAndTheLastGoodRulesGoOn) {
  Desk desk = desk_of("pip.tuning.toml");
  // Out of its own range: nothing changes.
  const auto refusal = desk.set(knob("jump.cut.keep"), 1.5);
  ASSERT_TRUE(refusal);
  EXPECT_EQ(*refusal, "jump.cut.keep: found 1.5, expected a factor, 0 to 1");
  EXPECT_EQ(desk.present().jump.cut.keep, 0.45);
  EXPECT_FALSE(desk.can_undo());
  // Not together with the rest: it is kept, and said; the character goes on as before.
  const double launch = desk.book(InForce::present).rules(0).launch_speed;
  EXPECT_TRUE(desk.type(knob("jump.gravity"), "20"));
  EXPECT_EQ(desk.present().jump.gravity, 20);
  EXPECT_FALSE(desk.refusals().empty());
  EXPECT_EQ(desk.book(InForce::present).rules(0).launch_speed, launch);
  EXPECT_FALSE(desk.good().jump.gravity);
  EXPECT_TRUE(desk.save(path("pip.tuning.toml"))) << "what cannot be is not saved";
  // With a second one it can be.
  EXPECT_FALSE(desk.type(knob("jump.apex_time"), ""));
  EXPECT_TRUE(desk.refusals().empty());
  EXPECT_NE(desk.book(InForce::present).rules(0).launch_speed, launch);
  // What is typed is read in the file's units, or its own.
  EXPECT_FALSE(desk.type(knob("jump.coyote"), "100 ms"));
  EXPECT_EQ(desk.present().jump.coyote.amount, 0.1);
  EXPECT_EQ(desk.type(knob("fall.factor"), "heavy").value_or(""),
            "expected a factor, more than 0 and at most 1000000");
}

TEST_F(Desks, KnobsGoBackToTheFile) {
  Desk desk = desk_of("pip.tuning.toml");
  ASSERT_FALSE(desk.set(knob("fall.factor"), 2.0));
  ASSERT_FALSE(desk.set(knob("run.top_speed"), 9.0));
  EXPECT_EQ(desk.changed().size(), 2U);
  desk.reset_knob(knob("fall.factor"));
  EXPECT_EQ(desk.changed().size(), 1U);
  EXPECT_EQ(desk.changed().front().key(), "run.top_speed");
  desk.put_all_back();
  EXPECT_TRUE(desk.changed().empty());
  desk.undo();
  EXPECT_EQ(desk.present().run.top_speed, 9);
}

TEST_F(Desks, SavingChangesTheNumberAndNothingElse) {
  Desk desk = desk_of("pip.tuning.toml");
  const std::string before = text_of("pip.tuning.toml");
  ASSERT_FALSE(desk.set(knob("fall.factor"), 2.25));
  EXPECT_FALSE(desk.save(path("pip.tuning.toml")));
  const std::string after = text_of("pip.tuning.toml");
  std::string expected = before;
  const auto at = expected.find("factor = 1.7");
  ASSERT_NE(at, std::string::npos);
  expected.replace(at, 12, "factor = 2.25");
  EXPECT_EQ(after, expected);
  EXPECT_TRUE(desk.changed().empty());
  EXPECT_EQ(desk.file().tuning.fall.factor, 2.25);
}

TEST_F(Desks, AnHeirHoldsWhatIsOtherwise) {
  Desk desk = desk_of("pip.tuning.toml");
  ASSERT_FALSE(desk.set(knob("fall.factor"), 2.25));
  std::filesystem::create_directories(folder_ / "mine");
  const std::string child = path("mine/heavy-pip.tuning.toml");
  EXPECT_FALSE(desk.save_based(child));
  EXPECT_EQ(text_of("mine/heavy-pip.tuning.toml"),
            "format = \"bushbaby-tuning/1\"\nbased_on = \"../pip.tuning.toml\"\n\n[fall]\nfactor = "
            "2.25\n");
  const auto read = load_tuning(child);
  ASSERT_TRUE(read);
  EXPECT_EQ(first_difference(read->tuning, desk.present()), "");
  EXPECT_TRUE(desk.save_based(child)) << "a file that is there is not written over";
}

TEST_F(Desks, AFileThatAnEditorChangedIsReadAnew) {
  Desk desk = desk_of("pip.tuning.toml");
  DiskWatch watch;
  watch.know(desk.file());
  EXPECT_FALSE(watch.look(1));
  ASSERT_FALSE(desk.set(knob("run.top_speed"), 9.0));
  std::string text = text_of("pip.tuning.toml");
  text.replace(text.find("factor = 1.7"), 12, "factor = 1.9");
  ASSERT_FALSE(write_file(path("pip.tuning.toml"), text));
  EXPECT_FALSE(watch.look(0.1)) << "it is not looked at all the time";
  EXPECT_TRUE(watch.look(1));
  EXPECT_FALSE(watch.look(1)) << "it is known now";
  EXPECT_FALSE(desk.reload());
  EXPECT_EQ(desk.present().fall.factor, 1.9);
  EXPECT_EQ(desk.present().run.top_speed, 9);
  EXPECT_EQ(desk.changed().size(), 1U);
  // One that cannot be read changes nothing.
  ASSERT_FALSE(write_file(path("pip.tuning.toml"), "format = \"bushbaby-tuning/1\"\n[fall\n"));
  EXPECT_TRUE(watch.look(1));
  EXPECT_TRUE(desk.reload());
  EXPECT_EQ(desk.present().fall.factor, 1.9);
  ASSERT_FALSE(write_file(path("pip.tuning.toml"), text));
  EXPECT_FALSE(desk.reload_and_drop());
  EXPECT_TRUE(desk.changed().empty());
  // An empty file is one that is being written.
  std::filesystem::resize_file(path("pip.tuning.toml"), 0);
  EXPECT_FALSE(watch.look(1));
}

// ---- the history and the background
// ---------------------------------------------------------------

TEST_F(Desks, TheDiaryHasWhatStayed) {
  Desk desk = desk_of("pip.tuning.toml");
  History history;
  history.look(desk, 0);
  ASSERT_EQ(history.entries().size(), 1U);
  EXPECT_EQ(history.entries()[0].name, "the file");
  for (int i = 0; i < 30; ++i) {
    (void)desk.set(knob("fall.factor"), 1.7 + 0.02 * i);
    history.look(desk, 1 / 60.0);
  }
  EXPECT_EQ(history.entries().size(), 1U) << "it did not stay";
  for (int i = 0; i < 90; ++i) history.look(desk, 1 / 60.0);
  ASSERT_EQ(history.entries().size(), 2U);
  EXPECT_THAT(history.entries()[1].changes, testing::ElementsAre("fall.factor 2.28 (was 1.7)"));
  EXPECT_EQ(history.current(desk), 1U);
  history.rename(1, "heavy");
  history.note(desk.good(), {{"stand_jump.height", Dimension::length, 3.25}});
  EXPECT_EQ(history.entries()[1].facts.size(), 1U);
  desk.take(history.entries()[0].tuning, "back");
  EXPECT_EQ(history.current(desk), 0U);
  desk.undo();
  EXPECT_EQ(history.current(desk), 1U);
}

TEST_F(Desks, FactsAreMeasuredInTheBackground) {
  const Desk desk = desk_of("pip.tuning.toml");
  Measurer measurer({"stand_jump", "hop"}, *load_targets(path("pip.targets.toml")));
  Tuning high = desk.good();
  for (int i = 0; i < 20; ++i) {  // the last of what is asked quickly counts
    high.jump.height = 3 + 0.1 * i;
    measurer.ask(static_cast<std::uint64_t>(i), high);
  }
  measurer.wait();
  const auto measured = measurer.take();
  ASSERT_TRUE(measured);
  EXPECT_EQ(measured->version, 19U);
  EXPECT_NEAR(*value_of(measured->drills, "stand_jump.height"), 4.9, 1e-9);
  EXPECT_FALSE(value_of(measured->drills, "run_up.time"));
  ASSERT_EQ(measured->judgement.verdicts.size(), measurer.targets().size());
  EXPECT_FALSE(measured->judgement.verdicts[0].met);
  EXPECT_NEAR(measured->judgement.verdicts[0].off_by, 1.65, 1e-9);
  EXPECT_FALSE(measurer.take());
  Tuning broken = high;
  broken.jump.gravity = 3;
  measurer.ask(20, broken);
  measurer.wait();
  EXPECT_FALSE(measurer.take());
}

}  // namespace
}  // namespace bushbaby::live
