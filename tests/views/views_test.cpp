// Pictures: where labels and marks come to lie, what surfaces look like, and what a file says.
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <random>
#include <set>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/views/charts.h"
#include "bushbaby/views/level_map.h"
#include "bushbaby/views/render.h"
#include "bushbaby/views/verdict_chart.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

bool overlap(const Box& a, const Box& b) {
  return a.lo.x < b.hi.x && b.lo.x < a.hi.x && a.lo.y < b.hi.y && b.lo.y < a.hi.y;
}

bool is_on_sheet(const Box& box) {
  return box.lo.x >= 0 && box.lo.y >= 0 && box.hi.x <= kSheet.x && box.hi.y <= kSheet.y;
}

// No label on another one or off the sheet, no mark on another one.
void expect_readable(const Panel& panel, const std::string& what) {
  const Layout layout = lay_out(panel);
  for (std::size_t i = 0; i < layout.labels.size(); ++i) {
    const PlacedLabel& label = layout.labels[i];
    EXPECT_TRUE(is_on_sheet(label.box)) << what << ": " << label.label->text;
    EXPECT_GE(label.label->size, 11) << what << ": " << label.label->text;
    for (std::size_t k = 0; k < i; ++k) {
      EXPECT_FALSE(overlap(label.box, layout.labels[k].box))
          << what << ": " << label.label->text << " on " << layout.labels[k].label->text;
    }
  }
  for (std::size_t i = 0; i < layout.marks.size(); ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      const Vec way = layout.marks[i].at - layout.marks[k].at;
      EXPECT_GT(std::hypot(way.x, way.y), 10) << what << ": marks " << k << " and " << i;
    }
  }
}

void expect_readable(const Picture& picture, const std::string& what) {
  for (const Panel& panel : picture.panels) expect_readable(panel, what);
}

// Every label found its place.
void expect_complete(const Picture& picture) {
  for (const Panel& panel : picture.panels) {
    EXPECT_EQ(lay_out(panel).labels.size(), panel.labels.size()) << picture.finding;
  }
}

TuningFile tuning(const std::string& name, const std::vector<Setting>& settings = {}) {
  auto file = load_tuning(kDemo + name, settings);
  EXPECT_TRUE(file);
  return *file;
}

CharacterSubject subject(const TuningFile& file) {
  return CharacterSubject(compile(file.tuning).rules, file.tuning.name);
}

// A run with everything that its map needs.
struct Ran {
  Level level;
  Trace trace;
  SubjectTraits traits;

  [[nodiscard]] Picture picture(const std::string& name = "Pip") const {
    return draw(RunMap{name, level, trace, traits.body_width, traits.body_height});
  }
};

Ran ran(const Level& level, const std::string& inputs) {
  CharacterSubject pip = subject(tuning("pip.tuning.toml"));
  const auto parsed = parse_inputs("# bushbaby inputs 1\n" + inputs, "inputs");
  EXPECT_TRUE(parsed);
  const auto trace = run_inputs(pip, level_stage(level), controls_of(*parsed, 60));
  EXPECT_TRUE(trace);
  return {level, *trace, pip.traits()};
}

Ran ran_demo(const std::string& level, const std::string& inputs) {
  std::string text = *read_file(kDemo + inputs);
  return ran(*load_level(kDemo + level), text.substr(text.find('\n') + 1));
}

TEST(Layout, RandomPanelsStayReadable) {
  std::mt19937_64 random(7);
  std::uniform_real_distribution<double> share(0, 1);
  for (int round = 0; round < 300; ++round) {
    Panel panel;
    panel.place = {{80, 80}, {600 + 600 * share(random), 700}};
    for (int i = 0; i < 25; ++i) {
      // Half of them crowd together.
      const double spread = i % 2 == 0 ? 1 : 0.1;
      const Vec at{spread * share(random), spread * share(random)};
      panel.marks.push_back({at, Sign::apex, Ink::text, false});
      panel.labels.push_back({std::string(static_cast<std::size_t>(1 + 30 * share(random)), 'm'),
                              at, static_cast<Side>(random() % 4), 11 + 6 * share(random)});
    }
    panel.lines.push_back({{{0, 0}, {share(random), share(random)}, {1, 1}}, Ink::measured});
    expect_readable(panel, fmt::format("round {}", round));
  }
}

