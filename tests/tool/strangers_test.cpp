// Files, names and places from strangers: nothing is executed, nothing is lost, nothing hangs, and
// each refusal says what is wrong.
#include <filesystem>
#include <sstream>

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/stat.h>

#include "bushbaby/data/files.h"

#include "command.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

using test::Outcome;

class Strangers : public test::CommandTest {
 protected:
  // Nothing of ours is left lying about.
  void expect_no_leftovers() const {
    for (const auto& entry : fs::recursive_directory_iterator(folder_)) {
      EXPECT_EQ(entry.path().string().find("/.bushbaby-"), std::string::npos) << entry.path();
    }
  }

  void expect_refused(const std::string& arguments, const std::string& message) const {
    const Outcome outcome = run(arguments);
    EXPECT_EQ(outcome.code, 2) << arguments << "\n" << outcome.err;
    EXPECT_NE(outcome.err.find(message), std::string::npos) << arguments << "\n" << outcome.err;
    EXPECT_EQ(outcome.out, "") << arguments;
    expect_no_leftovers();
  }
};

const std::string kTuning = "format = \"bushbaby-tuning/1\"\n";
const std::string kJump = "[jump]\nheight = 3\napex_time = 0.4\n";
const std::string kTargets = "format = \"bushbaby-targets/1\"\n";
const std::string kRun = "run pip.tuning.toml --level first-limbs.level.toml --inputs ";

// ---- what files hold ----------------------------------------------------------------------------

TEST_F(Strangers, HostileContentIsRefusedOrHarmless) {
  std::string dots = "a";
  for (int i = 0; i < 100000; ++i) dots += ".a";
  put("dots.toml", kTuning + dots + " = 1\n");
  put("heading.toml", kTuning + "[" + dots + "]\n");
  put("quoted.toml", kTuning + "\"a\".'a'.\"a\".a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a = 1\n");
  std::string nested(100000, '[');
  put("nested.toml", kTuning + "a = " + nested + "\n");
  put("empty-fact.toml", kTargets + "[[target]]\nfact = \"\"\nat_most = 1\n");
  put("empty-drill.toml", kTargets + "[[target]]\ndrill = \"\"\nfollow = \"x\"\nwithin = 1\n");
  put("empty-follow.toml", kTargets + "[[target]]\ndrill = \"hop\"\nfollow = \"\"\nwithin = 1\n");
  put("both.toml", kTargets +
                       "[[target]]\nfact = \"hop.height\"\ndrill = \"hop\"\nfollow = "
                       "\"arcs/pip-leap.csv\"\nwithin = 1\n");
  for (int i = 0; i < 5000; ++i) {
    put(fmt::format("chain-{}.toml", i),
        kTuning + fmt::format("based_on = \"chain-{}.toml\"\n", i + 1));
  }
  put("self.toml", kTuning + "based_on = \"self.toml\"\n");
  put("long.inputs", "# bushbaby inputs 1\nright for 1e8 ticks\n");
  put("endless.inputs", "# bushbaby inputs 1\nright for 1e300 s\n");
  const struct {
    const char* arguments;
    const char* message;
  } gallery[] = {
      {"drill dots.toml", "dots.toml:2: found a key of more than 16 parts"},
      {"drill heading.toml", "heading.toml:2: found a key of more than 16 parts"},
      {"drill quoted.toml", "quoted.toml:2: found a key of more than 16 parts"},
      {"drill nested.toml", "nested.toml:2:"},
      {"judge pip.tuning.toml empty-fact.toml",
       "empty-fact.toml:3:8: fact: found an empty text, expected the name of a fact"},
      {"judge pip.tuning.toml empty-drill.toml",
       "empty-drill.toml:3:9: drill: found an empty text, expected the name of a drill"},
      {"judge pip.tuning.toml empty-follow.toml",
       "empty-follow.toml:4:10: follow: found an empty text, expected the name of a curve's file"},
      {"judge pip.tuning.toml both.toml",
       "both.toml:3:8: fact: found a fact beside a drill that follows a curve, expected one of "
       "them alone"},
      {"drill chain-0.toml", "found a chain of more than 32 tunings, expected a shorter one"},
      {"drill self.toml", "expected a tuning that is not based on this one"},
      {"run pip.tuning.toml --level first-limbs.level.toml --inputs long.inputs",
       "long.inputs: found inputs for 100000000 ticks at 60 Hz, expected at most 1000000 ticks"},
      {"why pip.tuning.toml --level first-limbs.level.toml --inputs endless.inputs",
       "expected at most 1000000 ticks"},
      {"drill pip.tuning.toml --set fall.factor=1e308",
       "fall.factor: found 1e308, expected a factor, more than 0 and at most 1000000"},
      {"derive --height 1e5 --apex-time 1e7 --integrator trapezoidal",
       "found a jump that rises for 6e+08 ticks, expected at most 100000 in a loop that steps"},
      {"derive --height 3 --gravity 1e-200 --integrator explicit",
       "expected at most 100000 in a loop that steps"},
      {"derive --gravity 1e-6 --height 3 --integrator explicit --set jump.hang.below_speed=1 --set "
       "jump.hang.gravity=0.5",
       "expected at most 100000 in a loop that steps"},
      {"derive --height 1e6 --launch-speed 1e6 --tick-rate 10000 --integrator exact "
       "--fall-factor 1e-6",
       "found a jump that does not land within 60 s"},
  };
  for (const auto& c : gallery) expect_refused(c.arguments, c.message);
}

