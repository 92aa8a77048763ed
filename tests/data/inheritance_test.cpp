// Tunings that are based on others, and the rows of lists.
#include <filesystem>

#include <gtest/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

class Inheritance : public testing::Test {
 protected:
  void SetUp() override {
    const auto* info = testing::UnitTest::GetInstance()->current_test_info();
    folder_ = fs::temp_directory_path() /
              (std::string("bushbaby-") + info->name() + std::to_string(::getpid()));
    fs::create_directories(folder_);
    put("base.toml", R"(name = "Base"
[loop]
tick_rate = 30
[run]
top_speed = 5
[jump]
height = 3.25   # high
apex_time = 0.38
coyote = "6 ticks"
[fall]
terminal_speed = 24
[[wall.exit]]
on = "jump"
away = 8
[[wall.exit]]
on = "away"
)");
  }
  void TearDown() override { fs::remove_all(folder_); }

  void put(const std::string& name, const std::string& text) {
    const std::string whole = "format = \"bushbaby-tuning/1\"\n" + text;
    ASSERT_FALSE(write_file((folder_ / name).string(), whole));
  }
  [[nodiscard]] std::string at(const std::string& name) const { return (folder_ / name).string(); }
  [[nodiscard]] TuningFile loaded(const std::string& name) const {
    auto file = load_tuning(at(name));
    if (!file) {
      ADD_FAILURE() << describe(file.error().front());
      return {};
    }
    return *file;
  }
  [[nodiscard]] std::string problem(const std::string& name) const {
    const auto file = load_tuning(at(name));
    if (file) return "no problem";
    std::string text = describe(file.error().front());
    for (std::size_t i; (i = text.find(folder_.string() + "/")) != std::string::npos;) {
      text.erase(i, folder_.string().size() + 1);
    }
    return text;
  }

  fs::path folder_;
};

TEST_F(Inheritance, OwnKeysTakeThePlaceOfInheritedOnes) {
  put("child.toml", "based_on = \"base.toml\"\n[run]\ntop_speed = 9\n[fall]\nfactor = 2\n");
  const Tuning child = loaded("child.toml").tuning;
  EXPECT_EQ(child.name, "Base");
  EXPECT_EQ(child.run.top_speed, 9);
  EXPECT_EQ(child.fall.factor, 2);
  EXPECT_EQ(child.jump.height, 3.25);
  EXPECT_EQ(child.fall.terminal_speed, 24);
  EXPECT_EQ(child.wall.exits.size(), 2U);
  put("grandchild.toml", "based_on = \"child.toml\"\nname = \"Third\"\n");
  EXPECT_EQ(loaded("grandchild.toml").tuning.run.top_speed, 9);
}

TEST_F(Inheritance, TicksKeepTheirLengthAtAnotherTickRate) {
  put("child.toml", "based_on = \"base.toml\"\n[loop]\ntick_rate = 60\n");
  const Compiled compiled = compile(loaded("child.toml").tuning);
  ASSERT_TRUE(compiled.ok());
  EXPECT_EQ(compiled.rules.coyote_ticks, 12) << "6 ticks of 30 Hz are 12 of 60 Hz";
}

TEST_F(Inheritance, TwoOfWhatDetermineEachOtherReplaceAllOfThem) {
  put("child.toml", "based_on = \"base.toml\"\n[jump]\nlaunch_speed = 14\ngravity = 35\n");
  const Tuning child = loaded("child.toml").tuning;
  EXPECT_FALSE(child.jump.height);
  EXPECT_FALSE(child.jump.apex_time);
  put("one.toml", "based_on = \"base.toml\"\n[jump]\nheight = 4\n");
  EXPECT_EQ(loaded("one.toml").tuning.jump.apex_time, (Duration{0.38}));
}

TEST_F(Inheritance, NoneUnsetsWhatIsInheritedAndRowsReplaceAllRows) {
  put("child.toml",
      "based_on = \"base.toml\"\n[fall]\nterminal_speed = \"none\"\n[[wall.exit]]\non = \"up\"\n");
  const Tuning child = loaded("child.toml").tuning;
  EXPECT_FALSE(child.fall.terminal_speed);
  ASSERT_EQ(child.wall.exits.size(), 1U);
  EXPECT_EQ(child.wall.exits[0].on, "up");
}

TEST_F(Inheritance, RewritingAnHeirTouchesTheHeirAlone) {
  put("child.toml", "based_on = \"base.toml\"   # all of it\n[run]\ntop_speed = 9   # fast\n");
  const TuningFile child = loaded("child.toml");
  EXPECT_EQ(rewrite_tuning(child, child.tuning), child.text);
  Tuning changed = child.tuning;
  changed.run.top_speed = 10;
  changed.jump.height = 4;
  changed.fall.terminal_speed.reset();
  changed.wall.exits[1].hold = Duration{0.1};
  ASSERT_FALSE(write_file(at("child.toml"), rewrite_tuning(child, changed)));
  const TuningFile again = loaded("child.toml");
  EXPECT_EQ(again.text.find("based_on = \"base.toml\"   # all of it"), 29U);
  EXPECT_NE(again.text.find("top_speed = 10   # fast"), std::string::npos);
  for (const KnobPlace& place : places_of(changed)) {
    EXPECT_EQ(get_knob(again.tuning, *place.knob, place.row),
              get_knob(changed, *place.knob, place.row))
        << place.key() << "\n"
        << again.text;
  }
  EXPECT_EQ(loaded("base.toml").tuning.jump.height, 3.25);
}

