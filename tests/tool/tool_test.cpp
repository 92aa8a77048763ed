// The built command, driven as people drive it: reports, JSON, files, errors and exit codes.
#include <cmath>
#include <filesystem>
#include <map>
#include <sstream>

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"

#include "command.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

using test::Outcome;

class Tool : public test::CommandTest {};

TEST_F(Tool, DeriveGivesConstantsThatDoWhatWasAsked) {
  for (const char* loop : {"exact", "trapezoidal", "semi_implicit", "explicit"}) {
    for (const int rate : {30, 50, 60, 120, 144}) {
      for (const char* launch : {"", " --no-launch-gravity"}) {
        if (std::string(loop) == "exact" && *launch != '\0') continue;
        const auto json = json_of(
            fmt::format("derive --height 3.25 --apex-time 0.38 --fall-factor 1.7 --terminal-speed "
                        "24 --top-speed 7 --tick-rate {} --integrator {}{}",
                        rate, loop, launch));
        EXPECT_NEAR(json["achieved"]["height"].get<double>(), 3.25, 1e-9) << loop << rate << launch;
        EXPECT_LE(std::abs(json["achieved"]["apex_time"].get<double>() - 0.38), 1.0 / rate);
        EXPECT_NEAR(json["gravity"].get<double>(), 2 * 3.25 / (0.38 * 0.38), 1e-9);
        EXPECT_GT(json["achieved"]["air_time"].get<double>(), 0.6);
        EXPECT_GT(json["achieved"]["distance"].get<double>(), 4.5);
        EXPECT_EQ(json["tick_rate"], rate);
        EXPECT_EQ(json["integrator"], loop);
      }
    }
  }
}