TEST_F(Strangers, TimesShorterThanATickAreRoundedUpAndSaidSo) {
  put("tiny.toml", kTuning + kJump +
                       "charge = { time = 1e-12, height = 4 }\n[dash]\ncharges = 1\ndistance = 3\n"
                       "time = \"1e-11 ticks\"\n");
  const Outcome outcome = run("drill tiny.toml --only stop");
  EXPECT_EQ(outcome.code, 0) << outcome.err;
  EXPECT_NE(outcome.out.find("jump.charge.time is 0 ticks at 60 Hz: using 1 tick"),
            std::string::npos)
      << outcome.out;
  EXPECT_NE(outcome.out.find("dash.time is 0 ticks at 60 Hz: using 1 tick"), std::string::npos);
}

// Whoever names a file that is not ours learns that it is not, and nothing of what it holds.
TEST_F(Strangers, FilesOfOthersAreNotQuoted) {
  const std::string secret = "hunter2";
  put("secret", secret + ":x:0:0:" + secret + "\n" + secret + "=" + secret + "\n");
  put("twice", secret + " = 1\n" + secret + " = 2\n");
  put("follows.toml", kTargets + "[[target]]\ndrill = \"hop\"\nfollow = \"secret\"\nwithin = 1\n");
  put("based.toml", kTuning + "based_on = \"secret\"\n");
  put("based-twice.toml", kTuning + "based_on = \"twice\"\n");
  put("format.toml", "format = \"" + secret + "\"\n");
  for (const char* call :
       {"judge pip.tuning.toml follows.toml", "drill based.toml", "drill based-twice.toml",
        "drill secret", "drill format.toml", "judge pip.tuning.toml secret",
        "run pip.tuning.toml --level secret --inputs first-leaps.inputs",
        "run pip.tuning.toml --level first-limbs.level.toml --inputs secret",
        "why --traces secret secret", "why --traces secret first-leaps.inputs"}) {
    const Outcome outcome = run(call);
    EXPECT_EQ(outcome.code, 2) << call;
    EXPECT_EQ(outcome.err.find(secret), std::string::npos) << call << "\n" << outcome.err;
    EXPECT_NE(outcome.err.find("expected"), std::string::npos) << call << "\n" << outcome.err;
  }
}