TEST(Layout, LabelsKeepTheirSideWhereThereIsRoomAndLinesClear) {
  Panel panel;
  panel.place = {{80, 80}, {1200, 700}};
  panel.labels.push_back({"alone", {0.5, 0.5}, Side::right, 14});
  EXPECT_NEAR(lay_out(panel).labels[0].box.lo.x, 640 + 5, 1);
  panel.lines.push_back({{{0.5, 0.5}, {1, 0.5}}, Ink::measured});
  const Box moved = lay_out(panel).labels[0].box;
  const double line = 390;
  EXPECT_FALSE(moved.lo.y < line && moved.hi.y > line && moved.hi.x > 640) << "on the line";
}

TEST(Pictures, OfTheDemoAreReadableAndComplete) {
  for (const char* name : {"pip.tuning.toml", "dorro.tuning.toml"}) {
    const TuningFile file = tuning(name);
    CharacterSubject character = subject(file);
    const Picture jumps = draw(record_jump_chart(character, "60 Hz", {}));
    expect_readable(jumps, name);
    expect_complete(jumps);
  }
  for (const char* setting : {"fall.factor=1.7", "fall.factor=2.4", "run.top_speed=2",
                              "jump.height=9", "jump.height=0.3"}) {
    const TuningFile file = tuning("pip.tuning.toml", {setting});
    CharacterSubject pip = subject(file);
    const auto targets = load_targets(kDemo + "pip.targets.toml");
    const Judgement judgement = judge(*targets, pip);
    const Picture verdict = draw(record_verdict_chart(judgement, pip, "60 Hz", {}));
    expect_readable(verdict, setting);
    expect_complete(verdict);
  }
  for (const Ran& run : {ran_demo("first-limbs.level.toml", "first-leaps.inputs"),
                         ran_demo("hollow-trunk.level.toml", "moonlit-climb.inputs")}) {
    expect_readable(run.picture(), run.level.name);
    expect_complete(run.picture());
  }
}

TEST(Pictures, ManyTargetsShowTheMissedOnesAndSayHowMany) {
  std::string text = "format = \"bushbaby-targets/1\"\n";
  for (int i = 0; i < 60; ++i) {
    text += fmt::format("[[target]]\nfact = \"stand_jump.height\"\nat_least = {}\n",
                        i % 10 == 9 ? 9 : 1);
  }
  const auto targets = parse_targets(text, "t");
  ASSERT_TRUE(targets);
  CharacterSubject pip = subject(tuning("pip.tuning.toml"));
  const Judgement judgement = judge(*targets, pip);
  const Picture picture = draw(record_verdict_chart(judgement, pip, "60 Hz", {}));
  expect_readable(picture, "many");
  const Panel& rows = picture.panels.back();
  EXPECT_EQ(rows.title.substr(0, 32), "15 of 60 targets, the missed one");
  EXPECT_EQ(std::count_if(rows.marks.begin(), rows.marks.end(),
                          [](const Mark& mark) { return mark.sign == Sign::missed; }),
            6);
}

TEST(LevelMap, BodiesStandWhereSomethingHappens) {
  const Ran run = ran_demo("first-limbs.level.toml", "first-leaps.inputs");
  const Panel panel = run.picture().panels.front();
  const auto has_body_at = [&](Vec feet) {
    return std::any_of(panel.lines.begin(), panel.lines.end(), [&](const Polyline& line) {
      const double near = 0.3 * run.traits.body_width;
      return line.ink == Ink::body &&
             std::abs(line.points[0].x + run.traits.body_width / 2 - feet.x) < near &&
             std::abs(line.points[0].y - feet.y) < near;
    });
  };
  int bumps = 0;
  for (const Event& event : run.trace.events) {
    const bool bumped = event.kind == EventKind::bumped_head;
    bumps += bumped ? 1 : 0;
    if (bumped || event.kind == EventKind::jumped || event.kind == EventKind::landed) {
      EXPECT_TRUE(has_body_at(event.place)) << name_of(event.kind) << " at " << event.tick;
    }
  }
  EXPECT_EQ(bumps, 1);
  // Each kind is named once.
  std::multiset<std::string> names;
  for (const Label& label : panel.labels) names.insert(label.text);
  for (const char* name : {"jump", "landing", "bumped head", "apex"}) {
    EXPECT_EQ(names.count(name), 1U) << name;
  }
}