TEST_F(Tool, DeriveTakesAnyTwo) {
  const auto gravity = [&](const std::string& what) {
    return json_of("derive " + what)["gravity"].get<double>();
  };
  EXPECT_NEAR(gravity("--height 3 --apex-time 0.4"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--height 3 --apex-time 24ticks"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--height 3 --launch-speed 15"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--apex-time 400ms --launch-speed 15"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--height 3 --air-time 0.8"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--launch-speed 15 --air-time 0.8"), 37.5, 1e-9);
  EXPECT_NEAR(gravity("--height 3 --distance 4 --top-speed 5"), 37.5, 1e-9);
  EXPECT_TRUE(json_of("derive --height 3 --apex-time 0.4")["achieved"]["distance"].is_null());
}

TEST_F(Tool, DeriveWritesANewTuningAndKeepsTheTextOfAnExistingOne) {
  ASSERT_EQ(run("derive --height 2 --apex-time 0.3 --tick-rate 50 --integrator trapezoidal --write "
                "new.tuning.toml")
                .code,
            0);
  const auto fresh = load_tuning(path("new.tuning.toml"));
  ASSERT_TRUE(fresh) << describe(fresh.error().front());
  EXPECT_EQ(fresh->tuning.jump.height, 2);
  EXPECT_EQ(fresh->tuning.loop.integrator, Integrator::trapezoidal);

  const std::string before = text_of("pip.tuning.toml");
  ASSERT_EQ(run("derive --height 4 --apex-time 0.38 --write pip.tuning.toml").code, 0);
  std::string expected = before;
  expected.replace(expected.find("height = 3.25 "), 14, "height = 4 ");
  EXPECT_EQ(text_of("pip.tuning.toml"), expected);
}

TEST_F(Tool, DrillMeasuresThePromisedFacts) {
  const auto json = json_of("drill pip.tuning.toml");
  EXPECT_EQ(json["tuning"], "Pip");
  EXPECT_EQ(json["tick_rate"], 60);
  for (const char* fact : {"stand_jump.height", "stand_jump.apex_time", "stand_jump.air_time",
                           "stand_jump.launch_speed", "stand_jump.landing_speed", "hop.height",
                           "running_jump.distance", "run_up.time", "stop.distance", "impact.gap"}) {
    EXPECT_TRUE(json["facts"][fact].is_number()) << fact;
    EXPECT_TRUE(json["units"][fact].is_string()) << fact;
  }
  EXPECT_NEAR(json["facts"]["stand_jump.height"].get<double>(), 3.25, 1e-9);
  const auto rounded = json_of("drill pip.tuning.toml --only coyote --set jump.coyote=0.11");
  EXPECT_EQ(rounded["rounded"][0]["knob"], "jump.coyote");
  EXPECT_NEAR(rounded["rounded"][0]["asked_ticks"].get<double>(), 6.6, 1e-9);
  EXPECT_EQ(rounded["facts"]["coyote.window_ticks"], 7);
  const auto only = json_of("drill pip.tuning.toml --only hop --set jump.cut.style=none");
  EXPECT_EQ(only["facts"].size(), 3U);
  EXPECT_NEAR(only["facts"]["hop.height"].get<double>(), 3.25, 1e-9);
}

TEST_F(Tool, JudgeMeetsAllOfPipsTargets) {
  const auto json = json_of("judge pip.tuning.toml pip.targets.toml --plot verdict.png");
  EXPECT_EQ(json["met"], true);
  ASSERT_EQ(json["targets"].size(), 9U);
  for (const auto& target : json["targets"]) {
    EXPECT_EQ(target["verdict"], "met") << target["fact"];
    for (const char* key : {"fact", "aim", "measured", "off_by", "unit"}) {
      EXPECT_TRUE(target.contains(key)) << key;
    }
  }
  EXPECT_EQ(text_of("verdict.png").substr(1, 3), "PNG");
}

TEST_F(Tool, JudgeFailsExactlyTheTargetsThatAChangeShould) {
  const auto missed_with = [&](const std::string& setting) {
    const Outcome outcome = run("judge pip.tuning.toml pip.targets.toml --json --set " + setting);
    std::vector<std::string> missed;
    const auto json = nlohmann::json::parse(outcome.out);
    for (const auto& target : json["targets"]) {
      if (target["verdict"] == "missed") missed.push_back(target["fact"]);
    }
    EXPECT_EQ(outcome.code, missed.empty() || missed[0] == "stop.distance" ? 0 : 1) << setting;
    return missed;
  };
  using Names = std::vector<std::string>;
  EXPECT_EQ(missed_with("jump.coyote=5ticks"), Names{"coyote.window_ticks"});
  EXPECT_EQ(missed_with("jump.buffer=0"), Names{"buffer.window_ticks"});
  EXPECT_EQ(missed_with("jump.cut.keep=0.9"), Names{"hop.height"});
  EXPECT_EQ(missed_with("run.ground.brake=20"), Names{"stop.distance"}) << "only a should";
  EXPECT_EQ(missed_with("jump.height=3.27"), Names{"stand_jump.height"});
  EXPECT_EQ(missed_with("fall.factor=2.4"), (Names{"stand_jump.air_time", "running_jump"}));
  // By hand: sqrt(49)²/2/20 = 1.225 u, 0.725 u over the 0.5 u allowed.
  const Outcome table = run("judge pip.tuning.toml pip.targets.toml --set run.ground.brake=20");
  EXPECT_NE(table.out.find("1.225"), std::string::npos);
  EXPECT_NE(table.out.find("+0.725"), std::string::npos);
  EXPECT_NE(table.out.find("run.ground.brake"), std::string::npos);
}

TEST_F(Tool, RunWritesTheTraceItReports) {
  const auto json = json_of(
      "run pip.tuning.toml --level first-limbs.level.toml --inputs "
      "first-leaps.inputs --trace out.csv");
  EXPECT_EQ(json["arcs"].size(), 5U);
  const std::string trace = text_of("out.csv");
  EXPECT_EQ(trace.substr(0, trace.find('\n')),
            "tick,time s,x u,y u,vx u/s,vy u/s,stance,grounded,held,events");
  const auto rows = std::count(trace.begin(), trace.end(), '\n');
  EXPECT_EQ(rows, json["ticks"].get<long>() + 2);  // the header, and the state before the first
}

TEST_F(Tool, RunPlaysADrawnLevel) {
  const auto json =
      json_of("run pip.tuning.toml --level moonlit-roots.svg --inputs over-the-roots.inputs");
  int dropped = 0;
  int walked_off = 0;
  for (const auto& event : json["events"]) {
    dropped += event["detail"] == "dropped" ? 1 : 0;
    walked_off += event["detail"] == "walked_off" ? 1 : 0;
    EXPECT_NE(event["kind"], "bumped_head") << "the lianas let him up";
  }
  EXPECT_EQ(dropped, 2);
  EXPECT_EQ(walked_off, 2) << "the end of the steep root and of the limb; no crest, no slope";
  EXPECT_EQ(json["arcs"].size(), 8U);
  std::string drawing = text_of("moonlit-roots.svg");
  drawing.replace(drawing.find("192,0 352,-92"), 13, "192,0 350,200");
  put("moonlit-roots.svg", drawing);
  EXPECT_THAT(
      run("run pip.tuning.toml --level moonlit-roots.svg --inputs over-the-roots.inputs").err,
      testing::HasSubstr(
          "moonlit-roots.svg:10:5: <polygon>: found an edge from [192, 0] to [350, 200] that meets "
          "the edge from [526, 96] to [192, 96]"));
}

TEST_F(Tool, RunReportsOfZones) {
  const std::string files = " --level sap-pool.level.toml --inputs through-the-sap.inputs";
  const auto json = json_of("run pip.tuning.toml" + files);
  std::vector<std::string> zones;
  std::vector<std::string> jumps;
  for (const auto& event : json["events"]) {
    if (event["kind"] == "entered") zones.push_back(event["zone"]);
    if (event["kind"] == "jumped") jumps.push_back(event["detail"]);
  }
  EXPECT_EQ(zones, (std::vector<std::string>{"\"sap pool\"", "\"sap pool\"", "\"updraught\"",
                                             "\"thorns\""}));
  EXPECT_EQ(jumps, (std::vector<std::string>{"stroke", "stroke", "stroke", "stroke", "exit_jump",
                                             "wall", "ground", "air", "ground"}))
      << "and none in the thorns";
  EXPECT_NEAR(json["arcs"][0]["height"].get<double>(), 2.4, 0.02) << "the leap";
  EXPECT_THAT(run("run pip.tuning.toml" + files).out, testing::HasSubstr("entered \"sap pool\"\n"));
  const std::string why = run("why pip.tuning.toml" + files + " --tick 557").out;
  EXPECT_THAT(why,
              testing::HasSubstr("in \"thorns\": jump.allowed false; run.top_speed times 0.5"));
  EXPECT_THAT(why, testing::HasSubstr("(jump.allowed), false by \"thorns\""));
  EXPECT_THAT(why, testing::HasSubstr("towards 3.5 u/s (run.top_speed, times 0.5 by \"thorns\")"));
}

TEST_F(Tool, ZonesAreReportedInOwnNumbers) {
  const std::string why = run("why pip.tuning.toml --level sap-pool.level.toml --inputs "
                              "through-the-sap.inputs --tick 130 --tick 750 --units "
                              "'one_unit=16 px, vertical=down, time=tick'")
                              .out;
  EXPECT_THAT(why, testing::HasSubstr("run.top_speed 0.8 px/tick; jump.gravity times 0.4; fluid; "
                                      "buoyancy 0.06222 px/tick²; drag 0.05 1/tick; dive 1.067 "
                                      "px/tick; stroke 14.4 px; exit jump 38.4 px"));
  EXPECT_THAT(why, testing::HasSubstr("vertical speed -0.9333 px/tick, asked for at least -2.133 "
                                      "px/tick"));
}

TEST_F(Tool, WhyReportsOfSurfacesThatAreSolidAtTimes) {
  const std::string why = run("why pip.tuning.toml --level sap-pool.level.toml --inputs "
                              "through-the-sap.inputs --tick 750 --tick 820")
                              .out;
  EXPECT_THAT(why, testing::HasSubstr("\"leaf\" is solid: vertical speed -3.5 u/s, asked for at "
                                      "least -8 u/s"));
  EXPECT_THAT(why, testing::HasSubstr("\"leaf\" is not solid: vertical speed -18.91 u/s"));
}

TEST_F(Tool, ATraceHasItsUpIfTheBodyTurns) {
  (void)run(
      "run pip.tuning.toml --level crooked-hollow.level.toml --inputs around-the-burr.inputs "
      "--trace out.csv");
  const std::string trace = text_of("out.csv");
  EXPECT_THAT(trace, testing::HasSubstr("events,up degrees\n"));
  EXPECT_THAT(trace, testing::HasSubstr(",90\n")) << "in the hollow it stands on the trunk";
  EXPECT_THAT(trace, testing::HasSubstr("entered=1@1"));
  put("other.csv", trace);
  EXPECT_THAT(run("why --traces out.csv other.csv").out,
              testing::HasSubstr("are the same in all "));
}

TEST_F(Tool, DrillsMeasureWithinAZone) {
  const std::string in = " --in thorns --level sap-pool.level.toml --only run_up";
  const auto plain = json_of("drill pip.tuning.toml --only run_up");
  const auto within = json_of("drill pip.tuning.toml" + in);
  EXPECT_EQ(plain["facts"]["run_up.top_speed"], 7);
  EXPECT_EQ(within["facts"]["run_up.top_speed"], 3.5);
  EXPECT_THAT(run("drill pip.tuning.toml" + in).out, testing::HasSubstr("Pip in \"thorns\""));
  EXPECT_THAT(
      run("drill pip.tuning.toml --in thorn --level sap-pool.level.toml").err,
      testing::HasSubstr("--in: found thorn, expected one of sap pool, updraught, thorns; did "
                         "you mean thorns?"));
  EXPECT_THAT(run("drill pip.tuning.toml --in thorns").err,
              testing::HasSubstr("--in: found no --level, expected --in ZONE --level LEVEL"));
}

TEST_F(Tool, WhyNamesTheZoneThatLocks) {
  put("thistle.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nbox = [-9, -1, 99, 0]\n[[zone]]\n"
      "name = \"thistle\"\nbox = [2, -1, 4, 3]\ntouch = { no_jump = 0.5 }\n");
  put("run.inputs", "# bushbaby inputs 1\nright for 40 ticks\nright jump for 5 ticks\n");
  const Outcome why =
      run("why pip.tuning.toml --level thistle.level.toml --inputs run.inputs --tick 41");
  EXPECT_THAT(why.out,
              testing::ContainsRegex("no ground jump: locked by no_jump for another [0-9]+ "
                                     "ticks, since \"thistle\" was entered"));
}

TEST_F(Tool, RunAndWhyReportMovingPlatforms) {
  const std::string on =
      " pip.tuning.toml --level swinging-gourd.level.toml --inputs over-the-gap.inputs";
  const Outcome ridden = run("run" + on);
  EXPECT_EQ(ridden.code, 0);
  EXPECT_THAT(ridden.out, testing::HasSubstr("\n   3 jump")) << "off the pod";
  const Outcome why = run("why" + on + " --tick 416");
  EXPECT_THAT(why.out, testing::HasSubstr("carried by \"seed pod\": [0, 5] u/s"));
  EXPECT_THAT(run("why" + on + " --tick 416 --units 'one_unit=16 px, vertical=down'").out,
              testing::HasSubstr("carried by \"seed pod\": [0, -80] px/s"));
}

TEST_F(Tool, RunChecksALevel) {
  const Outcome fine = run("run pip.tuning.toml --level moonlit-roots.svg --check");
  EXPECT_EQ(fine.code, 0);
  EXPECT_THAT(fine.out, testing::HasSubstr("8 solids (3 boxes, 3 polygons, 2 lines)"));
  EXPECT_THAT(fine.out, testing::HasSubstr("the start is at x -3 u, y 0 u, on \"moss\""));
  EXPECT_THAT(fine.out, testing::HasSubstr("nothing found"));
  put("slips.level.toml",
      "format = \"bushbaby-level/1\"\nname = \"Slips\"\nstart = [-30, 30]\n[convention]\n"
      "one_unit = \"10 px\"\n[[solid]]\nname = \"a\"\nbox = [-100, -10, -40, 0]\n[[solid]]\n"
      "name = \"a\"\nbox = [-40, -10, 0, 0.2]\n[[solid]]\nbox = [50, 0, 60, 10]\n[[solid]]\n"
      "polygon = [[60, 10], [50, 10], [50, 0], [60, 0]]\n[[solid]]\n"
      "line = [[0, 0.19], [5, 9]]\n");
  const Outcome slips =
      run("run pip.tuning.toml --level slips.level.toml --check --units 'one_unit=10 px'");
  EXPECT_EQ(slips.code, 1);
  for (const char* line :
       {"the start is at x -30 px, y 30 px, 29.8 px above \"a\"\n",
        "0 slopes give ground, 1 edge is too steep for it\n",
        "slips.level.toml:9:1: \"a\" is the name of solids 1 and 2\n",
        "slips.level.toml:14:1: solids 3 and 4 are the same shape in the same place\n",
        "slips.level.toml:6:1: \"a\" and \"a\" meet with a step of 0.2 px at x -40 px, y 0 px: too "
        "high to be walked over\n"}) {
    EXPECT_THAT(slips.out, testing::HasSubstr(line));
  }
  EXPECT_EQ(run("run pip.tuning.toml --level slips.level.toml --check --json").code, 1);
  put("lifts.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nbox = [-9, -1, 9, 0]\n[[solid]]\n"
      "name = \"lift\"\nbox = [4, 0, 6, 1]\npath = { stops = [[0, 6]], duration = 3, waits = 1 }\n"
      "[[solid]]\nname = \"shelf\"\nbox = [5, 4, 8, 5]\n[[solid]]\nname = \"beside\"\n"
      "box = [6, 0, 8, 3]\n");
  const Outcome lifts = run("run pip.tuning.toml --level lifts.level.toml --check");
  EXPECT_EQ(lifts.code, 1);
  EXPECT_THAT(lifts.out,
              testing::HasSubstr("\"lift\" goes back and forth along 6 u at 2 u/s, once in 8 "
                                 "s, with rests\n"));
  EXPECT_THAT(lifts.out,
              testing::HasSubstr("lifts.level.toml:5:1: on its way \"lift\" goes through "
                                 "\"shelf\", at 2.5"));
  EXPECT_THAT(lifts.out, testing::Not(testing::HasSubstr("beside")));
  // However thin, and however far it goes.
  put("thread.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nbox = [-9, -1, 9, 0]\n[[solid]]\n"
      "name = \"needle\"\nbox = [20, 1, 20.01, 2]\npath = { stops = [[90000, 0]], speed = 900 }\n"
      "[[solid]]\nname = \"thread\"\nline = [[777.7, 0], [777.7, 9]]\n");
  EXPECT_THAT(run("run pip.tuning.toml --level thread.level.toml --check").out,
              testing::HasSubstr("on its way \"needle\" goes through \"thread\""));
  put("nowhere.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [9, 9]\n[[solid]]\nbox = [0, 0, 1, 1]\n");
  EXPECT_THAT(run("run pip.tuning.toml --level nowhere.level.toml --check").out,
              testing::HasSubstr("nowhere.level.toml:2:9: nothing lies under the start"));
  put("inside.level.toml",
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nbox = [-9, -1, 9, 0.5]\n");
  EXPECT_THAT(run("run pip.tuning.toml --level inside.level.toml --check").out,
              testing::HasSubstr("at the start the body is inside solid 1, 0.5 u deep"));
  EXPECT_EQ(run("run pip.tuning.toml --level inside.level.toml --check --plot x.png").code, 2);
}

TEST_F(Tool, TracesComeOutInTheConventionAskedFor) {
  const std::string call =
      "run pip.tuning.toml --level first-limbs.level.toml --inputs "
      "first-leaps.inputs --trace out.csv";
  const auto row = [&](int number) {
    const std::string text = text_of("out.csv");
    std::size_t at = 0;
    for (int i = 0; i < number; ++i) at = text.find('\n', at) + 1;
    std::vector<double> values;
    for (int i = 0; i < 6; ++i) {
      values.push_back(std::stod(text.substr(at)));
      at = text.find(',', at) + 1;
    }
    return values;
  };
  ASSERT_EQ(run(call).code, 0);
  const auto metric = row(60);
  ASSERT_EQ(run(call + " --units 'one_unit=16 px, vertical=down, time=tick'").code, 0);
  EXPECT_EQ(text_of("out.csv").find("tick,time ticks,x px,y px down,vx px/tick,vy px/tick down,"),
            0U);
  const auto pixels = row(60);
  EXPECT_EQ(pixels[0], metric[0]);
  EXPECT_NEAR(pixels[1], metric[1] * 60, 1e-9);
  EXPECT_NEAR(pixels[2], metric[2] * 16, 1e-9);
  EXPECT_NEAR(pixels[3], metric[3] * -16, 1e-9);
  EXPECT_NEAR(pixels[4], metric[4] * 16 / 60, 1e-9);
  EXPECT_NEAR(pixels[5], metric[5] * -16 / 60, 1e-9);
}

TEST_F(Tool, PicturesAreWrittenInBothFormats) {
  ASSERT_EQ(run("drill pip.tuning.toml --plot jumps.png").code, 0);
  EXPECT_EQ(text_of("jumps.png").substr(1, 3), "PNG");
  ASSERT_EQ(run("run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs "
                "--plot run.svg")
                .code,
            0);
  const std::string svg = text_of("run.svg");
  EXPECT_NE(svg.find("<svg"), std::string::npos);
  EXPECT_NE(svg.find("grove floor"), std::string::npos);
}

TEST_F(Tool, DemoWalksThroughAllItsSteps) {
  const Outcome outcome = run("demo --out walk");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  for (const char* text : {"== 1.", "== 5.", "$ bushbaby derive", "$ bushbaby drill",
                           "$ bushbaby run", "What it shows:", "Try next:"}) {
    EXPECT_NE(outcome.out.find(text), std::string::npos) << text;
  }
  for (const char* name :
       {"walk/pip-jumps.png", "walk/pip-run.png", "walk/pip-verdict.png", "walk/pip.csv"}) {
    EXPECT_TRUE(fs::exists(folder_ / name)) << name;
  }
}

TEST_F(Tool, HelpShowsAnExampleForEveryVerb) {
  for (const char* verb : {"derive", "drill", "judge", "run", "why", "demo"}) {
    const Outcome outcome = run(std::string(verb) + " --help");
    EXPECT_EQ(outcome.code, 0);
    EXPECT_NE(outcome.out.find("\nexample   "), std::string::npos) << verb;
  }
  EXPECT_EQ(run("--version").out, "bushbaby 0.1.0\n");
}

struct Refusal {
  const char* call;
  const char* message;  // part of standard error
};

TEST_F(Tool, RefusesWithTheReasonAndExitCodeTwo) {
  ASSERT_FALSE(write_file(path("bad.tuning.toml"),
                          "format = \"bushbaby-tuning/1\"\n[jump]\n"
                          "heigth = 3\n"));
  ASSERT_FALSE(write_file(path("buried.level.toml"),
                          "format = \"bushbaby-level/1\"\nstart = "
                          "[0, 0]\n[[solid]]\nbox = [-1, -1, 1, 1]\n"));
  ASSERT_FALSE(write_file(path("empty.toml"), ""));
  ASSERT_FALSE(write_file(path("long.toml"), "name = \"" + std::string(100U << 20U, 'x') + "\""));
  ASSERT_FALSE(write_file(path("longish.inputs"), std::string(8U << 20U, 'x')));
  ASSERT_FALSE(write_file(path("binary.toml"), std::string("\x00\xff\xfe[#", 5)));
  ASSERT_FALSE(
      write_file(path("nan.level.toml"), "format = \"bushbaby-level/1\"\nstart = [nan, 0]\n"));
  ASSERT_FALSE(write_file(path("newer.targets.toml"), "format = \"bushbaby-targets/9\"\n"));
  ASSERT_FALSE(write_file(path("typo.inputs"), "# bushbaby inputs 1\nrihgt for 3 ticks\n"));
  ASSERT_FALSE(write_file(path("ragged.csv"), "x,y\n0,0\n1,1\n2"));
  ASSERT_FALSE(write_file(path("ragged.targets.toml"),
                          "format = \"bushbaby-targets/1\"\n[[target]]\ndrill = \"stand_jump\"\n"
                          "follow = \"ragged.csv\"\nwithin = 0.1\n"));
  const Refusal gallery[] = {
      {"drill empty.toml", "empty.toml:1:1: found no format line"},
      {"drill long.toml", "long.toml: found more than 16777216 bytes"},
      {"drill binary.toml", "binary.toml:1"},
      {"judge pip.tuning.toml newer.targets.toml", "the only version this program reads"},
      {"judge pip.tuning.toml ragged.targets.toml", "ragged.csv:4: found 1 fields, expected 2"},
      {"judge pip.tuning.toml nowhere.toml", "nowhere.toml: found No such file"},
      {"run pip.tuning.toml --level nan.level.toml --inputs typo.inputs",
       "nan.level.toml:2:10: start: found nan"},
      {"run pip.tuning.toml --level nan.level.toml --inputs typo.inputs",
       "typo.inputs:2:1: found rihgt"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs longish.inputs",
       "longish.inputs:1:1: found no format line, expected the format line"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs --trace .",
       ".: found a directory, expected a place that can be written to"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs --trace "
       "/dev/full",
       "/dev/full: found No space left"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs "
       "--units "
       "sideways",
       "--units: found sideways"},
      {"",
       "found no verb, expected one of derive, drill, judge, fit, answer, recover, run, overlay, "
       "windows, sweep, merge, rates, report, export, import, why, play, demo"},
      {"dril pip.tuning.toml", "did you mean drill?"},
      {"drill pip.tuning.toml --ploot x.png", "found unknown option --ploot; did you mean --plot?"},
      {"drill pip.tuning.toml --plot", "--plot: found nothing behind it, expected FILE"},
      {"drill pip.tuning.toml --plot ''", "--plot: found nothing behind it, expected FILE"},
      {"drill pip.tuning.toml --plot a.png --plot b.png",
       "--plot: found it 2 times, expected it once"},
      {"drill pip.tuning.toml --json=yes", "--json: found =yes, expected --json alone"},
      {"drill pip.tuning.toml dorro.tuning.toml",
       "found dorro.tuning.toml, which belongs to nothing"},
      {"drill", "found no TUNING, expected TUNING, the tuning file"},
      {"drill --hieght", "bushbaby drill --help shows more"},
      {"drill pip.tuning.toml --set coyote=3",
       "found unknown key coyote; did you mean jump.coyote?"},
      {"drill pip.tuning.toml --set wall.exit.away=3",
       "found unknown key wall.exit.away; did you mean wall.exit.1.away?"},
      {"drill pip.tuning.toml --set loop.integrator=semi-implicit", "did you mean semi_implicit?"},
      {"drill pip.tuning.toml --set run.top_speed=8 --save dorro.tuning.toml",
       "--save: found dorro.tuning.toml, which is there already, expected a new name, or "
       "pip.tuning.toml itself"},
      {"derive --from pip.tuning.toml --set jump.allowed=false --height 3 --apex-time 0.4",
       "derive: jump.allowed: found false, expected true"},
      {"derive --height 3", "derive: found height alone, expected two of height"},
      {"derive --height 3 --apex-time 0.4 --gravity 30",
       "found gravity 30 u/s² where the others give 37.5"},
      {"derive --height -3 --apex-time 0.4",
       "derive: found height -3 u, expected more than 0, and finite"},
      {"derive --height nan --apex-time 0.4",
       "found height nan u, expected more than 0, and finite"},
      {"derive --height tall --apex-time 0.4",
       "--height: found tall, expected a length: a number (in u) or \"3.25 u\""},
      {"derive --height 3 --apex-time soon", "--apex-time: found soon, expected a time"},
      {"derive --height 3 --apex-time 0.4 --tick-rate 0",
       "--tick-rate: found 0, expected a rate in Hz"},
      {"derive --height 3 --apex-time 0.4 --integrator exakt",
       "expected one of exact, trapezoidal"},
      {"derive --height 3 --apex-time 0.4 --no-launch-gravity",
       "expected gravity on it: the launch tick"},
      {"derive --height 3 --apex-time 0.4 --fall-factor -1",
       "--fall-factor: found -1, expected a factor, more than 0 and at most 1000000"},
      {"drill nowhere.tuning.toml", "nowhere.tuning.toml: found No such file"},
      {"drill .", ".: found a directory"},
      {"drill bad.tuning.toml",
       "bad.tuning.toml:3:1: found unknown key jump.heigth; did you mean "
       "jump.height?"},
      {"drill pip.tuning.toml --only stand_jmp", "did you mean stand_jump?"},
      {"drill pip.tuning.toml --set run.top_speed=fast", "found fast, expected a speed"},
      {"drill pip.tuning.toml --plot jumps.gif", "a name ending in .png or .svg"},
      {"drill pip.tuning.toml --plot no/such/place.png", "a place that can be written to"},
      {"run pip.tuning.toml --level first-limbs.level.toml",
       "found no --inputs, expected --inputs INPUTS, the inputs file"},
      {"run pip.tuning.toml --level pip.tuning.toml --inputs first-leaps.inputs",
       "expected \"bushbaby-level/1\""},
      {"run pip.tuning.toml --level buried.level.toml --inputs first-leaps.inputs",
       "start: found a place where the body is inside solid 1, 1 u deep, expected room for a body "
       "of "
       "0.8 by 1.4 u"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs --trace "
       "no/such/out.csv",
       "a place that can be written to"},
      {"demo --data .. --out walk", "--data: found .., expected the folder with pip.tuning.toml"},
  };
  for (const Refusal& refusal : gallery) {
    const Outcome outcome = run(refusal.call);
    EXPECT_EQ(outcome.code, 2) << refusal.call;
    EXPECT_NE(outcome.err.find(refusal.message), std::string::npos) << refusal.call << "\n"
                                                                    << outcome.err;
    EXPECT_EQ(outcome.err.find(".part"), std::string::npos) << refusal.call;
  }
  for (const auto& entry : fs::recursive_directory_iterator(folder_)) {
    EXPECT_EQ(entry.path().string().find(".part"), std::string::npos)
        << "left behind: " << entry.path();
  }
}

TEST_F(Tool, SaveKeepsWhatSetTriedAndTheCommentsToo) {
  const std::string before = text_of("pip.tuning.toml");
  const std::string set = " --only stop --set jump.coyote=9ticks --set run.top_speed=8 --save ";
  ASSERT_EQ(run("drill pip.tuning.toml" + set + "quick.tuning.toml").code, 0);
  EXPECT_EQ(text_of("pip.tuning.toml"), before) << "a new file leaves the old one alone";
  std::string expected = before;
  expected.replace(expected.find("\"7 ticks\"  "), 9, "\"9 ticks\"");
  expected.replace(expected.find("top_speed = 7.0"), 15, "top_speed = 8");
  EXPECT_EQ(text_of("quick.tuning.toml"), expected);
  ASSERT_EQ(run("drill pip.tuning.toml" + set + "pip.tuning.toml").code, 0);
  EXPECT_EQ(text_of("pip.tuning.toml"), expected);
  // A base is found from the new place too.
  fs::create_directory(folder_ / "kept");
  ASSERT_EQ(run("drill dorro.tuning.toml" + set + "kept/dorro.tuning.toml").code, 0);
  const auto kept = load_tuning(path("kept/dorro.tuning.toml"));
  ASSERT_TRUE(kept) << describe(kept.error().front());
  EXPECT_EQ(kept->tuning.run.top_speed, 8);
  EXPECT_EQ(kept->tuning.wall.buffer, (Duration{6, Duration::Unit::ticks})) << "as Pip's";
}

TEST_F(Tool, ListsEveryKnobAndEveryFact) {
  const auto list = json_of("drill --knobs --json");
  ASSERT_EQ(list["knobs"].size(), knobs().size());
  for (const auto& item : list["knobs"]) {
    EXPECT_NE(find_knob(item["knob"].get<std::string>()), nullptr) << item;
    EXPECT_FALSE(item["help"].get<std::string>().empty()) << item;
  }
  const auto own = json_of("judge pip.tuning.toml --knobs --json --set run.top_speed=9");
  for (const auto& item : own["knobs"]) {
    if (item["knob"] != "run.top_speed") continue;
    EXPECT_EQ(item["value"], "9");
    EXPECT_EQ(item["default"], "7");
    EXPECT_EQ(item["unit"], "u/s");
  }
  // In the numbers of the file: px, per tick.
  put("px.toml",
      "format = \"bushbaby-tuning/1\"\n[convention]\none_unit = \"16 px\"\nvertical = "
      "\"down\"\ntime = \"tick\"\n[jump]\nheight = 52\napex_time = 23\n");
  const auto pixels = json_of("drill px.toml --knobs");
  int seen = 0;
  for (const auto& item : pixels["knobs"]) {
    seen += item["knob"] == "jump.height" || item["knob"] == "jump.coyote" ? 1 : 0;
    if (item["knob"] == "jump.height") {
      EXPECT_EQ(item["value"], "52");
      EXPECT_EQ(item["unit"], "px");
      EXPECT_EQ(item["takes"], "more than 0 and at most 16000000");
    }
    if (item["knob"] == "jump.coyote") {
      EXPECT_EQ(item["takes"], "0 to 1000000");
      EXPECT_EQ(item["unit"], "ticks");
    }
  }
  EXPECT_EQ(seen, 2);
  const std::string facts = run("drill --facts").out;
  EXPECT_NE(facts.find("coyote.window_ticks"), std::string::npos);
}

TEST_F(Tool, TimeInTicksIsTheTickItself) {
  ASSERT_EQ(run("run pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs "
                "--trace t.csv --units 'one_unit=16 px, vertical=down, time=tick'")
                .code,
            0);
  std::istringstream rows(text_of("t.csv"));
  std::string row;
  std::getline(rows, row);
  int tick = 0;
  for (; std::getline(rows, row); ++tick) {
    EXPECT_EQ(row.substr(0, row.find(',', row.find(',') + 1)), fmt::format("{0},{0}", tick));
  }
  EXPECT_EQ(tick, 352);
}

TEST_F(Tool, ARunWithoutGroundSaysThatTheBodyFalls) {
  put("void.level.toml", "format = \"bushbaby-level/1\"\nstart = [0, 0]\n");
  const Outcome outcome =
      run("run pip.tuning.toml --level void.level.toml --inputs first-leaps.inputs");
  EXPECT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_NE(outcome.out.find("no arcs: the body falls from the start on and meets no ground"),
            std::string::npos)
      << outcome.out;
}

TEST_F(Tool, LongTimesDeserveARemark) {
  const Outcome outcome = run("drill pip.tuning.toml --only stop --set jump.coyote=100");
  EXPECT_EQ(outcome.code, 0);
  EXPECT_EQ(outcome.err,
            "bushbaby: remark: jump.coyote is 100 s long, which is 6000 ticks; write 100ms if "
            "milliseconds were meant, 100ticks if ticks were\n");
  EXPECT_EQ(run("drill pip.tuning.toml --only stop --set jump.coyote=100ms").err, "");
}

// Help, parsing and docs are made from one table.
TEST_F(Tool, EveryVerbHasItsPageInTheDocs) {
  const auto commands = read_file(std::string(BUSHBABY_SOURCE_DIR) + "/docs/commands.md");
  ASSERT_TRUE(commands);
  const std::string page = run("--help").out;
  EXPECT_NE(commands->find(page), std::string::npos) << "run scripts/refresh-docs";
  for (const char* verb : {"derive", "drill", "judge", "run", "why", "demo"}) {
    const Outcome help = run(std::string(verb) + " --help");
    EXPECT_EQ(help.code, 0);
    EXPECT_NE(page.find(std::string("\n") + verb + " "), std::string::npos) << verb;
    EXPECT_NE(commands->find(help.out), std::string::npos) << verb << ": run scripts/refresh-docs";
    std::istringstream lines(help.out);
    for (std::string line; std::getline(lines, line);) EXPECT_LE(line.size(), 100U) << line;
  }
}

TEST_F(Tool, AnOutputStaysWhenTheNewOneFails) {
  const std::string before = text_of("pip.tuning.toml");
  EXPECT_EQ(run("derive --height 3 --write pip.tuning.toml").code, 2);
  EXPECT_EQ(text_of("pip.tuning.toml"), before);
}

constexpr const char* kFirstRun =
    "why pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs";

TEST_F(Tool, WhyExplainsEveryPressOrTheTicksAskedFor) {
  const auto brief = json_of(kFirstRun);
  ASSERT_EQ(brief["presses"].size(), 4U) << "four presses in the inputs";
  EXPECT_EQ(brief["presses"][0]["tick"], 51);
  EXPECT_EQ(brief["presses"][0]["why"], "ground jump");
  const auto json = json_of(std::string(kFirstRun) + " --full");
  ASSERT_EQ(json["ticks"].size(), 4U);
  EXPECT_EQ(json["ticks"][0]["tick"], 51);
  EXPECT_EQ(json["ticks"][0]["candidates"][1]["candidate"], "ground jump");
  EXPECT_TRUE(json["ticks"][0]["candidates"][1]["happens"].get<bool>());
  EXPECT_EQ(json["ticks"][0]["candidates"][2]["why"], "no coyote jump: grounded");
  const auto one = json_of(std::string(kFirstRun) + " --tick 60 --tick 61");
  ASSERT_EQ(one["ticks"].size(), 2U);
  EXPECT_EQ(one["ticks"][0]["gravity"]["knob"], "jump.gravity");
  const Outcome text = run(std::string(kFirstRun) + " --full");
  EXPECT_EQ(text.code, 0);
  EXPECT_NE(text.out.find("-> ground jump"), std::string::npos);
}

TEST_F(Tool, WhySaysWhereTwoRunsPartAndOverWhat) {
  const auto json = json_of(std::string(kFirstRun) + " --against-set jump.height=3.3");
  EXPECT_TRUE(json["parts"].get<bool>());
  EXPECT_EQ(json["tick"], 51);
  EXPECT_EQ(json["knobs"][0], "jump.height: 3.25, 3.3");
  EXPECT_EQ(json["over"][0]["column"], "y");
  const auto same = json_of(std::string(kFirstRun) + " --against-set dash.charges=3");
  EXPECT_FALSE(same["parts"].get<bool>()) << "nobody dashes on this inputs";

  const std::string at = " --level first-limbs.level.toml --inputs first-leaps.inputs --trace ";
  ASSERT_EQ(run("run pip.tuning.toml" + at + "a.csv").code, 0);
  ASSERT_EQ(run("run pip.tuning.toml" + at + "b.csv --set fall.factor=2").code, 0);
  const auto traces = json_of("why --traces a.csv b.csv");
  EXPECT_EQ(traces["tick"], 64) << "the tick of the first apex, where falling begins";
  EXPECT_FALSE(json_of("why --traces a.csv a.csv")["parts"].get<bool>());
  EXPECT_FALSE(json_of("why --traces a.csv b.csv --within 100")["parts"].get<bool>() &&
               traces["over"].empty());
}

TEST_F(Tool, WhyRefusesWhatMakesNoSense) {
  put("here.csv", "tick,x,y\n0,0,0\n1,0,0\n");
  put("pixels.csv", "tick,x px,y px down\n0,0,0\n1,0,0\n");
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"why",
       "found nothing to explain, expected TUNING --level LEVEL --inputs INPUTS, or --traces "
       "A B"},
      {"why pip.tuning.toml --level x", "found no --inputs, expected TUNING --level LEVEL"},
      {"why pip.tuning.toml --tick soon", "--tick: found soon, expected a whole number"},
      {"why --traces here.csv here.csv --within wide", "--within: found wide, expected a length"},
      {"why --traces here.csv pixels.csv",
       "--traces: found u, u/s, y up; and px, px/s, y down, expected two traces in the same units"},
      {"why pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs --tick 999",
       "--tick: found 999, expected a tick of the inputs, 1 to 351"},
      {"why pip.tuning.toml --traces a.csv b.csv",
       "--traces: found a tuning, a level or inputs beside it"},
      {"why --traces a.csv", "--traces: found a.csv alone, expected A B"},
      {"why --traces a.csv b.csv", "a.csv: found No such file"},
      {"why pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs "
       "--against-set loop.tick_rate=30",
       "--against: found 60 Hz and 30 Hz, expected two tunings of one tick rate"},
  };
  for (const auto& bad : gallery) {
    const Outcome outcome = run(bad.arguments);
    EXPECT_EQ(outcome.code, 2) << bad.arguments;
    EXPECT_NE(outcome.err.find(bad.message), std::string::npos) << outcome.err;
    EXPECT_TRUE(outcome.out.empty());
  }
}

TEST_F(Tool, DeriveGivesThePlainJumpOfACharacterThatCharges) {
  const auto json = json_of("derive --from dorro.tuning.toml --height 2 --apex-time 0.3");
  EXPECT_NEAR(json["achieved"]["height"].get<double>(), 2, 1e-9);
  EXPECT_NEAR(json["achieved"]["apex_time"].get<double>(), 0.3, 1e-9);
}

TEST_F(Tool, DorroIsBasedOnPipAndFeelsTheOtherWay) {
  const auto pip = json_of("drill pip.tuning.toml")["facts"];
  const auto dorro = json_of("drill dorro.tuning.toml")["facts"];
  const auto of = [](const nlohmann::json& facts, const char* name) {
    EXPECT_TRUE(facts.contains(name)) << name;
    return facts.value(name, std::nan(""));
  };
  EXPECT_GT(of(dorro, "run_up.time"), 5 * of(pip, "run_up.time"));
  EXPECT_LT(of(dorro, "push.distance"), of(pip, "push.distance") / 2);
  EXPECT_LT(of(dorro, "wall_gain.height"), 0);
  EXPECT_GT(of(pip, "wall_gain.height"), 0);
  EXPECT_NEAR(of(dorro, "charge.highest"), 4.2, 1e-9);
  EXPECT_FALSE(dorro.contains("dash.distance"));
  EXPECT_NEAR(of(pip, "dash.distance"), 3.2, 1e-9);
  EXPECT_EQ(of(pip, "coyote.window_ticks"), 7);
  EXPECT_EQ(of(pip, "buffer.window_ticks"), 8);
  EXPECT_EQ(of(pip, "wall_press.late"), 4);
  EXPECT_EQ(of(pip, "wall_press.early"), 6);
}

TEST_F(Tool, OverlayReportsOnlyWhatDiffers) {
  const std::string where = " --level first-limbs.level.toml --inputs late-leaps.inputs";
  const Outcome on_level =
      run("overlay pip.tuning.toml --try fall.factor=2.2 --without jump.coyote" + where +
          " --plot o.png");
  ASSERT_EQ(on_level.code, 0) << on_level.err;
  for (const char* line :
       {"  A  Pip\n", "  B  fall.factor=2.2      diverges from A at tick 45 (0.75 s): y, vy\n",
        "  C  without jump.coyote  diverges from A at tick 68 (1.133 s): y, vy, stance, events\n",
        "arc 1, air time                s                   0.61651  0.58694 (-0.0296)             "
        "     =\n",
        "arc 2, height                  u                      3.25                  =          0 "
        "(-3.25)\n",
        "coyote_used                    s                    1.1167                  =             "
        "  none\n"}) {
    EXPECT_THAT(on_level.out, testing::HasSubstr(line));
  }
  EXPECT_THAT(on_level.out, testing::Not(testing::HasSubstr("arc 1, height")));
  EXPECT_TRUE(exists(path("o.png")));
  const auto json = json_of("overlay pip.tuning.toml --try fall.factor=2.2" + where);
  EXPECT_EQ(json["variants"][1]["parts_in_tick"], 45);
  // What the run of its own wrote down is the same run.
  ASSERT_EQ(run("run pip.tuning.toml" + where + " --trace pip.csv").code, 0);
  EXPECT_THAT(run("overlay pip.tuning.toml --recorded pip.csv" + where).out,
              testing::HasSubstr("pip.csv  the same as A\n\nnothing that is measured differs\n"));
  // A drill: by the facts, and by a curve.
  put("leap.csv", "x u,y u\n0,0\n2,3\n4.6,0\n");
  const Outcome drill = run(
      "overlay pip.tuning.toml --try 'fall.factor = 2.2, jump.height=3' --with dorro.tuning.toml "
      "--drill stand_jump");
  EXPECT_EQ(drill.code, 0) << drill.err;
  EXPECT_THAT(drill.out, testing::HasSubstr("stand_jump.height              u                      "
                                            "3.25          3 (-0.25)        4.2 (+0.95)\n"));
  EXPECT_THAT(run("overlay pip.tuning.toml --try fall.factor=2.2 --reference leap.csv").out,
              testing::HasSubstr("farthest from leap.csv"));
  // A variant that does not get there says so, and the others go on.
  put("far.inputs", "# bushbaby inputs 1\nright until 3 ticks after edge within 2 s\n");
  const Outcome early =
      run("overlay pip.tuning.toml --try run.top_speed=9 --level "
          "first-limbs.level.toml --inputs far.inputs");
  EXPECT_EQ(early.code, 1);
  EXPECT_THAT(early.out, testing::HasSubstr("ended early: line 2 of the inputs, \"right until 3 "
                                            "ticks after edge\": it did not come within 2 s (120 "
                                            "ticks); the run ends there, standing at x "));
}

TEST_F(Tool, OverlaySaysWhatItLacks) {
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"", "found nothing to compare with"},
      {"--try fall.factr=2", "--try: found unknown key fall.factr; did you mean fall.factor?"},
      {"--without jump.coyot", "did you mean jump.coyote?"},
      {"--without jump", "two of height, apex time, launch speed and gravity"},
      {"--try fall.factor=2 --drill late_presses", "one of stand_jump, hop, running_jump"},
      {"--try fall.factor=2 --level x", "found no --inputs"},
      {"--recorded x.csv", "found no level to run on beside it"},
      {"--with no.toml", "no.toml: found No such file or directory"},
      {"--try a=1 --try a=1 --try a=1 --try a=1 --try a=1 --try a=1 --try a=1 --try a=1",
       "found 9 variants"},
  };
  for (const auto& bad : gallery) {
    const Outcome outcome = run(fmt::format("overlay pip.tuning.toml {}", bad.arguments));
    EXPECT_EQ(outcome.code, 2) << bad.arguments;
    EXPECT_THAT(outcome.err, testing::HasSubstr(bad.message)) << bad.arguments;
    EXPECT_EQ(outcome.out, "") << bad.arguments;
  }
}