TEST_F(Strangers, EscapeCodesDoNotReachTheTerminal) {
  put("escapes.toml", kTuning + "name = \"\\u001b]0;owned\\u0007\\u009b31m\\u202e\"\n" + kJump);
  put("bytes.toml", kTuning + "[jump]\nheight = 3\napex_time = 0.4\n\"\\u001b[31m\" = 1\n");
  for (const char* call : {"drill escapes.toml --only stop", "drill bytes.toml",
                           "drill escapes.toml --only stop --json", "drill $'\\033[31m.toml'",
                           "drill escapes.toml --set $'\\033[31m=1'", "drill $'\\xe2@j.toml'"}) {
    const Outcome outcome = run(call, "bash -c 'true' &&");
    const std::string all = outcome.out + outcome.err;
    for (const char c : all) {
      EXPECT_TRUE(static_cast<unsigned char>(c) >= 0x20 || c == '\n') << call << "\n" << all;
    }
    EXPECT_EQ(all.find("\xC2\x9B"), std::string::npos) << call;
    EXPECT_EQ(all.find("\xE2\x80\xAE"), std::string::npos) << call;
  }
}

// A text's direction is shown, not followed, wherever somebody reads it.
TEST_F(Strangers, DirectionsOfTextsAreShown) {
  put("turned.toml", kTuning + "name = \"a\\u202eb\\u2066c\"\n" + kJump);
  const Outcome plain = run("drill turned.toml --only stop");
  EXPECT_THAT(plain.out, testing::HasSubstr("a\\u202eb\\u2066c"));
  const auto json = nlohmann::json::parse(run("drill turned.toml --only stop --json").out);
  EXPECT_THAT(json.dump(), testing::HasSubstr("a\xE2\x80\xAE"
                                              "b\xE2\x81\xA6"
                                              "c"));
  ASSERT_EQ(run("report turned.toml --out turned.html").code, 0);
  EXPECT_THAT(text_of("turned.html"), testing::HasSubstr("a\\u202eb\\u2066c"));
  EXPECT_THAT(text_of("turned.html"), testing::Not(testing::HasSubstr("\xE2\x80\xAE")));
}

// The largest file that the system allows is a full disk.
TEST_F(Strangers, AFileThatMayNotGrowIsReportedOf) {
  const Outcome outcome = run(kRun + "first-leaps.inputs --trace t.csv", "ulimit -f 1;");
  EXPECT_EQ(outcome.code, 2) << outcome.err;
  EXPECT_THAT(outcome.err, testing::HasSubstr("t.csv"));
  EXPECT_FALSE(fs::exists(path("t.csv")));
}

TEST_F(Strangers, NamesThatAreNotUtf8BecomeJsonAllTheSame) {
  fs::copy(path("pip.tuning.toml"), path("\xff\xfe.toml"));
  put("run.sh", "");
  const Outcome outcome = run("why --traces '\xff\xfe.toml' '\xff\xfe.toml' --json");
  EXPECT_EQ(outcome.code, 2);
  ASSERT_EQ(run(kRun + "first-leaps.inputs --trace '\xff.csv'").code, 0);
  const Outcome named = run("why --traces '\xff.csv' '\xff.csv' --json");
  EXPECT_EQ(named.code, 0) << named.err;
  EXPECT_TRUE(nlohmann::json::accept(named.out)) << named.out;
}

TEST_F(Strangers, ByteOrderMarksAreSkipped) {
  const std::string mark = "\xEF\xBB\xBF";
  for (const char* name : {"pip.tuning.toml", "first-limbs.level.toml", "first-leaps.inputs",
                           "pip.targets.toml", "arcs/pip-leap.csv"}) {
    put(name, mark + text_of(name));
  }
  EXPECT_EQ(run(kRun + "first-leaps.inputs --trace a.csv").code, 0);
  EXPECT_EQ(run("judge pip.tuning.toml pip.targets.toml").code, 0);
  put("a.csv", mark + text_of("a.csv"));
  EXPECT_EQ(run("why --traces a.csv a.csv").code, 0);
  const Outcome wrong = run("drill pip.tuning.toml --set run.top_speed=-1");
  EXPECT_EQ(wrong.code, 2);
}