TEST(LevelMap, ARunThatStaysInItsPlaceShowsItsHeightOverTime) {
  const Ran run = ran(*load_level(kDemo + "first-limbs.level.toml"),
                      "nothing for 10 ticks\njump for 20 ticks\nnothing for 60 ticks\n");
  const Picture picture = run.picture();
  ASSERT_EQ(picture.panels.size(), 2U);
  EXPECT_EQ(picture.panels[1].x.title, "time, s");
  EXPECT_EQ(picture.panels[1].marks.size(), 4U) << "jump, cut, apex and landing";
  expect_readable(picture, "standing");
}

TEST(LevelMap, SurfacesThatActDifferentlyLookDifferentAndSaySo) {
  struct Case {
    const char* words;
    SurfaceTraits traits;
  };
  std::vector<Case> cases(8);
  cases[0] = {"", {}};
  cases[1].words = "grip 0.25";
  cases[1].traits.grip = 0.25;
  cases[2].words = "carries 2.5 u/s right";
  cases[2].traits.conveyor = 2.5;
  cases[3].words = "carries 2.5 u/s left";
  cases[3].traits.conveyor = -2.5;
  cases[4].words = "bounces at 19 u/s";
  cases[4].traits.bounce_speed = 19;
  cases[5].words = "no ground";
  cases[5].traits.ground = false;
  cases[6].words = "no jumping";
  cases[6].traits.jump = false;
  cases[7].words = "stuns";
  cases[7].traits.has_touch = true;
  cases[7].traits.touch.stun = 1;
  std::set<std::string> looks;
  for (const Case& c : cases) {
    Level level{"looks", {0, 0}, {{"", {{-9, -1}, {9, 0}}, {}}, {"", {{3, 1}, {6, 2}}, c.traits}}};
    const Panel panel = ran(level, "right for 20 ticks\n").picture().panels.front();
    std::string look;
    for (const Polyline& line : panel.lines) {
      if (line.ink == Ink::body || line.ink == Ink::measured_soft) continue;
      look += fmt::format("{} {} {} ", static_cast<int>(line.ink), line.width,
                          static_cast<int>(line.stroke));
      for (const Vec& at : line.points) look += fmt::format("{},{} ", at.x, at.y);
    }
    looks.insert(look);
    const bool says = std::any_of(panel.labels.begin(), panel.labels.end(),
                                  [&c](const Label& label) { return label.text == c.words; });
    EXPECT_EQ(says, *c.words != '\0') << c.words;
  }
  EXPECT_EQ(looks.size(), cases.size());
}

TEST(JumpChart, OfABodyThatDoesNotJumpSaysSo) {
  CharacterSubject pip = subject(tuning("pip.tuning.toml", {"jump.allowed=false"}));
  const Picture picture = draw(record_jump_chart(pip, "60 Hz", {}));
  EXPECT_EQ(picture.finding, "Pip: no jump to show");
  EXPECT_TRUE(picture.panels.empty());
}

// Nothing in a file is trusted in size: what is drawn is bounded, and says so.
TEST(LevelMap, HugeLevelsAndLongRunsStayReadable) {
  Level level{"huge", {0, 0}, {{"floor", {{-50, -1}, {50, 0}}, {}}}};
  for (int i = 0; i < 8000; ++i) {
    const Vec lo{(i % 200) * 0.4 - 40, 3 + (i / 200) * 0.4};
    level.solids.push_back({fmt::format("solid {}", i), {lo, lo + Vec{0.3, 0.3}}, {}});
  }
  expect_readable(ran(level, "right jump for 60 ticks\nright for 200 ticks\n").picture(), "huge");
  std::string inputs;
  for (int i = 0; i < 400; ++i) inputs += "jump for 20 ticks\nnothing for 40 ticks\n";
  const Picture picture = ran(*load_level(kDemo + "first-limbs.level.toml"), inputs).picture();
  expect_readable(picture, "long");
  EXPECT_EQ(picture.panels[0].title, "the first 300 events are marked");
}

class PictureFiles : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / fmt::format("bushbaby-views-{}", ::getpid());
    fs::create_directories(folder_);
  }
  void TearDown() override { fs::remove_all(folder_); }

  fs::path folder_;
};

TEST_F(PictureFiles, APictureOfNothingIsAPicture) {
  Picture nothing;
  nothing.finding = "Pip: no jump to show";
  const std::string svg = (folder_ / "nothing.svg").string();
  ASSERT_FALSE(render(nothing, svg));
  EXPECT_NE(read_file(svg)->find("<text>Pip: no jump to show</text>"), std::string::npos);
  EXPECT_FALSE(render(nothing, (folder_ / "nothing.png").string()));
}