TEST_F(Tool, WindowsReportWhatEachPressDoes) {
  const Outcome outcome = run("windows pip.tuning.toml --try jump.coyote=4ticks --plot w.png");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_THAT(outcome.out,
              testing::HasSubstr("  B jump.coyote=4ticks\n    up to 0      jumps from the ground\n"
                                 "    +1 to +4     jumps in coyote time: 4 ticks, 66.67 ms\n"
                                 "    from +5      jumps in the air\n"));
  EXPECT_THAT(outcome.out,
              testing::HasSubstr(
                  "    1 to 2       waits for the least hold, 2 ticks at most, and cuts the jump: "
                  "1.328 u\n"
                  "    3 to 22      cuts the jump: 1.328 u to 3.248 u, in steps of up to 0.1989 u "
                  "(333.3 ms)\n"
                  "    from 23      nothing comes of it: 3.25 u\n"));
  EXPECT_TRUE(exists(path("w.png")));
  const auto json = json_of("windows pip.tuning.toml");
  const auto& edge = json["variants"][0]["windows"]["edge"]["presses"];
  int late = 0;
  for (const auto& press : edge) late += press["jump"] == "coyote" ? 1 : 0;
  EXPECT_EQ(late, 7);
  const auto& releases = json["variants"][0]["release"]["releases"];
  EXPECT_EQ(releases[1]["waited"], 1);
  EXPECT_EQ(releases[2]["does"], "cuts");
  EXPECT_THAT(run("windows dorro.tuning.toml").out,
              testing::HasSubstr("    from 36      jumps: 4.2 u\n"));
  // What does not run has no edge, and a wall that is never met is none.
  EXPECT_THAT(run("windows pip.tuning.toml --set run.top_speed=0 --set run.sprint.top_speed=").out,
              testing::HasSubstr("it does not run off a ledge"));
  EXPECT_EQ(run("windows pip.tuning.toml --try jump.coyote=1 --try jump.coyote=2 --try "
                "jump.coyote=3 --try jump.coyote=4")
                .code,
            2);
}