TEST_F(Strangers, TracesSayWhereTheyMakeNoSense) {
  const struct {
    const char* rows;
    const char* message;
  } gallery[] = {
      {"0,0,0\n0,1,1\n",
       "t.csv:3: tick: found 0, expected more than 0, which stands in the row above"},
      {"5,0,0\n4,1,1\n", "t.csv:3: tick: found 4, expected more than 5"},
      {"0,0,0\n1.5,1,1\n", "t.csv:3: tick: found 1.5, expected a whole number"},
      {"0,0,0\n1e300,1,1\n", "t.csv:3: tick: found 1e+300, expected a whole number"},
      {"-9223372036854775808,0,0\n1,1,1\n", "t.csv:2: tick: found -9.223372036854776e+18"},
  };
  put("good.csv", "tick,x,y\n0,0,0\n1,1,1\n");
  put("late.csv", "tick,x,y\n1000,0,0\n1001,1,1\n");
  for (const auto& c : gallery) {
    put("t.csv", std::string("tick,x,y\n") + c.rows);
    expect_refused("why --traces t.csv good.csv", c.message);
  }
  // A row that was moved is one mistake, however many follow it.
  std::string moved = "tick,x,y\n300,0,0\n";
  for (int tick = 0; tick < 300; ++tick) moved += fmt::format("{},0,0\n", tick);
  put("moved.csv", moved);
  const Outcome reported = run("why --traces moved.csv good.csv");
  EXPECT_EQ(reported.code, 2);
  EXPECT_EQ(std::count(reported.err.begin(), reported.err.end(), '\n'), 1) << reported.err;
  expect_refused("why --traces good.csv late.csv",
                 "--traces: found ticks 0 to 1 and 1000 to 1001, expected two traces that have "
                 "ticks in common");
  expect_refused(
      "why pip.tuning.toml --level first-limbs.level.toml --inputs first-leaps.inputs "
      "--tick 3 --against-set fall.factor=2",
      "--tick: found a second run to compare with");
}

// ---- where files lie ----------------------------------------------------------------------------

TEST_F(Strangers, NothingWaitsForPipes) {
  ASSERT_EQ(::mkfifo(path("pipe").c_str(), 0600), 0);
  expect_refused("drill pipe", "pipe: found a pipe or a device, expected a readable file");
  expect_refused("drill /dev/zero", "found a pipe or a device");
  expect_refused("derive --height 3 --apex-time 0.4 --write pipe",
                 "pipe: found a pipe or a device");
  expect_refused(kRun + "pipe", "pipe: found a pipe or a device");
  const Outcome outcome = run(kRun + "first-leaps.inputs --trace pipe");
  EXPECT_EQ(outcome.code, 2);
  EXPECT_NE(outcome.err.find("pipe: found a pipe that nobody reads"), std::string::npos);
  // A pipe that somebody reads is as good as a file.
  const Outcome read = run(kRun + "first-leaps.inputs --trace /dev/stdout | head -1", "", "");
  EXPECT_NE(read.out.find("Pip on"), std::string::npos);
}

TEST_F(Strangers, PlacesThatCannotBeWrittenToAreSaid) {
  fs::create_symlink("b", path("a"));
  fs::create_symlink("a", path("b"));
  const Outcome looped = run("derive --height 3 --apex-time 0.4 --write a");
  EXPECT_EQ(looped.code, 2);
  EXPECT_NE(looped.err.find("a: found a loop of links"), std::string::npos) << looped.err;
  const std::string long_name(256, 'n');
  const Outcome named = run("derive --height 3 --apex-time 0.4 --write " + long_name);
  EXPECT_EQ(named.code, 2);
  EXPECT_NE(named.err.find("File name too long"), std::string::npos) << named.err;
  const Outcome traced = run(kRun + "first-leaps.inputs --trace " + long_name);
  EXPECT_EQ(traced.code, 2);
  const Outcome under = run(kRun + "first-leaps.inputs --trace pip.tuning.toml/x.csv");
  EXPECT_EQ(under.code, 2);
  EXPECT_NE(under.err.find("Not a directory"), std::string::npos) << under.err;
  expect_no_leftovers();
}