TEST_F(PictureFiles, SayWhatTheyShowAndWhatMadeThem) {
  const Picture picture = ran_demo("first-limbs.level.toml", "first-leaps.inputs").picture();
  const std::string svg = (folder_ / "run.svg").string();
  ASSERT_FALSE(render(picture, svg));
  const std::string text = *read_file(svg);
  EXPECT_NE(text.find("<title>" + picture.finding + "</title>"), std::string::npos);
  EXPECT_NE(text.find("Drawn by Bushbaby.</desc>"), std::string::npos);
  EXPECT_EQ(text.find("nuplot"), std::string::npos);
  EXPECT_EQ(text.find("NUPLOT"), std::string::npos);
  EXPECT_NE(text.find("<text>bumped head</text>"), std::string::npos) << "text stays text";
  const std::string png = (folder_ / "run.png").string();
  ASSERT_FALSE(render(picture, png));
  const std::string bytes = *read_file(png);
  EXPECT_NE(bytes.find("iTXtTitle"), std::string::npos);
  EXPECT_NE(bytes.find(picture.finding), std::string::npos);
  EXPECT_NE(bytes.find("iTXtSoftware"), std::string::npos);
  // The same picture gives the same bytes.
  ASSERT_FALSE(render(picture, svg));
  EXPECT_EQ(*read_file(svg), text);
}

const std::vector<std::string>& hostile_names() {
  static const std::vector<std::string> names{"`touch ran`",
                                              "\"; system(\"touch ran\"); x=\"",
                                              "'; system('touch ran'); x='",
                                              "$(touch ran)",
                                              "\\\"`touch ran`\\\"",
                                              "@ran ran='touch ran'",
                                              "%d %s %n %99999999d",
                                              "{/Symbol a}^2_3",
                                              "<b>&amp;</title><script>",
                                              "a\nquit\nsystem 'touch ran'",
                                              "a\rEOD\rquit",
                                              "\x1b]0;ran\x07\x1b[31m",
                                              "# not a comment",
                                              "\xff\xfe",
                                              "it's",
                                              "\\",
                                              "'",
                                              std::string(100000, 'x')};
  return names;
}

// Every kind of picture with a name wherever a name can stand.
std::vector<Picture> pictures_with(const std::string& name) {
  Level level = *load_level(kDemo + "first-limbs.level.toml");
  level.name = name;
  for (Solid& solid : level.solids) solid.name = name;
  std::vector<Picture> pictures{
      ran(level, "right for 40 ticks\nright jump for 60 ticks\n").picture(name)};
  CharacterSubject pip(compile(tuning("pip.tuning.toml").tuning).rules, name);
  pictures.push_back(draw(record_jump_chart(pip, "60 Hz", {})));
  auto targets = *load_targets(kDemo + "pip.targets.toml");
  targets.back().curve_name = name;
  const Judgement judgement = judge(targets, pip);
  pictures.push_back(draw(record_verdict_chart(judgement, pip, "60 Hz", {})));
  return pictures;
}

// Names come from strangers' files; what they hold is drawn, never executed or expanded.
TEST_F(PictureFiles, HostileNamesAreDrawnAsTheyAre) {
  const fs::path before = fs::current_path();
  fs::current_path(folder_);
  int number = 0;
  for (const std::string& name : hostile_names()) {
    for (const Picture& picture : pictures_with(name)) {
      expect_readable(picture, name.substr(0, 40));
      // Both printers take the same script: every picture as one of them, in turn.
      ++number;
      const std::string file = fmt::format("{}.{}", number, number % 2 == 0 ? "svg" : "png");
      ASSERT_FALSE(render(picture, file)) << name.substr(0, 40);
      EXPECT_GT(fs::file_size(file), 5000U) << name.substr(0, 40);
    }
    EXPECT_FALSE(fs::exists("ran")) << name.substr(0, 40);
  }
  // The path is nobody's but the file system's.
  const Picture picture = pictures_with("Pip")[0];
  for (const char* path : {"`touch ran`.svg", "'; system('touch ran');.svg", "a b\".png",
                           "x\nset output 'ran'.svg", "%d.svg"}) {
    ASSERT_FALSE(render(picture, path)) << path;
    EXPECT_TRUE(fs::exists(path)) << path;
    EXPECT_FALSE(fs::exists("ran")) << path;
  }
  fs::current_path(before);
}

}  // namespace
}  // namespace bushbaby