TEST_F(Tool, SweepMeasuresOverRanges) {
  const Outcome table =
      run("sweep pip.tuning.toml --over 'jump.coyote=0ticks, 4ticks, 7ticks' --fact "
          "coyote.window_ticks --plot s.png");
  ASSERT_EQ(table.code, 0) << table.err;
  EXPECT_EQ(table.out,
            "jump.coyote ticks  coyote.window_ticks ticks\n"
            "                0                          0\n"
            "                4                          4\n"
            "                7                          7  <- as it is now\n");
  EXPECT_TRUE(exists(path("s.png")));
  // A map, from the file that was written; the same in parts, and killed in the middle.
  const std::string sweep =
      "sweep pip.tuning.toml --over 'fall.factor=1..3 in 90' --over 'jump.height=1..6 in 60 log' "
      "--targets pip.targets.toml --fact stand_jump.air_time";
  ASSERT_EQ(run(sweep + " --out whole.csv --plot map.svg").code, 0);
  EXPECT_THAT(text_of("map.svg"), testing::HasSubstr("green: where the target is met"));
  std::string parts;
  for (int k = 1; k <= 20; ++k) {
    const std::string part = fmt::format("part-{}.csv", k);
    ASSERT_EQ(run(sweep + fmt::format(" --part {}/20 --out {}", k, part)).code, 0);
    parts = " " + part + parts;
  }
  ASSERT_EQ(run("merge merged.csv" + parts).code, 0);
  EXPECT_EQ(text_of("merged.csv"), text_of("whole.csv"));
  for (const char* when : {"0.02", "0.1", "0.2"}) {
    (void)run(sweep + " --out killed.csv", fmt::format("timeout -s KILL {}", when));
  }
  ASSERT_EQ(run(sweep + " --out killed.csv").code, 0);
  EXPECT_EQ(text_of("killed.csv"), text_of("whole.csv"));
  const Outcome lacking = run("merge again.csv part-1.csv part-3.csv");
  EXPECT_EQ(lacking.code, 2);
  EXPECT_THAT(lacking.err, testing::HasSubstr("expected run 271: a part is missing"));
  EXPECT_FALSE(exists(path("again.csv")));
}