TEST_F(Inheritance, ProblemsStandInTheFileTheyAreIn) {
  put("broken.toml", "[run]\ntop_speed = -1\n");
  put("child.toml", "based_on = \"broken.toml\"\n");
  EXPECT_EQ(problem("child.toml"),
            "broken.toml:3:13: run.top_speed: found -1, expected a speed in u/s, 0 to 1000000");
  put("lost.toml", "based_on = \"nowhere.toml\"\n");
  EXPECT_EQ(problem("lost.toml"),
            "lost.toml:2:12: based_on: found nowhere.toml: No such file or directory, expected a "
            "readable file");
  put("wrong.toml", "based_on = 3\n");
  EXPECT_EQ(problem("wrong.toml"),
            "wrong.toml:2:12: based_on: found 3, expected the name of a tuning file in quotes");
  put("a.toml", "based_on = \"b.toml\"\n");
  put("b.toml", "based_on = \"a.toml\"\n");
  EXPECT_EQ(problem("a.toml"),
            "b.toml:2:12: based_on: found \"a.toml\", expected a tuning that is not based on this "
            "one");
}

TEST_F(Inheritance, RowsAreReadRewrittenAndAdded) {
  const TuningFile base = loaded("base.toml");
  Tuning changed = base.tuning;
  changed.wall.exits[0].away = 9;
  changed.wall.exits[1].steer_lock = Duration{5, Duration::Unit::ticks};
  changed.wall.exits.push_back({"down", WallPlace::top, {}, 1, 2});
  const std::string text = rewrite_tuning(base, changed);
  EXPECT_NE(text.find("height = 3.25   # high"), std::string::npos);
  EXPECT_NE(text.find("on = \"jump\"\naway = 9\n"), std::string::npos) << text;
  EXPECT_NE(text.find("on = \"away\"\nsteer_lock = \"5 ticks\"\n"), std::string::npos) << text;
  EXPECT_NE(text.find("[[wall.exit]]\non = \"down\"\nwhere = \"top\"\naway = 1\nup = 2\n"),
            std::string::npos)
      << text;
  const auto again = parse_tuning(text, at("base.toml"));
  ASSERT_TRUE(again);
  EXPECT_EQ(again->tuning.wall.exits, changed.wall.exits);
  changed.wall.exits.resize(1);
  const auto fewer = parse_tuning(rewrite_tuning(base, changed), at("base.toml"));
  ASSERT_TRUE(fewer);
  EXPECT_EQ(fewer->tuning.wall.exits, changed.wall.exits);
}

TEST_F(Inheritance, RowsSayWhatIsWrongAndWhere) {
  const struct {
    const char* text;
    const char* message;
  } gallery[] = {
      {"[[wall.exit]]\nawya = 3\n",
       "row.toml:3:1: found unknown key wall.exit.awya; did you mean wall.exit.away?"},
      {"[[wall.exit]]\non = \"jmup\"\n",
       "row.toml:3:6: wall.exit.1.on: found \"jmup\", expected jump, away, towards, up or down, or "
       "some of them joined by +"},
      {"[[wall.exit]]\n[[wall.exit]]\nup = -1\n",
       "row.toml:4:6: wall.exit.2.up: found -1, expected a speed in u/s, 0 to 1000000"},
      {"[wall.exit]\non = \"jump\"\n",
       "row.toml:2:1: wall.exit: found a table, expected sections headed [[wall.exit]]"},
      {"[[wall.exit]]\nwhere = \"tpo\"\n",
       "row.toml:3:9: wall.exit.1.where: found \"tpo\", expected one of anywhere, top; did you "
       "mean "
       "top?"},
  };
  for (const auto& bad : gallery) {
    put("row.toml", bad.text);
    EXPECT_EQ(problem("row.toml"), bad.message) << bad.text;
  }
}

TEST_F(Inheritance, SettingsReachRows) {
  const auto set = [this](const std::string& setting) {
    return load_tuning(at("base.toml"), {setting});
  };
  EXPECT_EQ(set("wall.exit.1.away=6")->tuning.wall.exits[0].away, 6);
  EXPECT_EQ(set("wall.exit.3.on=jump+up")->tuning.wall.exits.size(), 3U);
  const auto beyond = set("wall.exit.5.away=6");
  ASSERT_FALSE(beyond);
  EXPECT_EQ(describe(beyond.error().front()),
            "--set wall.exit.5.away=6: wall.exit.5.away: found row 5 of wall.exit, expected a row "
            "from 1 to 3");
  const auto misspelt = set("wall.exit.2.awya=6");
  ASSERT_FALSE(misspelt);
  EXPECT_EQ(describe(misspelt.error().front()),
            "--set wall.exit.2.awya=6: found unknown key wall.exit.2.awya; did you mean "
            "wall.exit.2.away?");
}

}  // namespace
}  // namespace bushbaby