TEST_F(Strangers, LinksAndPermissionsStay) {
  fs::create_directories(folder_ / "elsewhere");
  fs::rename(path("pip.tuning.toml"), path("elsewhere/pip.tuning.toml"));
  fs::create_symlink("elsewhere/pip.tuning.toml", path("pip.tuning.toml"));
  fs::permissions(path("elsewhere/pip.tuning.toml"), fs::perms(0640));
  ASSERT_EQ(
      run("drill pip.tuning.toml --only stop --set run.top_speed=9 --save pip.tuning.toml").code,
      0);
  EXPECT_TRUE(fs::is_symlink(path("pip.tuning.toml")));
  EXPECT_NE(text_of("elsewhere/pip.tuning.toml").find("top_speed = 9"), std::string::npos);
  EXPECT_EQ(fs::status(path("elsewhere/pip.tuning.toml")).permissions(), fs::perms(0640));
  // A link to what is not there yet makes it.
  fs::create_symlink("elsewhere/new.csv", path("new.csv"));
  ASSERT_EQ(run(kRun + "first-leaps.inputs --trace new.csv").code, 0);
  EXPECT_TRUE(fs::is_symlink(path("new.csv")));
  EXPECT_TRUE(fs::exists(path("elsewhere/new.csv")));
  // What its owner made read-only stays as it is.
  put("keep.csv", "mine");
  fs::permissions(path("keep.csv"), fs::perms(0444));
  const Outcome kept = run(kRun + "first-leaps.inputs --trace keep.csv");
  EXPECT_EQ(kept.code, 2);
  EXPECT_NE(kept.err.find("keep.csv: found a read-only file"), std::string::npos);
  EXPECT_EQ(text_of("keep.csv"), "mine");
}

TEST_F(Strangers, OutputsNeverOverwriteWhatIsReadOrOneAnother) {
  const std::string level = text_of("first-limbs.level.toml");
  const std::string leaps = text_of("first-leaps.inputs");
  fs::create_symlink("first-limbs.level.toml", path("same.level.toml"));
  fs::create_hard_link(path("first-leaps.inputs"), path("same.inputs"));
  for (const char* output : {"first-leaps.inputs", "first-limbs.level.toml", "./pip.tuning.toml",
                             "same.level.toml", "same.inputs"}) {
    const Outcome outcome = run(kRun + "first-leaps.inputs --trace " + output);
    EXPECT_EQ(outcome.code, 2) << output;
    EXPECT_NE(outcome.err.find(std::string("--trace: found ") + output +
                               ", which this call reads or writes as well"),
              std::string::npos)
        << outcome.err;
  }
  const Outcome twice = run(kRun + "first-leaps.inputs --trace x.png --plot ./x.png");
  EXPECT_EQ(twice.code, 2);
  EXPECT_NE(twice.err.find("--plot: found ./x.png, which this call reads or writes"),
            std::string::npos);
  expect_refused("derive --height 3 --apex-time 0.4 --write x.png --plot ./x.png",
                 "--write: found x.png, which this call reads or writes as well");
  EXPECT_EQ(text_of("first-limbs.level.toml"), level);
  EXPECT_EQ(text_of("first-leaps.inputs"), leaps);
}

TEST_F(Strangers, TheDemoDoesNotNestInItsOwnData) {
  for (const char* out : {".", "inner", "inner/deeper", "./x/../y"}) {
    const Outcome outcome = run(std::string("demo --data . --out ") + out);
    EXPECT_EQ(outcome.code, 2) << out;
    EXPECT_NE(outcome.err.find("which lies in the demo data"), std::string::npos) << outcome.err;
  }
  EXPECT_FALSE(exists(path("inner")));
}

// ---- streams and the plotting program -----------------------------------------------------------