TEST_F(Tool, SweepSaysWhatItLacks) {
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"--over 'fall.factor=1..3 in 5'", "found nothing to measure"},
      {"--fact stand_jump.height", "found no --over"},
      {"--over 'fall.factr=1..3 in 5' --fact stand_jump.height", "did you mean fall.factor?"},
      {"--over 'fall.factor=1..3 in 5' --fact stand_jump.hight", "did you mean stand_jump.height?"},
      {"--over 'fall.factor=1..3' --fact stand_jump.height",
       "expected LOW..HIGH in N, N from 2 on"},
      {"--over 'fall.factor=0..3 in 5' --fact stand_jump.height", "more than 0"},
      {"--over 'fall.factor=1..3 in 5000' --fact stand_jump.height",
       "found 5000 runs to be printed, expected --out FILE for more than 2000"},
      {"--over 'fall.factor=1..3 in 50000' --over 'jump.height=1..9 in 50000' --fact "
       "stand_jump.height --out x.csv",
       "found 2500000000 runs, expected at most 100000000"},
      {"--over 'fall.factor=1..3 in 5' --fact stand_jump.height --part 6/5 --out x.csv",
       "--part: found 6/5, expected K/N, such as 3/20"},
      {"--over 'fall.factor=1..3 in 5' --fact stand_jump.height --part 1/5", "found no --out"},
  };
  for (const auto& bad : gallery) {
    const Outcome outcome = run(fmt::format("sweep pip.tuning.toml {}", bad.arguments));
    EXPECT_EQ(outcome.code, 2) << bad.arguments;
    EXPECT_THAT(outcome.err, testing::HasSubstr(bad.message)) << bad.arguments;
    EXPECT_EQ(outcome.out, "") << bad.arguments;
  }
  EXPECT_FALSE(exists(path("x.csv")));
}

