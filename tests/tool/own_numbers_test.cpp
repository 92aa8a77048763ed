// Whoever works in pixels, y down, per tick meets no other number: a character made in pixels and
// its twin in world units are taken through everything side by side.
#include <cmath>
#include <regex>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/data/units.h"

#include "command.h"

namespace bushbaby {
namespace {

using nlohmann::json;
using test::CommandTest;
using test::Outcome;

constexpr const char* kPixelPip = R"(# Pip as a pixel artist writes him.
format = "bushbaby-tuning/1"
name = "Pip"

[convention]
one_unit = "16 px"
vertical = "down"
time = "tick"

[loop]
integrator = "semi_implicit"

[body]
width = 12
height = 22

[run]
top_speed = 2
ground = { accelerate = 0.25, brake = 0.375, turn = 0.5 }
air = { accelerate = 0.1875, brake = 0.0625, turn = 0.25 }

[jump]
height = 60                    # px
apex_time = 22                 # ticks
cut = { style = "scale", keep = 0.5, min_hold = 3 }
coyote = 6
buffer = "100 ms"
air_jumps = { count = 1, height = "2 u" }

[fall]
factor = 1.5
terminal_speed = "6 px/tick"
)";

const Units kPixels{{16, "px", true, true}, 60};

double factor_between(const std::string& other, const std::string& unit) {
  if (unit == "px") return 16;
  if (unit == "px/tick") return 16.0 / 60;
  if (unit == "px/tick²") return 16.0 / 3600;
  return unit == "ticks" && other == "s" ? 60 : 1;
}

class OwnNumbers : public CommandTest {
 protected:
  void SetUp() override {
    CommandTest::SetUp();
    put("px.tuning.toml", kPixelPip);
    const auto file = parse_tuning(kPixelPip, "px");
    ASSERT_TRUE(file) << describe(file.error().front());
    put("u.tuning.toml", write_tuning(file->tuning));
    std::string level =
        "format = \"bushbaby-level/1\"\nname = \"First limbs\"\n"
        "convention = { one_unit = \"16 px\", vertical = \"down\" }\n";
    const auto limbs = load_level(path("first-limbs.level.toml"));
    ASSERT_TRUE(limbs);
    const auto reported = [](Vec place) { return kPixels.shown(Dimension::length, place); };
    const Vec start = reported(limbs->start);
    level += fmt::format("start = [{}, {}]\n", start.x, start.y);
    for (const Solid& solid : limbs->solids) {
      const Vec lo = reported(solid.box.lo);
      const Vec hi = reported(solid.box.hi);
      level += fmt::format("[[solid]]\nname = \"{}\"\nbox = [{}, {}, {}, {}]\n", solid.name, lo.x,
                           lo.y, hi.x, hi.y);
    }
    put("px.level.toml", level);
    put_targets("u", Units{});
    put_targets("px", kPixels);
  }

  // The same targets, and the same curve, in either numbers.
  void put_targets(const std::string& name, const Units& units) const {
    const auto length = [&](double u) { return units.shown(Dimension::length, u); };
    const auto time = [&](double s) { return units.shown(Dimension::time, s); };
    put(name + ".targets.toml",
        fmt::format("format = \"bushbaby-targets/1\"\n"
                    "[[target]]\nfact = \"stand_jump.height\"\naim = {}\nwithin = {}\n"
                    "[[target]]\nfact = \"stand_jump.air_time\"\nat_most = {}\n"
                    "[[target]]\nfact = \"stop.distance\"\nbetween = [{}, {}]\n"
                    "[[target]]\nfact = \"coyote.window_ticks\"\nat_least = 7\n"
                    "[[target]]\ndrill = \"running_jump\"\nfollow = \"{}.csv\"\nwithin = {}\n",
                    length(3.75), length(0.0625), time(0.5), length(0.125), length(1), name,
                    length(0.5)));
    std::string curve = "x,y\n";
    for (int i = 0; i <= 8; ++i) {
      const Vec at =
          units.shown(Dimension::length, Vec{0.5 * i, 3.5 - 0.21875 * (i - 4) * (i - 4)});
      curve += fmt::format("{},{}\n", at.x, at.y);
    }
    put(name + ".csv", curve);
  }