TEST_F(Strangers, OutputThatGoesNowhereIsAFailure) {
  const Outcome full = run("drill pip.tuning.toml --only stop", "", "2>stderr.txt >/dev/full");
  EXPECT_EQ(full.code, 2);
  EXPECT_NE(full.err.find("standard output: found no room"), std::string::npos) << full.err;
  EXPECT_EQ(run("drill pip.tuning.toml --only stop", "", "2>stderr.txt >&-").code, 2);
  // Standard error closed or full changes nothing about the work.
  EXPECT_EQ(run("drill pip.tuning.toml --only stop --plot a.png", "", "2>&-").code, 0);
  EXPECT_EQ(run("drill pip.tuning.toml --only stop --plot b.png", "", "2>/dev/full").code, 0);
  EXPECT_TRUE(exists(path("b.png")));
  EXPECT_EQ(run("drill nowhere.toml", "", "2>&-").code, 2);
}

TEST_F(Strangers, ThePlottingProgramMayBeMissingOrBroken) {
  put("old.png", "what was there");
  const std::string plot = "drill pip.tuning.toml --only stop --plot old.png";
  const Outcome missing = run(plot, "PATH=/nowhere:$(dirname $(command -v timeout))/none");
  // `timeout` itself is found by the shell's own path; only the command's is empty.
  EXPECT_NE(missing.code, 0);
  fs::create_directories(folder_ / "bin");
  const auto fake = [&](const std::string& body) {
    put("bin/gnuplot", "#!/bin/sh\n" + body + "\n");
    fs::permissions(path("bin/gnuplot"), fs::perms(0755));
    return run(plot, fmt::format("PATH='{}':$PATH", path("bin")));
  };
  const struct {
    const char* body;
    const char* message;
  } gallery[] = {
      {"exit 0", "old.png: cannot draw: gnuplot drew nothing"},
      {"echo not a picture", "cannot draw: gnuplot drew nothing"},
      {"exit 3", "old.png: cannot draw: gnuplot failed"},
      {"kill -9 $$", "cannot draw: gnuplot failed"},
  };
  for (const auto& c : gallery) {
    const Outcome outcome = fake(c.body);
    EXPECT_EQ(outcome.code, 2) << c.body;
    EXPECT_NE(outcome.err.find(c.message), std::string::npos) << c.body << "\n" << outcome.err;
    EXPECT_EQ(text_of("old.png"), "what was there") << c.body;
  }
  expect_no_leftovers();
}

TEST_F(Strangers, NothingInADrawingIsCarriedOut) {
  put("theirs.svg",
      "<!DOCTYPE svg [<!ENTITY x SYSTEM \"file:///etc/passwd\">]>"
      "<svg data-format='bushbaby-level/1' data-one-unit='32 px'><title>&#27;[31m &x;</title>"
      "<rect x='-900' width='3000' height='60'><title>set output \"owned\"; ! touch owned ' "
      "`touch owned` $(touch owned)</title></rect><circle class='start' r='1'/></svg>");
  const std::string on = "run pip.tuning.toml --level theirs.svg ";
  const Outcome drawn = run(on + "--inputs first-leaps.inputs --plot theirs.png");
  EXPECT_EQ(drawn.code, 0) << drawn.err;
  for (const Outcome& outcome : {drawn, run(on + "--check")}) {
    EXPECT_EQ(outcome.out.find('\x1b'), std::string::npos);
    EXPECT_EQ(outcome.out.find("root:"), std::string::npos);
  }
  EXPECT_FALSE(exists(path("owned")));
  put("odd.svg",
      "<svg data-format='bushbaby-level/1' data-one-unit='32 px'>"
      "<rect id='&#27;]0;owned&#7;' width='-1' height='1'/></svg>");
  const Outcome odd = run("run pip.tuning.toml --level odd.svg --check");
  EXPECT_EQ(odd.code, 2);
  EXPECT_EQ(odd.err.find('\x1b'), std::string::npos);
}

TEST_F(Strangers, NobodysSettingsFilesAreReadByThePlottingProgram) {
  fs::create_directories(folder_ / "home");
  put("home/.gnuplot", "system 'touch ran'\n");
  put(".gnuplot", "system 'touch ran'\n");
  ASSERT_EQ(run("drill pip.tuning.toml --only stop --plot a.png",
                fmt::format("HOME='{}' GNUPLOT_LIB=.", path("home")))
                .code,
            0);
  EXPECT_FALSE(exists(path("ran")));
  EXPECT_FALSE(exists(path("home/ran")));
}