TEST_F(Tool, RatesReportWhatMovesAndHowToKeepIt) {
  const Outcome outcome =
      run("rates pip.tuning.toml --rate 30 --only coyote --only stand_jump --level "
          "first-limbs.level.toml --inputs first-leaps.inputs --within 0.5");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  for (const char* line :
       {"  A  60 Hz, exact\n",
        "       rounded: jump.coyote is 3.5 ticks at 30 Hz: using 4 ticks = 0.1333 s\n",
        "on these inputs 0.5 u from A at ", "the jump is as high in all of them\n"}) {
    EXPECT_THAT(outcome.out, testing::HasSubstr(line));
  }
  EXPECT_THAT(outcome.out, testing::ContainsRegex("coyote\\.window_ticks +ticks +7 +4 \\(-3\\)"));
  const Outcome raw =
      run("rates pip.tuning.toml --set jump.height= --set jump.apex_time= --set "
          "jump.launch_speed=17 --set jump.gravity=49 --only stand_jump");
  EXPECT_THAT(raw.out, testing::HasSubstr("to keep the height of the jump\n"));
  EXPECT_EQ(json_of("rates pip.tuning.toml --only hop")["loops"].size(), 11U);
  EXPECT_EQ(run("rates pip.tuning.toml --rate fast").code, 2);
  EXPECT_EQ(run("rates pip.tuning.toml --rate 0").code, 2);
  EXPECT_EQ(run("rates pip.tuning.toml --level first-limbs.level.toml").code, 2);
  EXPECT_EQ(run("rates pip.tuning.toml --only late").code, 2);
}

TEST_F(Tool, JudgesRuns) {
  const Outcome fine = run("judge pip.tuning.toml first-limbs.targets.toml");
  EXPECT_EQ(fine.code, 0) << fine.err;  // the one that is missed is a should
  EXPECT_THAT(fine.out, testing::HasSubstr("4 of 5 targets met"));
  const Outcome missed = run(
      "judge pip.tuning.toml first-limbs.targets.toml --set jump.coyote=0ticks --map m.svg --plot "
      "v.png");
  EXPECT_EQ(missed.code, 1);
  EXPECT_THAT(missed.out,
              testing::HasSubstr("MISSED: it lands on \"root\", \"grove floor\", at x "));
  EXPECT_THAT(missed.out, testing::ContainsRegex("jump\\.coyote +0 ticks +4 ticks"));
  EXPECT_THAT(text_of("m.svg"), testing::HasSubstr("lands_on low limb: it lands on"));
  EXPECT_EQ(run("judge pip.tuning.toml pip.targets.toml --map n.png").code, 2);
  const auto json = json_of("judge pip.tuning.toml first-limbs.targets.toml");
  EXPECT_EQ(json["targets"][0]["run"]["inputs"], "late-leaps.inputs");
}

TEST_F(Tool, FitMeetsTargetsAndKeepsTheText) {
  const std::string call =
      "fit pip.tuning.toml pip.targets.toml --set fall.factor=2.2 --set jump.height=4";
  const Outcome outcome = run(call + " --save fitted.tuning.toml --plot fit.svg");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_THAT(outcome.out, testing::HasSubstr("all 9 targets met, 5 were before"));
  EXPECT_THAT(outcome.out, testing::ContainsRegex("jump\\.height +4 u +3\\.25 u +× 0\\.8125"));
  // Few knobs: one more. The file keeps its comments.
  const auto json = json_of(call);
  EXPECT_EQ(json["end"], "met");
  EXPECT_EQ(json["targets"].size(), 9U);
  EXPECT_EQ(std::count_if(json["knobs"].begin(), json["knobs"].end(),
                          [](const auto& knob) { return knob["moved"].template get<bool>(); }),
            2);
  EXPECT_THAT(text_of("fitted.tuning.toml"), testing::HasSubstr("# drops harder than it rises"));
  EXPECT_THAT(text_of("fit.svg"), testing::HasSubstr("after"));
  EXPECT_EQ(run("judge fitted.tuning.toml pip.targets.toml").code, 0);
  // The same call, the same answer.
  EXPECT_EQ(run(call).out, outcome.out);
}

TEST_F(Tool, FitNamesWhatCannotBeTogether) {
  put("apart.targets.toml",
      "format = \"bushbaby-targets/1\"\n"
      "[[target]]\nfact = \"stand_jump.height\"\naim = 3.25\nwithin = 0.02\n"
      "[[target]]\nfact = \"hop.height\"\nat_least = 3.4\n"
      "[[free]]\nknob = \"jump.height\"\n[[free]]\nknob = \"jump.cut.keep\"\n"
      "[[free]]\nknob = \"run.top_speed\"\nbetween = [5, \"8 u/s\"]\n");
  const Outcome outcome = run("fit pip.tuning.toml apart.targets.toml");
  EXPECT_EQ(outcome.code, 1) << outcome.err;
  EXPECT_THAT(outcome.out,
              testing::HasSubstr("  stand_jump.height 3.25 ± 0.02 u, with hop.height ≥ 3.4 u\n"));
  EXPECT_THAT(outcome.out, testing::HasSubstr("hop.height gives way: 3.25 u comes nearest"));
  // Another convention: reported in its own numbers.
  const Outcome pixels = run(
      "fit pip.tuning.toml apart.targets.toml --units 'one_unit=16 px, vertical=down, time=tick'");
  EXPECT_THAT(pixels.out, testing::HasSubstr("52 ± 0.32 px, with hop.height ≥ 54.4 px"));
}