  static std::string for_pixels(std::string call) {
    return std::regex_replace(call, std::regex(R"(\bu\.)"), "px.");
  }

  // Nothing of the world's units is in it.
  static void expect_own(const std::string& text, const std::string& what) {
    std::smatch found;
    const std::regex foreign(R"((^|[ ,(])(u|u/s|u/s²)([ ,;:)\n]|$))");
    EXPECT_FALSE(std::regex_search(text, found, foreign))
        << what << ": '" << found.str() << "' in\n"
        << text;
  }

  // A text without its numbers and with one name for each unit.
  static std::string words_of(std::string text) {
    const std::pair<const char*, const char*> steps[] = {
        {R"( \(y down\))", ""},    {R"([-+]?[0-9]+(\.[0-9]+)?(e[-+]?[0-9]+)?)", "#"},
        {R"(px/tick²|u/s²)", "A"}, {R"(px/tick|u/s)", "S"},
        {R"(\b(px|u)\b)", "L"},    {R"(\b(ticks?|s)\b)", "T"},
        {R"([ -]+)", " "},
    };
    for (const auto& [from, to] : steps) text = std::regex_replace(text, std::regex(from), to);
    return text;
  }
};

TEST_F(OwnNumbers, TheTwinsMoveAlikeToTheBitAndAreReportedInTheirOwnNumbers) {
  const std::string run_u =
      "run u.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs";
  const std::string run_px = "run px.tuning.toml --level px.level.toml --inputs first-leaps.inputs";
  const json u = json_of(run_u + " --trace u.trace.csv");
  const json px = json_of(run_px + " --trace px.trace.csv");
  EXPECT_EQ(px["trace_hash"], u["trace_hash"]);
  ASSERT_EQ(px["events"].size(), u["events"].size());
  ASSERT_GT(px["events"].size(), 10U);
  for (std::size_t i = 0; i < px["events"].size(); ++i) {
    EXPECT_EQ(px["events"][i]["tick"], u["events"][i]["tick"]);
    EXPECT_DOUBLE_EQ(px["events"][i]["place"][0], 16 * u["events"][i]["place"][0].get<double>());
    EXPECT_DOUBLE_EQ(px["events"][i]["place"][1], -16 * u["events"][i]["place"][1].get<double>());
    EXPECT_DOUBLE_EQ(px["events"][i]["value"],
                     u["events"][i]["value"].get<double>() *
                         factor_between(u["units"]["value"], px["units"]["value"]));
  }
  EXPECT_EQ(px["units"]["place"], "px");
  EXPECT_EQ(px["units"]["y"], "down");
  const Outcome table = run(run_px + " --plot map.svg");
  expect_own(table.out + table.err, "run");
  EXPECT_EQ(words_of(table.out), words_of(run(run_u).out));
  const std::string map = text_of("map.svg");
  expect_own(std::regex_replace(map, std::regex("<[^>]*>"), " "), "the map");
  EXPECT_NE(map.find("y, px, down"), std::string::npos);
  EXPECT_EQ(text_of("px.trace.csv").find("tick,time ticks,x px,y px down,"), 0U);
  // Either is reported in the other's numbers if that is asked for.
  EXPECT_EQ(run(run_px + " --units world").out, run(run_u).out);
  EXPECT_EQ(run(run_u + " --units 'one_unit=16 px, vertical=down, time=tick'").out, table.out);
}

TEST_F(OwnNumbers, FactsAndVerdictsAreTheSame) {
  const json u = json_of("drill u.tuning.toml");
  const json px = json_of("drill px.tuning.toml");
  ASSERT_EQ(px["facts"].size(), u["facts"].size());
  for (const auto& [name, value] : px["facts"].items()) {
    const double expected =
        u["facts"][name].get<double>() * factor_between(u["units"][name], px["units"][name]);
    EXPECT_NEAR(value, expected, 1e-12 * std::max(1.0, std::abs(expected))) << name;
  }
  expect_own(run("drill px.tuning.toml --plot jumps.svg").out, "drill");
  expect_own(std::regex_replace(text_of("jumps.svg"), std::regex("<[^>]*>"), " "), "the jumps");
  expect_own(run("drill px.tuning.toml --knobs").out, "--knobs");
  expect_own(run("drill px.tuning.toml --facts").out, "--facts");

  const Outcome in_u = run("judge u.tuning.toml u.targets.toml --json");
  const Outcome in_px = run("judge px.tuning.toml px.targets.toml --json");
  EXPECT_EQ(in_u.code, 1);
  EXPECT_EQ(in_px.code, 1);
  const json judged_u = json::parse(in_u.out)["targets"];
  const json judged_px = json::parse(in_px.out)["targets"];
  ASSERT_EQ(judged_px.size(), 5U);
  for (std::size_t i = 0; i < judged_px.size(); ++i) {
    const double factor = factor_between(judged_u[i]["unit"], judged_px[i]["unit"]);
    EXPECT_EQ(judged_px[i]["verdict"], judged_u[i]["verdict"]) << i;
    EXPECT_NEAR(judged_px[i]["measured"], judged_u[i]["measured"].get<double>() * factor, 1e-9);
    EXPECT_NEAR(judged_px[i]["off_by"], judged_u[i]["off_by"].get<double>() * factor, 1e-9);
  }
  EXPECT_EQ(judged_px[0]["verdict"], "met");
  EXPECT_EQ(judged_px[1]["verdict"], "missed");
  const Outcome table = run("judge px.tuning.toml px.targets.toml --plot verdict.svg");
  expect_own(table.out + table.err, "judge");
  expect_own(std::regex_replace(text_of("verdict.svg"), std::regex("<[^>]*>"), " "), "the verdict");
  // A curve in other units is remarked on, unless it says so itself.
  put("px.csv", text_of("u.csv"));
  EXPECT_NE(run("judge px.tuning.toml px.targets.toml").err.find("name them in its heading"),
            std::string::npos);
  const std::string curve = text_of("u.csv");
  put("px.csv", "x u,y u" + std::regex_replace(curve.substr(3), std::regex(",(?!-|0\n)"), ",-"));
  EXPECT_EQ(run("judge px.tuning.toml px.targets.toml").err, "") << "y down, yet in u";
  // Targets may say how their own numbers are meant.
  const std::string targets = text_of("u.targets.toml");
  put("own.targets.toml", targets + "[convention]\none_unit = \"1 u\"\n");
  EXPECT_EQ(run("judge px.tuning.toml own.targets.toml").out,
            std::regex_replace(std::regex_replace(table.out, std::regex("px\\.csv:"), "u.csv:"),
                               std::regex("px\\.csv "), "u.csv  "));
}

TEST_F(OwnNumbers, PressesAndTicksAreExplainedInThem) {
  const std::string px = "why px.tuning.toml --level px.level.toml --inputs first-leaps.inputs";
  const std::string u =
      "why u.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs";
  for (const char* more : {"", " --full", " --tick 60", " --against-set jump.height=64"}) {
    const std::string set = more;
    const Outcome reported = run(px + set);
    expect_own(reported.out + reported.err, "why" + set);
    const std::string in_u = std::regex_replace(set, std::regex("64"), "4");
    EXPECT_EQ(words_of(reported.out), words_of(run(u + in_u).out)) << more;
  }
  // Row k of a trace, the events of tick k, and what is reported tick k are one thing.
  const json ran = json_of(
      "run px.tuning.toml --level px.level.toml --inputs first-leaps.inputs "
      "--trace t.csv");
  std::vector<std::string> rows;
  std::istringstream lines(text_of("t.csv"));
  for (std::string line; std::getline(lines, line);) rows.push_back(line);
  for (const auto& event : ran["events"]) {
    const auto tick = event["tick"].get<std::size_t>();
    const std::string& row = rows.at(tick + 1);  // the first line is the header
    EXPECT_EQ(row.substr(0, row.find(',')), fmt::format("{}", tick));
    EXPECT_NE(row.find(event["kind"].get<std::string>()), std::string::npos) << row;
    const json why = json_of(px + fmt::format(" --tick {}", tick))["ticks"][0];
    EXPECT_EQ(why["tick"], tick);
    EXPECT_NE(why["events"].dump().find(event["kind"].get<std::string>()), std::string::npos);
  }
}

// What derive prints goes into a loop of pixels and ticks as it is.
TEST_F(OwnNumbers, DerivedConstantsWorkInAPixelLoopAsPrinted) {
  for (const char* loop : {"semi_implicit", "explicit"}) {
    const Outcome derived = run(fmt::format(
        "derive --height 60 --apex-time 22 --integrator {} --units 'one_unit=16 px, vertical=down, "
        "time=tick'",
        loop));
    expect_own(derived.out, "derive");
    std::smatch match;
    const auto number_behind = [&](const char* name) {
      const std::regex line(std::string(name) + R"( +([0-9.]+) px)");
      EXPECT_TRUE(std::regex_search(derived.out, match, line)) << name << derived.out;
      return std::stod(match[1]);
    };
    const double gravity = number_behind("gravity while rising");
    double speed = -number_behind("launch speed");
    double y = 0;
    double top = 0;
    for (int tick = 0; tick < 40; ++tick) {
      if (loop == std::string("explicit")) y += speed;
      speed += gravity;
      if (loop == std::string("semi_implicit")) y += speed;
      top = std::min(top, y);
    }
    EXPECT_NEAR(top, -60, 1e-6) << loop;
  }
}

TEST_F(OwnNumbers, AnAnswerIsWrittenAsItWasAsked) {
  ASSERT_EQ(run("derive --height 48 --apex-time 20 --write px.tuning.toml").code, 0);
  const std::string text = text_of("px.tuning.toml");
  EXPECT_NE(text.find("height = 48                    # px"), std::string::npos) << text;
  EXPECT_NE(text.find("apex_time = \"20 ticks\""), std::string::npos) << text;
  ASSERT_EQ(run("derive --height '3 u' --apex-time 380ms --write px.tuning.toml").code, 0);
  EXPECT_NE(text_of("px.tuning.toml").find("height = 48 "), std::string::npos);
  // A new file is in the numbers of the call.
  ASSERT_EQ(run("derive --height 48 --apex-time 20 --units 'one_unit=16 px, vertical=down, "
                "time=tick' --write new.tuning.toml")
                .code,
            0);
  EXPECT_NE(text_of("new.tuning.toml").find("height = 48\n"), std::string::npos);
  EXPECT_NE(text_of("new.tuning.toml").find("one_unit = \"16 px\""), std::string::npos);
}

// What is set behaves as if it were written in the file; of a rate all that is per tick changes.
TEST_F(OwnNumbers, AnotherTickRateIsAsIfTheFileSaidSo) {
  std::string edited = kPixelPip;
  edited.replace(edited.find("[loop]"), 6, "[loop]\ntick_rate = 120");
  put("edited.toml", edited);
  const json set = json_of("drill px.tuning.toml --set loop.tick_rate=120");
  const json written = json_of("drill edited.toml");
  EXPECT_EQ(set["facts"], written["facts"]);
  EXPECT_NEAR(set["facts"]["run_up.top_speed"], 2, 1e-12) << "px/tick of the new tick";
  ASSERT_EQ(run("drill px.tuning.toml --only stop --set loop.tick_rate=120 --save kept.toml").code,
            0);
  EXPECT_EQ(json_of("drill kept.toml")["facts"], written["facts"]);
}

TEST_F(OwnNumbers, WhatATuningInheritsKeepsItsMeaning) {
  put("child.tuning.toml",
      "format = \"bushbaby-tuning/1\"\nbased_on = \"px.tuning.toml\"\n[run]\ntop_speed = 7.5\n");
  put("pixel-child.tuning.toml",
      "format = \"bushbaby-tuning/1\"\nbased_on = \"u.tuning.toml\"\n[convention]\n"
      "one_unit = \"10 px\"\ntime = \"tick\"\n[run]\ntop_speed = 1.25\n");
  const json base = json_of("drill u.tuning.toml");
  EXPECT_EQ(json_of("drill child.tuning.toml")["facts"], base["facts"]);
  EXPECT_EQ(json_of("drill pixel-child.tuning.toml --units world")["facts"], base["facts"]);
  const json reported = json_of("drill pixel-child.tuning.toml");
  EXPECT_EQ(reported["units"]["stand_jump.height"], "px");
  EXPECT_NEAR(reported["facts"]["stand_jump.height"], 37.5, 1e-9);
}

TEST_F(OwnNumbers, RefusalsAreReportedInThem) {
  const std::pair<const char*, const char*> gallery[] = {
      {"drill px.tuning.toml --set run.top_speed=-1",
       "found -1, expected a speed in px/tick, 0 to 266667"},
      {"drill px.tuning.toml --set jump.gravity=1",
       "jump: found gravity 1 px/tick² where the others give 0.247934 px/tick²"},
      {"drill px.tuning.toml --set jump.height=tall",
       "found tall, expected a length in px, more than 0 and at most 16000000"},
      {"drill px.tuning.toml --set jump.coyote=soon",
       "expected a time, 0 to 1000000: a number (in ticks), \"110 ms\" or \"7 ticks\""},
      {"derive --from px.tuning.toml --height 60 --air-time 1 --terminal-speed 0.5",
       "found an air time of 1 tick, expected more than 120 ticks: the fall from 60 px takes that "
       "long at the terminal speed of 0.5 px/tick"},
      {"derive --from px.tuning.toml --height '60 apples' --apex-time 22",
       "--height: found 60 apples, expected a length: a number (in px), \"52 px\" or \"3.25 u\""},
      {"run px.tuning.toml --level buried.level.toml --inputs first-leaps.inputs",
       "buried.level.toml:2:9: start: found a place where the body is inside \"trunk\", 8 px deep, "
       "expected room for a body of 12 by 22 px"},
      {"why px.tuning.toml --level px.level.toml --inputs first-leaps.inputs --against-set "
       "run.top_speed=3 --within '1 s'",
       "--within: found 1 s, expected a length: a number (in px)"},
  };
  put("buried.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nname = \"trunk\"\n"
      "box = [-1, -1, 1, 0.5]\n");
  for (const auto& [call, message] : gallery) {
    const Outcome outcome = run(call);
    EXPECT_EQ(outcome.code, 2) << call;
    EXPECT_NE(outcome.err.find(message), std::string::npos) << call << "\n" << outcome.err;
  }
}

// A run that waits for places in pixels, recorded in pixels per tick, lies over itself; every
// number that is reported another variant is in pixels and ticks.
TEST_F(OwnNumbers, RunsLieOverOneAnother) {
  put("places.inputs",
      "# bushbaby inputs 1\nright until x 64\nright jump until y -30 px\nright until landed\n");
  const std::string where = " --level px.level.toml --inputs places.inputs";
  const Outcome ran = run("run px.tuning.toml" + where + " --trace t.csv");
  ASSERT_EQ(ran.code, 0) << ran.err << ran.out;
  const Outcome same = run("overlay px.tuning.toml --recorded t.csv" + where);
  EXPECT_EQ(same.code, 0) << same.err;
  EXPECT_NE(same.out.find("t.csv  the same as A\n\nnothing that is measured differs"),
            std::string::npos)
      << same.out;
  const Outcome other = run("overlay px.tuning.toml --try 'jump.height=80 px'" + where);
  EXPECT_NE(other.out.find("landing speed                  px/tick"), std::string::npos)
      << other.out;
  EXPECT_NE(other.out.find("landed                         ticks"), std::string::npos) << other.out;
}

// What would keep a jump in another loop is reported in the numbers of a tuning of that loop: set
// there, it does.
TEST_F(OwnNumbers, WhatKeepsAJumpWorksAsPrinted) {
  const std::string raw =
      "--set jump.height= --set jump.apex_time= --set jump.launch_speed=4.7 --set "
      "jump.gravity=0.21";
  const json rates = json_of("rates px.tuning.toml --rate 30 --only stand_jump " + raw);
  const json drill = json_of("drill px.tuning.toml --only stand_jump " + raw);
  ASSERT_EQ(rates["loops"][1]["name"], "30 Hz");
  const json& kept = rates["loops"][1]["to_keep_the_jump"];
  const json other = json_of(fmt::format(
      "drill px.tuning.toml --only stand_jump --set loop.tick_rate=30 --set jump.height= --set "
      "jump.apex_time= --set jump.launch_speed={} --set jump.gravity={} --set "
      "fall.terminal_speed=99",
      kept["launch_speed"].get<double>(), kept["gravity"].get<double>()));
  const double height = drill["facts"]["stand_jump.height"];
  EXPECT_NEAR(other["facts"]["stand_jump.height"].get<double>(), height, 1e-6);
}

}  // namespace
}  // namespace bushbaby