TEST_F(Strangers, NothingIsLeftBehindByASignal) {
  for (const char* delay : {"0.01", "0.03", "0.06", "0.1", "0.15"}) {
    (void)run(kRun + "first-leaps.inputs --plot p.png --trace t.csv",
              fmt::format("timeout -s INT {}", delay));
    expect_no_leftovers();
  }
}

// A link that somebody put at a name that we might use is not written through.
TEST_F(Strangers, PlantedLinksAreNotWrittenThrough) {
  put("victim", "mine");
  for (int pid = ::getpid(); pid < ::getpid() + 500; ++pid) {
    fs::create_symlink("victim", path(fmt::format("out.csv.{}.part", pid)));
  }
  ASSERT_EQ(run(kRun + "first-leaps.inputs --trace out.csv").code, 0);
  EXPECT_EQ(text_of("victim"), "mine");
}

// ---- time ---------------------------------------------------------------------------------------

TEST_F(Strangers, LongTablesTakeTimeInProportion) {
  std::string rows = "tick,x,y,events\r\n";
  for (int i = 0; i < 200000; ++i) rows += fmt::format("{0},{0},0,apex@0.5\r\n", i);
  put("long.csv", rows);
  put("longer.csv", rows + "200000,1,1,apex@0.5\r\n");
  // Quadratic work took minutes here, which counts as hanging.
  EXPECT_EQ(run("why --traces long.csv longer.csv").code, 0);
}

TEST_F(Strangers, DeriveNeedsNoRunWhereNoDistanceIsAsked) {
  put("still.toml", kTuning + "[run]\ntop_speed = 0\n" + kJump);
  put("runner.toml", kTuning + "[run]\nauto_run = \"right\"\n" + kJump);
  for (const char* name : {"still.toml", "runner.toml"}) {
    const Outcome outcome =
        run(std::string("derive --height 3 --apex-time 0.4 --json --from ") + name);
    ASSERT_EQ(outcome.code, 0) << name << "\n" << outcome.err;
    EXPECT_NEAR(nlohmann::json::parse(outcome.out)["achieved"]["height"].get<double>(), 3, 1e-9);
  }
}

// What grows into a file: nothing is written through what others planted, over what may not be
// written, or after an hour's work into a place that never was one.
TEST_F(Strangers, SweepsGoOnlyWhereTheyMay) {
  const std::string sweep =
      "sweep pip.tuning.toml --over 'fall.factor=1..2 in 3' --fact stand_jump.height --out ";
  fs::create_directory(path("folder"));
  put("read-only.csv", "mine");
  fs::permissions(path("read-only.csv"), fs::perms::owner_read);
  put("precious", "keep me\n");
  fs::create_symlink("precious", path("planted.csv.unfinished"));
  for (const char* out : {"folder", "read-only.csv", "planted.csv", "no/where.csv"}) {
    const Outcome outcome = run(sweep + out);
    EXPECT_EQ(outcome.code, 2) << out;
    EXPECT_NE(outcome.err.find("a place that can be written to"), std::string::npos) << outcome.err;
  }
  EXPECT_EQ(text_of("precious"), "keep me\n");
  EXPECT_EQ(text_of("read-only.csv"), "mine");
  // A link stays a link, and permissions stay.
  put("real.csv", "old");
  fs::permissions(path("real.csv"), fs::perms::owner_read | fs::perms::owner_write);
  fs::create_symlink("real.csv", path("link.csv"));
  ASSERT_EQ(run(sweep + "link.csv").code, 0);
  EXPECT_TRUE(fs::is_symlink(path("link.csv")));
  EXPECT_EQ(text_of("real.csv").substr(0, 9), "run of 3 ");
  EXPECT_EQ(fs::status(path("real.csv")).permissions(),
            fs::perms::owner_read | fs::perms::owner_write);
}