TEST_F(Tool, FitRefusesWhatMakesNoSense) {
  put("odd.targets.toml",
      "format = \"bushbaby-targets/1\"\n[[target]]\nfact = \"hop.height\"\nat_least = 1\n"
      "[[free]]\nknob = \"fall.facto\"\n[[free]]\nknob = \"fall.factor\"\nbetween = [3, 2]\n"
      "[[free]]\nknob = \"jump.coyote\"\nbetween = [\"2 ticks\", 0.1]\n[[free]]\nnob = 1\n");
  put("unset.targets.toml",
      "format = \"bushbaby-targets/1\"\n[[target]]\nfact = \"hop.height\"\nat_least = 1\n"
      "[[free]]\nknob = \"jump.gravity\"\n");
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"fit pip.tuning.toml", "no TARGETS"},
      {"fit pip.tuning.toml pip.targets.toml --free fall.facto", "did you mean fall.factor?"},
      {"fit pip.tuning.toml pip.targets.toml --free fall.factor=2", "\"fall.factor=1.2..2\""},
      {"fit pip.tuning.toml pip.targets.toml --free fall.factor=2..1",
       "expected LOW..HIGH, two values in that order"},
      {"fit pip.tuning.toml pip.targets.toml --free fall.factor=x..2", "--free: found x"},
      {"fit pip.tuning.toml pip.targets.toml --free jump.gravity",
       "expected a knob that is set, to a number or a time"},
      {"fit pip.tuning.toml pip.targets.toml --free jump.cut.style",
       "expected a knob that is set, to a number or a time"},
      {"fit pip.tuning.toml pip.targets.toml --free wall.exit.9.up",
       "--free: found wall.exit.9.up"},
      {"fit pip.tuning.toml pip.targets.toml --evaluations 0",
       "expected a whole number from 1 to 1000000"},
      {"fit pip.tuning.toml pip.targets.toml --seed 1e300", "expected a whole number from 0"},
      {"fit pip.tuning.toml pip.targets.toml --starts nan", "expected a whole number from 1"},
      {"fit pip.tuning.toml pip.targets.toml --leave fall.facto", "did you mean fall.factor?"},
      {"fit pip.tuning.toml pip.targets.toml --free fall.factor --leave fall.factor",
       "--leave: found every knob"},
      {"fit pip.tuning.toml pip.targets.toml --save pip.targets.toml", "pip.targets.toml"},
      {"fit pip.tuning.toml odd.targets.toml", "did you mean fall.factor?"},
      {"fit pip.tuning.toml odd.targets.toml",
       "odd.targets.toml:9:11: between: found a list, expected [lowest, highest]"},
      {"fit pip.tuning.toml odd.targets.toml", "odd.targets.toml:12:11: between"},
      {"fit pip.tuning.toml odd.targets.toml", "did you mean knob?"},
      {"fit pip.tuning.toml unset.targets.toml",
       "unset.targets.toml:5:1: jump.gravity: found a knob that the tuning has not set"},
  };
  for (const auto& c : gallery) {
    const Outcome outcome = run(c.arguments);
    EXPECT_EQ(outcome.code, 2) << c.arguments;
    EXPECT_THAT(outcome.err, testing::HasSubstr(c.message)) << c.arguments;
    EXPECT_EQ(outcome.out, "") << c.arguments;
  }
}

TEST_F(Tool, AnswersComplaints) {
  const Outcome outcome = run("answer pip.tuning.toml floaty --plot changes.svg");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_THAT(outcome.out,
              testing::ContainsRegex("target +stand_jump\\.air_time +s +0\\.6687 +≤ 0\\.588"));
  EXPECT_THAT(outcome.out,
              testing::ContainsRegex("kept +stand_jump\\.height +u +3\\.25 +the same"));
  EXPECT_THAT(outcome.out, testing::HasSubstr("\noption 3\n"));
  EXPECT_THAT(text_of("changes.svg"), testing::HasSubstr("option 3"));
  // The option that is saved does what it says, and the file keeps its comments.
  ASSERT_EQ(run("answer pip.tuning.toml 'too floaty' --option 2 --save other.tuning.toml").code, 0);
  const auto facts = json_of("drill other.tuning.toml --only stand_jump")["facts"];
  EXPECT_LE(facts["stand_jump.air_time"].get<double>(), 0.5885);
  EXPECT_NEAR(facts["stand_jump.height"].get<double>(), 3.25, 0.0975);
  EXPECT_THAT(text_of("other.tuning.toml"), testing::HasSubstr("# drops harder than it rises"));
  EXPECT_THAT(run("answer --words").out, testing::HasSubstr("it hangs in the air"));
  // Several at once, each in its own words.
  const Outcome both = run("answer pip.tuning.toml 'less floaty' 'eats my jump' --by '3 ticks'");
  EXPECT_EQ(both.code, 0) << both.out << both.err;
  EXPECT_THAT(both.out, testing::ContainsRegex("target +buffer\\.window_ticks +ticks +8 +≥ 11"));
  EXPECT_THAT(run("answer pip.tuning.toml 'jumps too high' 'not high enough'").out,
              testing::HasSubstr("no answer found: these complaints pull stand_jump.height both"));
  const auto json = json_of("answer pip.tuning.toml edges --by '3 ticks'");
  EXPECT_EQ(json["options"][0]["set"][0]["to"], "10 ticks");
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"answer pip.tuning.toml flooty", "did you mean floaty?"},
      {"answer pip.tuning.toml 'wall jmp weak'", "did you mean wall jump weak, "},
      {"answer pip.tuning.toml floaty purple", "found purple, expected a complaint"},
      {"answer pip.tuning.toml", "no COMPLAINT"},
      {"answer pip.tuning.toml floaty --by 3", "expected a share, such as 20%"},
      {"answer pip.tuning.toml floaty --by -5%", "expected a share"},
      {"answer pip.tuning.toml edges --by 20%", "expected a number of ticks, such as \"3 ticks\""},
      {"answer pip.tuning.toml floaty --keep hop.heigt", "did you mean hop.height?"},
      {"answer pip.tuning.toml floaty --option 9 --save x.toml", "expected an option from 1 to 3"},
  };
  for (const auto& c : gallery) {
    const Outcome refused = run(c.arguments);
    EXPECT_EQ(refused.code, 2) << c.arguments;
    EXPECT_THAT(refused.err, testing::HasSubstr(c.message)) << c.arguments;
  }
}

TEST_F(Tool, RecoversPipFromANoisyLog) {
  const std::string recover = "recover recordings/pip-at-dusk.csv";
  if (!BUSHBABY_SLOW) {
    const Outcome outcome = run(recover);
    ASSERT_EQ(outcome.code, 0) << outcome.err;
    EXPECT_THAT(outcome.out, testing::HasSubstr("they are ends of ticks at 60 Hz"));
    EXPECT_THAT(outcome.out, testing::HasSubstr("taken as 16; say it with --units"));
    EXPECT_THAT(outcome.out, testing::ContainsRegex("jump\\.coyote +7 ticks +exactly"));
    EXPECT_THAT(outcome.out, testing::ContainsRegex("jump\\.buffer +8 ticks +exactly"));
    EXPECT_THAT(outcome.out, testing::ContainsRegex("exact .*goes with what was recorded"));
    EXPECT_THAT(outcome.out,
                testing::ContainsRegex("fall\\.terminal_speed +no fall stopped growing faster"));
  }
  // In px: 16 to a unit, by what Pip's file asks for.
  const auto json = json_of(recover + " --plot dusk.svg --out dusk.tuning.toml --curve dusk.csv");
  const auto holds = [](const auto& estimate, double truth) {
    return estimate["lo"].template get<double>() <= truth &&
           truth <= estimate["hi"].template get<double>();
  };
  EXPECT_TRUE(holds(json["height"], 52)) << json["height"];
  EXPECT_TRUE(holds(json["apex_time"], 0.38)) << json["apex_time"];
  EXPECT_TRUE(holds(json["air_time"], 0.668702)) << json["air_time"];
  const std::map<std::string, double> truth{
      {"jump.launch_speed", 285.109}, {"jump.gravity", 783.97}, {"fall.factor", 1.7},
      {"jump.cut.keep", 0.45},        {"run.top_speed", 112},   {"run.ground.accelerate", 960},
      {"run.ground.brake", 1280}};
  std::size_t seen = 0;
  for (const auto& knob : json["knobs"]) {
    const auto at = truth.find(knob["knob"].get<std::string>());
    if (at == truth.end()) continue;
    ++seen;
    EXPECT_TRUE(holds(knob, at->second)) << knob;
  }
  EXPECT_EQ(seen, truth.size());
  // The tuning is one, in the log's own numbers, and the curve fits it.
  EXPECT_THAT(text_of("dusk.tuning.toml"), testing::HasSubstr("one_unit = \"16 px\""));
  EXPECT_THAT(text_of("dusk.csv"), testing::StartsWith("time s,y px down\n0,0\n"));
  put("dusk.targets.toml",
      "format = \"bushbaby-targets/1\"\n[[target]]\nfollow = \"dusk.csv\"\n"
      "drill = \"stand_jump\"\nwithin = \"0.1 u\"\n");
  const Outcome judged = run("judge dusk.tuning.toml dusk.targets.toml");
  EXPECT_EQ(judged.code, 0) << judged.out << judged.err;
  EXPECT_THAT(text_of("dusk.svg"), testing::HasSubstr("residuals"));
}

