// Tuning files: reading, writing, rewriting, and what is wrong with them.
#include "bushbaby/data/tuning_file.h"

#include <random>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"

namespace bushbaby {
namespace {

const std::string kPipPath = std::string(BUSHBABY_SOURCE_DIR) + "/demo/pip.tuning.toml";

TuningFile parsed(const std::string& text) {
  auto file = parse_tuning(text, "t.toml");
  if (!file) {
    for (const Problem& problem : file.error()) ADD_FAILURE() << describe(problem) << "\n" << text;
    return {};
  }
  return *file;
}

// Every knob of both, by name, so that a failure says which differs.
void expect_same(const Tuning& a, const Tuning& b) {
  ASSERT_EQ(a.wall.exits.size(), b.wall.exits.size());
  for (const KnobPlace& place : places_of(a)) {
    const KnobValue in_a = get_knob(a, *place.knob, place.row);
    const KnobValue in_b = get_knob(b, *place.knob, place.row);
    EXPECT_EQ(describe(in_a), describe(in_b)) << place.key();
    EXPECT_EQ(in_a, in_b) << place.key();
  }
}

// Sets about a third of the knobs to other values that they allow.
Tuning shuffled(Tuning tuning, std::mt19937_64& random) {
  std::uniform_real_distribution<double> number(0.01, 60);
  if (random() % 2 == 0) tuning.wall.exits.emplace_back();
  for (const KnobPlace& place : places_of(tuning)) {
    const Knob& knob = *place.knob;
    if (random() % 3 != 0) continue;
    KnobValue value;
    if (const auto* choice = std::get_if<ChoiceBinding>(&knob.binding)) {
      value = std::string(choice->names[random() % choice->count]);
    } else if (std::holds_alternative<KnobAccess<bool>>(knob.binding)) {
      value = random() % 2 == 0;
    } else if (std::holds_alternative<KnobAccess<int>>(knob.binding)) {
      value = static_cast<double>(random() % 9);
    } else if (knob.list != nullptr &&
               std::holds_alternative<KnobAccess<std::string>>(knob.binding)) {
      const char* words[] = {"jump", "away+up", "jump + towards", "up"};
      value = std::string(words[random() % 4]);
    } else if (std::holds_alternative<KnobAccess<std::string>>(knob.binding)) {
      value = std::string("Dorro, \"the heavy\" \\ ü ") + std::to_string(random() % 100);
    } else if (knob.dimension == Dimension::time && random() % 2 == 0) {
      value = Duration{static_cast<double>(random() % 20 + 1), Duration::Unit::ticks};
    } else {
      value = number(random);
    }
    const bool optional = std::holds_alternative<KnobAccess<std::optional<double>>>(knob.binding) ||
                          std::holds_alternative<KnobAccess<std::optional<Duration>>>(knob.binding);
    if (optional && random() % 3 == 0) value = {};
    (void)set_knob(tuning, knob, value, place.row);  // out of range: stays
  }
  return tuning;
}

TEST(TuningFile, ReadsPip) {
  const auto file = load_tuning(kPipPath);
  ASSERT_TRUE(file) << describe(file.error().front());
  EXPECT_EQ(file->tuning.name, "Pip");
  EXPECT_EQ(file->tuning.run.ground.turn, 120);
  EXPECT_EQ(file->tuning.jump.height, 3.25);
  EXPECT_EQ(file->tuning.jump.cut.min_hold, (Duration{3, Duration::Unit::ticks}));
  EXPECT_EQ(file->tuning.fall.terminal_speed, 24);
  EXPECT_EQ(file->places.at("jump.height").value.line, 26);
  EXPECT_EQ(file->places.at("jump.height").value.column, 10);
}

TEST(TuningFile, DurationsComeInThreeUnits) {
  EXPECT_EQ(parse_duration("7 ticks"), (Duration{7, Duration::Unit::ticks}));
  EXPECT_EQ(parse_duration("110ms"), (Duration{0.11}));
  EXPECT_EQ(parse_duration("0.11s"), (Duration{0.11}));
  EXPECT_EQ(parse_duration("0.11"), (Duration{0.11}));
  EXPECT_EQ(parse_duration("1 tick"), (Duration{1, Duration::Unit::ticks}));
  EXPECT_EQ(parse_duration("7ticks"), (Duration{7, Duration::Unit::ticks}));
  EXPECT_EQ(parse_duration("110 ms"), (Duration{0.11}));
  EXPECT_EQ(parse_duration("0.11 s"), (Duration{0.11}));
  for (const char* bad : {"", "t", "7t", "ms", "7 t", "7tt", "seven", "7m", "ticks", " s"}) {
    EXPECT_FALSE(parse_duration(bad)) << bad;
  }
}

RC_GTEST_PROP(TuningFileLaw, WrittenThenReadIsTheSame, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  const Tuning tuning = shuffled(Tuning{}, random);
  expect_same(parsed(write_tuning(tuning)).tuning, tuning);
  RC_ASSERT(!testing::Test::HasFailure());
}

// A file in all the ways in which TOML lets people write tables.
const char* const kManyStyles = R"(# a comment above
format = "bushbaby-tuning/1"   # the format
name = "Pip"

[loop]
tick_rate = 60.0   # kept as 60.0
[run]
top_speed = 7      # u/s
ground = { accelerate = 60, brake = 80 }
air.turn = 70

[run.not_yet]
)";

RC_GTEST_PROP(TuningFileLaw, RewritingChangesTheValuesAndNothingElse, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  std::string text = kManyStyles;
  text.resize(text.find("[run.not_yet]"));
  if (random() % 2 == 0) text += "[jump]\nheight = 3.25 # high\napex_time = 0.38\n";
  if (random() % 2 == 0) text += "[jump.cut]\nstyle = \"scale\"\n";
  if (random() % 2 == 0) text += "\n# the end, without a line break";
  const TuningFile file = parsed(text);
  const Tuning changed = shuffled(file.tuning, random);
  const std::string rewritten = rewrite_tuning(file, changed);
  RC_LOG() << rewritten;
  expect_same(parsed(rewritten).tuning, changed);
  RC_ASSERT(!testing::Test::HasFailure());
  RC_ASSERT(rewritten.find("# a comment above") != std::string::npos);
  if (changed.loop.tick_rate == 60) {
    RC_ASSERT(rewritten.find("60.0   # kept as 60.0") != std::string::npos);
  }
}

TEST(TuningFile, RewritingNothingIsTheSameText) {
  const TuningFile file = parsed(kPipPath.empty() ? "" : *read_file(kPipPath));
  EXPECT_EQ(rewrite_tuning(file, file.tuning), file.text);
  Tuning changed = file.tuning;
  changed.jump.height = 4;
  std::string expected = file.text;
  expected.replace(expected.find("height = 3.25"), 13, "height = 4");
  EXPECT_EQ(rewrite_tuning(file, changed), expected);
}

struct Bad {
  const char* what;
  std::string text;
  const char* message;
};

const std::string kHead = "format = \"bushbaby-tuning/1\"\n";
const std::string kJump = "[jump]\nheight = 3\napex_time = 0.4\n";

TEST(TuningFile, SaysWhatIsWrongAndWhere) {
  const Bad gallery[] = {
      {"empty", "", "t.toml:1:1: found no format line, expected format = \"bushbaby-tuning/1\""},
      {"no format line", kJump,
       "t.toml:1:1: found no format line, expected format = \"bushbaby-tuning/1\""},
      {"a level", "format = \"bushbaby-level/1\"\n",
       "t.toml:1:10: format: found \"bushbaby-level/1\", expected \"bushbaby-tuning/1\""},
      {"newer", "format = \"bushbaby-tuning/2\"\n",
       "t.toml:1:10: format: found \"bushbaby-tuning/2\", expected \"bushbaby-tuning/1\", the only "
       "version this program reads"},
      {"unknown key", kHead + "[run]\ntop_spede = 7\n",
       "t.toml:3:1: found unknown key run.top_spede; did you mean run.top_speed?"},
      {"unknown key of an inline table", kHead + "[run]\nground = { acelerate = 60 }\n",
       "t.toml:3:12: found unknown key run.ground.acelerate; did you mean run.ground.accelerate?"},
      {"a text for a number", kHead + "[run]\ntop_speed = \"fast\"\n",
       "t.toml:3:13: run.top_speed: found \"fast\", expected a speed in u/s, 0 to 1000000"},
      {"negative", kHead + "[jump]\nheight = -3\n",
       "t.toml:3:10: jump.height: found -3, expected a length in u, more than 0 and at most "
       "1000000; heights are positive here, also with vertical = \"down\": write 3"},
      {"pixels, y down",
       kHead + "[convention]\none_unit = \"16px\"\nvertical = \"down\"\ntime = "
               "\"tick\"\n[jump]\nlaunch_speed = -6.4\n",
       "t.toml:7:16: jump.launch_speed: found -6.4, expected a speed in px/tick, more than 0 and "
       "at "
       "most 266667; speeds upward are positive here, also with vertical = \"down\": write 6.4"},
      {"somebody else's name", kHead + "[loop]\nfps = 60\n",
       "t.toml:3:1: found unknown key loop.fps; did you mean loop.tick_rate?"},
      {"somebody else's place", kHead + "gravity = 40\n",
       "t.toml:2:1: found unknown key gravity; did you mean jump.gravity?"},
      {"not a number", kHead + "[fall]\nfactor = nan\n",
       "t.toml:3:10: fall.factor: found nan, expected a factor, more than 0 and at most 1000000"},
      {"infinite", kHead + "[fall]\nterminal_speed = inf\n",
       "t.toml:3:18: fall.terminal_speed: found inf, expected a speed in u/s, more than 0 and at "
       "most 1000000"},
      {"unknown choice", kHead + "[loop]\nintegrator = \"exakt\"\n",
       "t.toml:3:14: loop.integrator: found \"exakt\", expected one of exact, trapezoidal, "
       "semi_implicit, explicit; did you mean exact?"},
      {"bad duration", kHead + "[jump]\napex_time = \"23 tocks\"\n",
       "t.toml:3:13: jump.apex_time: found \"23 tocks\", expected a time, more than 0 and at most "
       "1000000: "
       "a number (in s), \"110 ms\" or \"7 ticks\""},
      {"unknown section", kHead + "[jumping]\nheight = 3\n",
       "t.toml:2:2: found unknown key jumping; did you mean jump?"},
      {"a word of another tool", kHead + "[fall]\nterminal_velocity = 20\n",
       "t.toml:3:1: found unknown key fall.terminal_velocity; did you mean fall.terminal_speed?"},
      {"a key out of its section", kHead + "terminal_velocity = 20\n",
       "t.toml:2:1: found unknown key terminal_velocity; did you mean fall.terminal_speed?"},
      {"a choice with a dash", kHead + "[loop]\nintegrator = \"semi-implicit\"\n",
       "t.toml:3:14: loop.integrator: found \"semi-implicit\", expected one of exact, trapezoidal, "
       "semi_implicit, explicit; did you mean semi_implicit?"},
      {"no closing bracket", kHead + "[jump\nheight = 3\n",
       "t.toml:2:6: found the end of the line, expected ']'"},
      {"no value", kHead + "[jump]\nheight =\n",
       "t.toml:3:9: found no value that TOML knows, expected a number, a text in quotes, true, "
       "false, a list or a table"},
      {"a word without quotes", kHead + "[loop]\nintegrator = exact\n",
       "t.toml:3:14: found no value that TOML knows, expected a number, a text in quotes, true, "
       "false, a list or a table"},
      {"two values", kHead + "[jump]\nheight = 3 4\n",
       "t.toml:3:12: found '4', expected the end of the line"},
      {"a key twice", kHead + "[jump]\nheight = 3\nheight = 4\n",
       "t.toml:4:10: found height for the second time, expected every key and heading once"},
      {"a heading twice", kHead + "[jump]\n[jump]\n",
       "t.toml:3:1: found jump for the second time, expected every key and heading once"},
      {"an open quote", kHead + "name = \"Pip\n",
       "t.toml:2:12: found a control character or the end of the line, expected plain text, with a "
       "closing quote on the line of the opening one"},
      {"an open list", kHead + "body = { width = 1",
       "t.toml:2:19: found the end of the file, expected the rest of the inline table"},
      {"no UTF-8", kHead + "name = \"\xff\"\n",
       "t.toml:2:8: found bytes that are not UTF-8, expected a text in UTF-8"},
      {"a list", kHead + "[body]\nwidth = [1]\n",
       "t.toml:3:9: body.width: found a list, expected a length in u, 0.001 to 1000000"},
      {"a value for a section", kHead + "run = 7\n", "t.toml:2:7: run: found 7, expected a table"},
  };
  for (const Bad& bad : gallery) {
    const auto file = parse_tuning(bad.text, "t.toml");
    ASSERT_FALSE(file) << bad.what;
    EXPECT_EQ(describe(file.error().front()), bad.message) << bad.what;
  }
}

// Names from elsewhere lead to keys that exist.
TEST(TuningFile, NamesFromElsewhereLeadToKeys) {
  for (const char* name :
       {"fps", "framerate", "delta", "dt", "jump_speed", "gravity", "coyote_time", "jump_buffer",
        "double_jump", "max_speed", "acceleration", "friction", "max_fall_speed", "slope_limit"}) {
    const auto file = parse_tuning(kHead, "t.toml", {Setting(std::string(name) + "=1")});
    ASSERT_FALSE(file) << name;
    EXPECT_NE(find_knob(file.error().front().suggestion), nullptr) << name;
  }
}

TEST(TuningFile, SettingsMayBeInQuotes) {
  const auto file = parse_tuning(
      kHead, "t.toml", {Setting("loop.integrator=\"explicit\""), Setting("jump.coyote='7 ticks'")});
  ASSERT_TRUE(file) << describe(file.error().front());
  EXPECT_EQ(file->tuning.loop.integrator, Integrator::explicit_step);
  EXPECT_EQ(file->tuning.jump.coyote, (Duration{7, Duration::Unit::ticks}));
}

// Numbers that are hardly u and s are remarked on, unless a convention says what they are.
TEST(TuningFile, PixelsWithoutAConventionAreRemarkedOn) {
  const std::string pixels =
      "[body]\nheight = 28\n[run]\ntop_speed = 2.5\n[jump]\nlaunch_speed = 6.4\ngravity = 0.35\n";
  const auto bare = parse_tuning(kHead + pixels, "t.toml");
  ASSERT_TRUE(bare);
  ASSERT_EQ(unit_remarks(*bare).size(), 1U);
  EXPECT_NE(unit_remarks(*bare)[0].find("time = \"tick\""), std::string::npos);
  const auto meant = parse_tuning(
      kHead + "[convention]\none_unit = \"16 px\"\ntime = \"tick\"\n" + pixels, "t.toml");
  ASSERT_TRUE(meant);
  EXPECT_TRUE(unit_remarks(*meant).empty());
  EXPECT_TRUE(unit_remarks(*parse_tuning(kHead, "t.toml")).empty());
}

TEST(TuningFile, ReportsAllProblemsInOneGo) {
  const auto file =
      parse_tuning(kHead + "[run]\ntop_speed = -1\n[jump]\nheight = true\nheigth = 3\n", "t.toml");
  ASSERT_FALSE(file);
  EXPECT_EQ(file.error().size(), 3U);
}

TEST(TuningFile, SyntaxErrorsKeepTheirPlace) {
  for (const std::string& text : {kHead + "[run\n", kHead + "a = = 2\n", std::string("[#"),
                                  kHead + "name = \"x\nname = 3\n"}) {
    const auto file = parse_tuning(text, "t.toml");
    ASSERT_FALSE(file) << text;
    EXPECT_GE(file.error().front().line, 1) << text;
  }
}

TEST(TuningFile, CombinationsAreReportedWhereTheyStand) {
  const TuningFile file = parsed(kHead + "[jump]\nheight = 3\napex_time = 0.4\ngravity = 30\n");
  const auto checked = check_tuning(file);
  ASSERT_FALSE(checked);
  EXPECT_EQ(describe(checked.error().front()),
            "t.toml:4:1: jump: found gravity 30 u/s² where the others give 37.5 u/s², expected one "
            "of them omitted");
}

TEST(Settings, ChangeOneKnob) {
  const auto set = parse_tuning(kHead + kJump, "t.toml",
                                {{"run.top_speed=8"},
                                 {"loop.integrator=explicit"},
                                 {"loop.gravity_on_launch_tick=false"},
                                 {"jump.cut.min_hold=7ticks"},
                                 {"jump.apex_time="}});
  ASSERT_TRUE(set);
  const TuningFile& file = *set;
  EXPECT_EQ(file.tuning.run.top_speed, 8);
  EXPECT_EQ(file.tuning.loop.integrator, Integrator::explicit_step);
  EXPECT_FALSE(file.tuning.loop.gravity_on_launch_tick);
  EXPECT_EQ(file.tuning.jump.cut.min_hold, (Duration{7, Duration::Unit::ticks}));
  EXPECT_FALSE(file.tuning.jump.apex_time);
}

TEST(Settings, SayWhatIsWrong) {
  const Bad gallery[] = {
      {"no value", "run.top_speed",
       "--set run.top_speed: found no '=', expected knob=value, such "
       "as run.top_speed=8"},
      {"unknown", "run.topspeed=8",
       "--set run.topspeed=8: found unknown key run.topspeed; did you mean run.top_speed?"},
      {"text", "run.top_speed=fast",
       "--set run.top_speed=fast: run.top_speed: found fast, expected a speed in u/s, 0 "
       "to 1000000"},
      {"range", "jump.cut.keep=1.5",
       "--set jump.cut.keep=1.5: jump.cut.keep: found 1.5, expected a factor, 0 to 1"},
      {"nothing", "run.top_speed=",
       "--set run.top_speed=: run.top_speed: found nothing, expected a speed in u/s, 0 to 1000000"},
  };
  for (const Bad& bad : gallery) {
    const auto refused = parse_tuning(kHead + kJump, "t.toml", {std::string(bad.text)});
    ASSERT_FALSE(refused) << bad.what;
    EXPECT_EQ(describe(refused.error().front()), bad.message) << bad.what;
  }
}

TEST(Files, WrongPlacesAreNamed) {
  const auto missing = read_file("/nowhere/at/all.toml");
  ASSERT_FALSE(missing);
  EXPECT_EQ(describe(missing.error().front()),
            "/nowhere/at/all.toml: found No such file or directory, expected a readable file");
  EXPECT_EQ(describe(read_file("/tmp").error().front()),
            "/tmp: found a directory, expected a readable file");
  EXPECT_EQ(describe(*write_file("/nowhere/at/all.toml", "x")),
            "/nowhere/at/all.toml: found No such file or directory, expected a place that can be "
            "written to");
  EXPECT_TRUE(write_file("/tmp", "x"));
}

}  // namespace
}  // namespace bushbaby