TEST_F(Strangers, PartsOfSweepsMayBeAnything) {
  ASSERT_EQ(::mkfifo(path("pipe").c_str(), 0600), 0);
  put("long.csv", "run of 1 (0)" + std::string(200000, 'x'));
  put("binary.csv", std::string("run of \x1b[31m\0\n", 14));
  fs::create_directory(path("folder"));
  for (const char* part : {"pipe", "/dev/zero", "long.csv", "binary.csv", "folder", "nowhere"}) {
    const Outcome outcome = run(fmt::format("merge whole.csv {}", part));
    EXPECT_EQ(outcome.code, 2) << part << outcome.err;
    EXPECT_EQ(outcome.err.find('\x1b'), std::string::npos);
    EXPECT_FALSE(fs::exists(path("whole.csv")) || fs::exists(path("whole.csv.unfinished"))) << part;
  }
}

// Where no thread is to be had, one does it, with the same numbers.
TEST_F(Strangers, OneThreadIsEnough) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "sanitizers are loaded before all else";
  const std::string calls[] = {
      "sweep pip.tuning.toml --over 'fall.factor=1..3 in 5' --fact stand_jump.air_time",
      "judge pip.tuning.toml pip.targets.toml --set fall.factor=2.5"};
  for (const std::string& call : calls) {
    const Outcome many = run(call);
    const Outcome one = run(call, "LD_PRELOAD='" NO_THREADS "'");
    EXPECT_NE(many.out, "") << call << many.err;
    EXPECT_EQ(one.code, many.code) << call << one.err;
    EXPECT_EQ(one.out, many.out) << call;
  }
}

// A name of any length is shown as a line that can be read, wherever it stands.
TEST_F(Strangers, LongNamesAreShownShort) {
  std::string name;
  for (int i = 0; i < 1500; ++i) name += "w\u00f6rm";
  put("t.tuning.toml", "format = \"bushbaby-tuning/1\"\nname = \"" + name +
                           "\"\n[jump]\nheight = 3.25\napex_time = 0.38\n");
  put("l.level.toml", "format = \"bushbaby-level/1\"\nname = \"" + name +
                          "\"\n[[solid]]\nname = \"" + name +
                          "\"\nbox = [-20, -1, 20, 0]\n[[solid]]\nname = \"" + name +
                          "\"\nbox = [-20, -1, 20, 0]\n[[zone]]\nname = \"" + name +
                          "\"\nbox = [1, 0, 9, 4]\nset = { run.top_speed = 3.0 }\n");
  put("i.inputs",
      "# bushbaby inputs 1\nnothing for 10 ticks\nright for 1 s\nright jump for 20 ticks\n");
  put("j.inputs", "# bushbaby inputs 1\n" + name + " for 10 ticks\n");
  put("g.targets.toml",
      "format = \"bushbaby-targets/1\"\n[[target]]\nfact = \"" + name + "\"\nat_least = 3\n");
  const std::string run_it = "run t.tuning.toml --level l.level.toml --inputs ";
  const std::string calls[] = {run_it + "i.inputs",
                               run_it + "j.inputs",
                               "run t.tuning.toml --level l.level.toml --check",
                               "why t.tuning.toml --level l.level.toml --inputs i.inputs",
                               "why t.tuning.toml --level l.level.toml --inputs i.inputs --tick 60",
                               "judge t.tuning.toml g.targets.toml",
                               "drill t.tuning.toml",
                               "drill t.tuning.toml --set " + name + "=3",
                               "overlay t.tuning.toml --with t.tuning.toml",
                               "windows t.tuning.toml",
                               "rates t.tuning.toml",
                               name,
                               "drill " + name,
                               "drill --" + name,
                               "answer t.tuning.toml " + name};
  for (const std::string& call : calls) {
    const Outcome outcome = run(call);
    EXPECT_GE(outcome.code, 0);
    std::stringstream lines(outcome.out + outcome.err);
    for (std::string line; std::getline(lines, line);) {
      ASSERT_LT(line.size(), 700U) << call.substr(0, 70) << "\n" << line.substr(0, 900);
    }
  }
}

}  // namespace
}  // namespace bushbaby