TEST_F(Tool, RecoversInTheNumbersOfAConventionAndIntoABase) {
  const std::string all = text_of("recordings/pip-at-dusk.csv");
  std::size_t end = 0;
  for (int row = 0; row < 700; ++row) end = all.find('\n', end) + 1;
  put("dusk.csv", all.substr(0, end));
  const std::string ticks = " --units 'one_unit=16 px, vertical=down, time=tick' --tick-rate 60";
  const Outcome outcome =
      run("recover dusk.csv" + ticks + " --out ticks.tuning.toml --curve ticks.csv");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_THAT(outcome.out, testing::ContainsRegex("jump\\.launch_speed +4\\.75[0-9]* px/tick"));
  EXPECT_THAT(outcome.out, testing::ContainsRegex("time to its apex +22\\.[78][0-9]* ticks"));
  EXPECT_THAT(text_of("ticks.csv"), testing::StartsWith("time ticks,y px down\n0,0\n"));
  // The other way round: reported so, and judged as that.
  put("ticks.targets.toml",
      "format = \"bushbaby-targets/1\"\n[[target]]\nfollow = \"ticks.csv\"\n"
      "drill = \"stand_jump\"\nwithin = 1\n");
  EXPECT_EQ(run("judge ticks.tuning.toml ticks.targets.toml").code, 0);
  // A base in other numbers keeps them, and its text.
  ASSERT_EQ(run("recover dusk.csv --base pip.tuning.toml --units 'one_unit=16 px, "
                "vertical=down' --out based.tuning.toml")
                .code,
            0);
  const std::string based = text_of("based.tuning.toml");
  EXPECT_THAT(based, testing::HasSubstr("# drops harder than it rises"));
  const auto facts = json_of("drill based.tuning.toml --only stand_jump")["facts"];
  EXPECT_NEAR(facts["stand_jump.height"].get<double>(), 3.25, 0.02);
  EXPECT_THAT(based, testing::HasSubstr("terminal_speed = 24 "));
}

TEST_F(Tool, RecoversAJumpFromPointsOffAPicture) {
  const auto json = json_of(
      "recover recordings/leap-off-a-picture.csv --pin 'x 88 = 0 s' --pin 'x 594 = 0.7 s' "
      "--pin 'y 695 = 0 u' --pin 'y 152 = 3.5 u'");
  EXPECT_NEAR(json["height"]["value"].get<double>(), 3.25, 0.02 * 3.25);
  EXPECT_NEAR(json["apex_time"]["value"].get<double>(), 0.38, 0.03 * 0.38);
  EXPECT_NEAR(json["air_time"]["value"].get<double>(), 0.6687, 0.03 * 0.6687);
}

TEST_F(Tool, RecoverRefusesWhatMakesNoSense) {
  put("still.csv", [] {
    std::string text = "time,x,y\n";
    for (int i = 0; i < 60; ++i) text += fmt::format("{:.3f},0,0\n", i / 60.0);
    return text;
  }());
  const Outcome still = run("recover still.csv --out still.tuning.toml");
  EXPECT_EQ(still.code, 1);
  EXPECT_THAT(still.out, testing::HasSubstr("no jump can be recovered: no jump was found"));
  EXPECT_THAT(still.out,
              testing::HasSubstr("to recover it, record: stand for a quarter of a second"));
  EXPECT_THAT(still.err, testing::HasSubstr("nothing was recovered for --out"));
  EXPECT_EQ(text_of("still.tuning.toml"), "");
  put("odd.csv", "time ms,x px,y pm\n0,1,2\n0,1,2\n1,x,2\n2,1\n");
  put("ticks.csv", "tick,x,y\n0,0,0\n1,0,0\n");
  put("names.csv", "t,x,y\n0,0,0\n1,0,0\n");
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"recover", "no RECORDING"},
      {"recover nowhere.csv", "nowhere.csv: found No such file"},
      {"recover odd.csv", "odd.csv:1: y: found pm, expected px or u"},
      {"recover odd.csv", "odd.csv:3: time: found 0, expected later than the row above"},
      {"recover odd.csv", "odd.csv:4: x: found x, expected a number"},
      {"recover odd.csv", "odd.csv:5: found 2 fields, expected 3, as in the header"},
      {"recover ticks.csv", "a column time, or how long a tick is: --tick-rate"},
      {"recover names.csv", "no column time or tick"},
      {"recover still.csv --tick-rate 0", "--tick-rate: found 0"},
      {"recover still.csv --tick-rate 1e9", "expected from 1 to 10000 Hz"},
      {"recover still.csv --loop rk4", "expected exact, trapezoidal, semi_implicit or explicit"},
      {"recover still.csv --base nowhere.toml", "nowhere.toml: found No such file"},
      {"recover still.csv --pin 'z 1 = 2 s'", "\"x 130 = 0 s\", \"y 640 = 0 u\""},
      {"recover still.csv --pin 'x 1 = 2 s'", "--pin: found 1 on x, expected two on each axis"},
      {"recover still.csv --pin 'x 1 = 0 u' --pin 'x 2 = 1 u' --pin 'y 1 = 0 u' --pin 'y 2 = 1 u'",
       "--at-speed with the horizontal speed"},
      {"recover still.csv --pin 'x 1 = 0 s' --pin 'x 1 = 1 s' --pin 'y 1 = 0 u' --pin 'y 2 = 1 u'",
       "another place, and another number"},
      {"recover still.csv --out still.csv", "still.csv"},
      {"recover still.csv --curve still.csv", "--curve: found still.csv, which this call reads"},
      {"recover still.csv --base pip.tuning.toml --out pip.tuning.toml",
       "--out: found pip.tuning.toml, which this call reads"},
  };
  for (const auto& c : gallery) {
    const Outcome outcome = run(c.arguments);
    EXPECT_EQ(outcome.code, 2) << c.arguments;
    EXPECT_THAT(outcome.err, testing::HasSubstr(c.message)) << c.arguments;
    EXPECT_EQ(outcome.out, "") << c.arguments;
  }
}

TEST_F(Tool, ExportedNumbersComeBack) {
  const std::string pixels = " --units 'one_unit=16 px, vertical=down, time=tick'";
  for (const char* form : {"toml", "json", "csv", "cpp", "c"}) {
    ASSERT_EQ(
        run(fmt::format("export pip.tuning.toml --as {} --out pip.{} {}", form, form, pixels)).code,
        0);
    const Outcome back = run(fmt::format("import pip.{0} --out {0}.tuning.toml", form));
    ASSERT_EQ(back.code, 0) << back.err;
    EXPECT_THAT(run(fmt::format("overlay pip.tuning.toml --with {}.tuning.toml --level "
                                "hollow-trunk.level.toml --inputs moonlit-climb.inputs",
                                form))
                    .out,
                testing::ContainsRegex("B  Pip \\([a-z]+\\.tuning\\.toml\\) +the same as A\n"));
  }
  const std::string header = text_of("pip.c");
  EXPECT_THAT(header, testing::HasSubstr("#define PIP_JUMP_COYOTE 7 /* jump.coyote [ticks] */\n"));
  EXPECT_THAT(header, testing::HasSubstr(" /* loop.launch_velocity_y [px/tick] */\n"));
  EXPECT_THAT(run("export pip.tuning.toml --as cpp --single --mass 2").out,
              testing::HasSubstr("inline constexpr float fall_factor = 1.7f;  // fall.factor [×], "
                                 "rounded by 4.77e-08\n"));
  EXPECT_THAT(run("export pip.tuning.toml").err, testing::HasSubstr("found no --as"));
  EXPECT_EQ(run("export pip.tuning.toml --as xml").code, 2);
  EXPECT_EQ(run("export pip.tuning.toml --as c --mass -1").code, 2);
  EXPECT_EQ(run("import pip.c --out pip.tuning.toml").code, 2);
  EXPECT_EQ(run("import pip.tuning.toml").code, 2);
}

TEST_F(Tool, ReportIsOnePage) {
  const Outcome outcome =
      run("report pip.tuning.toml --against dorro.tuning.toml --targets pip.targets.toml --out "
          "pip.html");
  ASSERT_EQ(outcome.code, 0) << outcome.err;
  const std::string page = text_of("pip.html");
  EXPECT_LT(page.size(), 500000U);
  // Well formed, with all that it says as text, and nothing that would have to be fetched.
  pugi::xml_document document;
  std::string closed = page;
  for (std::size_t at = 0; (at = closed.find("<meta", at)) != std::string::npos; at += 5) {
    closed.insert(closed.find('>', at), "/");
  }
  const auto parsed = document.load_string(closed.c_str());
  ASSERT_TRUE(parsed) << parsed.description() << " at " << parsed.offset;
  std::vector<std::string> headings;
  for (const auto& found : document.select_nodes("//h2")) {
    headings.emplace_back(found.node().text().get());
  }
  EXPECT_EQ(headings, (std::vector<std::string>{"Targets: all met", "Pip against Dorro", "Jumps",
                                                "Windows", "What it does", "Numbers"}));
  EXPECT_EQ(document.select_nodes("//svg").size(), 3U);
  EXPECT_GT(document.select_nodes("//svg//text").size(), 60U);
  EXPECT_TRUE(document.select_nodes("//*[@src] | //link | //script | //@id").empty());
  EXPECT_THAT(page,
              testing::HasSubstr("<td>stand_jump.height</td><td>u</td>"
                                 "<td class=\"number\">3.25</td><td class=\"number\">4.2</td>"));
  EXPECT_THAT(page,
              testing::HasSubstr("<td>jump.coyote</td><td class=\"number\">7</td><td>ticks</td>"));
  // Names from files stay text; a missed target is reported by the exit code.
  std::string evil = text_of("pip.tuning.toml");
  evil.replace(evil.find("name = \"Pip\""), 12, "name = \"<script>x</script>&\"");
  put("evil.tuning.toml", evil);
  ASSERT_EQ(run("report evil.tuning.toml --targets pip.targets.toml --set fall.factor=3 --out "
                "evil.html")
                .code,
            1);
  EXPECT_THAT(text_of("evil.html"), testing::Not(testing::HasSubstr("<script")));
  EXPECT_THAT(text_of("evil.html"), testing::HasSubstr("class=\"missed\">MISSED"));
  EXPECT_EQ(run("report pip.tuning.toml").code, 2);
  EXPECT_EQ(run("report pip.tuning.toml --out pip.tuning.toml").code, 2);
}

}  // namespace
}  // namespace bushbaby
