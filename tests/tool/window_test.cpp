// The window itself, on a virtual display, with real events of keyboard and mouse; what came of
// them is read from the files that it keeps.
#include <gmock/gmock.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/tuning_file.h"

#include "command.h"

namespace bushbaby {
namespace {

constexpr const char* kOnLimbs =
    "play pip.tuning.toml --level first-limbs.level.toml --targets pip.targets.toml";

// Under sanitizers no frame comes in time for a person's keys; what the window itself does is
// looked at there by scripts.
class Window : public test::CommandTest {
 protected:
  // Opens the window, does the steps with the keyboard and mouse of the display, and closes it.
  [[nodiscard]] int drive(const std::string& arguments, const std::string& steps) const {
    return open(
        fmt::format("'{}' {} 2> said.txt &\n"
                    "player=$!\n"
                    "window=$(timeout 60 xdotool search --sync --onlyvisible --name "
                    "Bushbaby | head -n 1)\n"
                    "sleep 1\n"
                    "xdotool windowfocus \"$window\"\n"
                    "sleep 0.5\n"
                    "{}\n"
                    "sleep 0.5\n"
                    "xdotool key F10; sleep 0.5\n"
                    "xdotool key 2 || true\n"  // what is not saved is dropped
                    "wait $player\n",
                    BUSHBABY_COMMAND, arguments, steps));
  }

  // Does lines of the shell on a display of their own.
  [[nodiscard]] int open(const std::string& steps) const {
    put("drive.sh", steps);
    // A settings file of this machine is not read.
    const std::string line =
        fmt::format("cd '{}' && XDG_CONFIG_HOME='{}' {} timeout 120 sh drive.sh", folder_.string(),
                    path("config"), test::kOnDisplay);
    const int status = std::system(line.c_str());  // NOLINT: the test's own words
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  }
};

TEST_F(Window, WhatIsPlayedByKeysRunsTheSame) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(drive(kOnLimbs,
                  "xdotool keydown Right; sleep 0.4\n"
                  "xdotool keydown space; sleep 0.25; xdotool keyup space; sleep 0.5\n"
                  "xdotool keyup Right; sleep 0.3\n"
                  "xdotool key space; sleep 0.6\n"
                  "xdotool keydown Left; sleep 0.3; xdotool keydown shift; sleep 0.1\n"
                  "xdotool keyup shift Left; sleep 0.4\n"
                  "xdotool key p; sleep 0.3; xdotool key F6; sleep 0.3; xdotool key F7"),
            0)
      << text_of("said.txt");
  const auto inputs = parse_inputs(text_of("pip-take-1.inputs"), "pip-take-1.inputs");
  ASSERT_TRUE(inputs) << text_of("pip-take-1.inputs");
  // Two presses of jump, the second of them shorter than a person's; a dash; both directions.
  int presses = 0;
  bool dashed = false;
  bool left = false;
  bool was = false;
  for (const Controls& held : controls_of(*inputs, 60)) {
    if (held.jump && !was) ++presses;
    was = held.jump;
    dashed |= held.dash;
    left |= held.x < 0;
  }
  EXPECT_EQ(presses, 2);
  EXPECT_TRUE(dashed);
  EXPECT_TRUE(left);
  ASSERT_EQ(run("run pip.tuning.toml --level first-limbs.level.toml --inputs pip-take-1.inputs "
                "--trace again.csv")
                .code,
            0);
  EXPECT_EQ(text_of("again.csv"), text_of("pip-take-1.csv"));
}

TEST_F(Window, APadPlaysAndItsButtonsAreGivenOut) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(
      open(fmt::format("'{}' pip.tuning.toml first-limbs.level.toml 2> said.txt", PAD_PLAYER)), 0)
      << text_of("said.txt");
  const auto inputs = parse_inputs(text_of("pip-take-1.inputs"), "pip-take-1.inputs");
  ASSERT_TRUE(inputs) << text_of("pip-take-1.inputs");
  std::vector<std::string> held;  // one after another
  for (const Controls& tick : controls_of(*inputs, 60)) {
    const std::string now = fmt::format("{}{}{}",
                                        tick.x < 0   ? "left "
                                        : tick.x > 0 ? "right "
                                                     : "",
                                        tick.jump ? "jump " : "", tick.dash ? "dash " : "");
    if (held.empty() || held.back() != now) held.push_back(now);
  }
  EXPECT_THAT(held, testing::ElementsAre("", "right ", "right jump ", "right ", "", "left ", "",
                                         "dash ", ""));
  const std::string settings = text_of("config/bushbaby/settings.toml");
  EXPECT_THAT(settings, testing::HasSubstr("\ndash = [\"B\"]\n"));
  ASSERT_EQ(run("run pip.tuning.toml --level first-limbs.level.toml --inputs pip-take-1.inputs "
                "--trace again.csv")
                .code,
            0);
  EXPECT_EQ(text_of("again.csv"), text_of("pip-take-1.csv"));
}

TEST_F(Window, AKnobIsFoundTurnedAndSaved) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  const std::string before = text_of("pip.tuning.toml");
  ASSERT_EQ(drive(kOnLimbs,
                  "xdotool key f; sleep 0.4; xdotool type --delay 60 'fall factor'; sleep 0.4\n"
                  "xdotool key Return; sleep 0.4\n"
                  "xdotool key Right; sleep 0.2; xdotool key Right; sleep 0.2; xdotool key Right\n"
                  "sleep 0.3; xdotool key F2; sleep 0.3"),
            0)
      << text_of("said.txt");
  std::string expected = before;
  expected.replace(expected.find("factor = 1.7 "), 12, "factor = 1.76");
  EXPECT_EQ(text_of("pip.tuning.toml"), expected);
}

TEST_F(Window, ASliderIsDraggedAndTypedAndTakenBack) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(drive(kOnLimbs,
                  // The first knob is the height: its track, to the right.
                  "xdotool mousemove 1066 165; sleep 0.2; xdotool mousedown 1; sleep 0.2\n"
                  "xdotool mousemove 1120 165; sleep 0.2; xdotool mousemove 1160 165; sleep 0.2\n"
                  "xdotool mouseup 1; sleep 0.3; xdotool key F5; sleep 0.3\n"
                  "xdotool key u; sleep 0.3; xdotool key F5; sleep 0.3\n"
                  // The value is typed.
                  "xdotool mousemove 1230 143; sleep 0.2; xdotool click 1; sleep 0.3\n"
                  "xdotool type --delay 60 '4.5'; sleep 0.2; xdotool key Return; sleep 0.3\n"
                  "xdotool key F5; sleep 0.3"),
            0)
      << text_of("said.txt");
  const auto dragged = load_tuning(path("pip-variant-1.tuning.toml"));
  const auto back = load_tuning(path("pip-variant-2.tuning.toml"));
  const auto typed = load_tuning(path("pip-variant-3.tuning.toml"));
  ASSERT_TRUE(dragged && back && typed);
  EXPECT_GT(*dragged->tuning.jump.height, 3.8);
  EXPECT_LT(*dragged->tuning.jump.height, 10);
  EXPECT_EQ(*back->tuning.jump.height, 3.25);
  EXPECT_EQ(*typed->tuning.jump.height, 4.5);
}

// While keys are held the numbers are others; let go, all is as before, and nothing is kept.
TEST_F(Window, HeldComparisonsAreNotKept) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  const std::string before = text_of("pip.tuning.toml");
  ASSERT_EQ(drive(kOnLimbs,
                  "xdotool keydown e; sleep 0.3; xdotool keydown space; sleep 0.3\n"
                  "xdotool keyup space; sleep 0.2; xdotool keyup e; sleep 1.5\n"
                  "xdotool keydown Tab; sleep 0.3; xdotool keyup Tab; sleep 0.2\n"
                  "xdotool key F7; sleep 0.2; xdotool key F2"),
            0)
      << text_of("said.txt");
  EXPECT_EQ(text_of("pip.tuning.toml"), before);
  // Four times 3.25 u, for as long as it was held.
  const std::string trace = text_of("pip-take-1.csv");
  EXPECT_THAT(trace, testing::HasSubstr("jumped"));
}

TEST_F(Window, AnEditorsChangesComeIn) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(drive(kOnLimbs,
                  "sed -i 's/^factor = 1.7 /factor = 1.9 /' pip.tuning.toml; sleep 1.5\n"
                  "xdotool key F5; sleep 0.4"),
            0)
      << text_of("said.txt");
  // Nothing is set otherwise than the file, as it is now, says.
  EXPECT_EQ(text_of("pip-variant-1.tuning.toml"),
            "format = \"bushbaby-tuning/1\"\nbased_on = \"pip.tuning.toml\"\n");
}

// Both sides changed: it asks, and the first answer keeps both.
TEST_F(Window, AnEditorsChangesAndOnesOwnComeTogether) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(drive(kOnLimbs,
                  "xdotool key F4; sleep 0.3; xdotool key Right; sleep 0.3; xdotool key Escape\n"
                  "sed -i 's/^factor = 1.7 /factor = 1.9 /' pip.tuning.toml; sleep 1.5\n"
                  "xdotool key 1; sleep 0.4; xdotool key F5; sleep 0.4"),
            0)
      << text_of("said.txt");
  EXPECT_EQ(text_of("pip-variant-1.tuning.toml"),
            "format = \"bushbaby-tuning/1\"\nbased_on = \"pip.tuning.toml\"\n\n[jump]\nheight = "
            "3.27\napex_time = 0.38\n");
}

TEST_F(Window, ClosingAsksForWhatIsNotSaved) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(drive(kOnLimbs,
                  "xdotool key F4; sleep 0.3; xdotool key Right; sleep 0.3; xdotool key Escape\n"
                  "sleep 0.3; xdotool key F10; sleep 0.4; xdotool key 3; sleep 0.4\n"
                  "xdotool key F6; sleep 0.4\n"  // it stayed
                  "xdotool key F10; sleep 0.4; xdotool key 1"),
            0)
      << text_of("said.txt");
  EXPECT_NE(text_of("pip-take-1.inputs"), "");
  EXPECT_EQ(load_tuning(path("pip.tuning.toml"))->tuning.jump.height, 3.27);
}

TEST_F(Window, KeysAreBoundAnewAndRemembered) {
  if (BUSHBABY_SLOW) GTEST_SKIP() << "under sanitizers";
  ASSERT_EQ(
      drive(kOnLimbs,
            "xdotool key F3; sleep 0.3; xdotool key F3; sleep 0.3; xdotool key F3; sleep 0.3\n"
            "xdotool key F4; sleep 0.3\n"
            "for i in 1 2 3 4; do xdotool key Down; sleep 0.15; done\n"
            "xdotool key Return; sleep 0.3; xdotool key j; sleep 0.3; xdotool key Escape"),
      0)
      << text_of("said.txt");
  EXPECT_THAT(text_of("config/bushbaby/settings.toml"), testing::HasSubstr("jump = [\"J\"]\n"));
}

TEST_F(Window, ScriptsTakePictures) {
  put("a.script",
      "# bushbaby script 1\nplay right for 20 ticks\nplay right jump for 10 ticks\n"
      "set fall.factor=2.4\nmeasure\npage facts\nscreenshot one.png\nstep_back 5\nscreenshot "
      "two.png\n"
      "save_inputs\n");
  const std::string call = std::string(kOnLimbs) + " --script a.script";
  const test::Outcome fine = run(call, test::kOnDisplay);
  ASSERT_EQ(fine.code, 0) << fine.err;
  for (const char* picture : {"one.png", "two.png"}) {
    const std::string bytes = text_of(picture);
    EXPECT_EQ(bytes.substr(1, 3), "PNG");
    // 1280 by 800, in its heading.
    EXPECT_EQ(bytes.substr(16, 8), std::string("\0\0\x05\0\0\0\x03\x20", 8));
    EXPECT_GT(bytes.size(), 20000U) << "something is drawn";
  }
  EXPECT_THAT(text_of("pip-take-1.inputs"), testing::ContainsRegex("right +for 20 ticks"));
  EXPECT_THAT(text_of("pip-take-1.inputs"), testing::ContainsRegex("right jump +for 5 ticks"));
  put("a.script", "# bushbaby script 1\nscreenshot nowhere/one.png\n");
  const test::Outcome wrong = run(call, test::kOnDisplay);
  EXPECT_EQ(wrong.code, 2);
  EXPECT_THAT(wrong.err, testing::HasSubstr("nowhere/one.png"));
  // Neither a link nor a folder that is one leads a script out of where it is played.
  namespace fs = std::filesystem;
  std::string made = (fs::temp_directory_path() / "bushbaby-elsewhere-XXXXXX").string();
  ASSERT_NE(::mkdtemp(made.data()), nullptr);
  const fs::path elsewhere = made;
  fs::create_directory_symlink(elsewhere, path("away"));
  fs::create_symlink(elsewhere / "b.png", path("b.png"));
  for (const char* name : {"away/b.png", "b.png"}) {
    put("a.script", std::string("# bushbaby script 1\nscreenshot ") + name + "\n");
    const test::Outcome led = run(call, test::kOnDisplay);
    EXPECT_EQ(led.code, 2);
    EXPECT_THAT(led.err, testing::HasSubstr("a link that leads elsewhere"));
  }
  EXPECT_TRUE(fs::is_empty(elsewhere));
  fs::remove_all(elsewhere);
  put("a.script", "# bushbaby script 1\n\nset jump.cut.keep=7\n");
  const test::Outcome refused = run(call, test::kOnDisplay);
  EXPECT_EQ(refused.code, 2);
  EXPECT_THAT(
      refused.err,
      testing::HasSubstr("a.script:3: set: found jump.cut.keep=7, expected a factor, 0 to 1"));
}

TEST_F(Window, SaysWhatItLacks) {
  const test::Outcome blind =
      run(kOnLimbs, "ASAN_OPTIONS=detect_leaks=0 env -u WAYLAND_DISPLAY DISPLAY=:9876");
  EXPECT_EQ(blind.code, 2);
  EXPECT_THAT(blind.err, testing::HasSubstr("the window: found no display"));
  EXPECT_THAT(blind.err, testing::HasSubstr("xvfb-run"));
  const auto error_of = [this](const std::string& more) {
    const test::Outcome outcome = run(std::string(kOnLimbs) + " " + more, "DISPLAY=:9876");
    EXPECT_EQ(outcome.code, 2);
    return outcome.err;
  };
  EXPECT_THAT(error_of("--scale huge"),
              testing::HasSubstr("--scale: found huge, expected a number"));
  EXPECT_THAT(error_of("--against nobody.toml"), testing::HasSubstr("nobody.toml"));
  EXPECT_THAT(error_of("--against dorro.tuning.toml --recorded x.csv"),
              testing::HasSubstr("expected one of them"));
  EXPECT_THAT(error_of("--script nothing.script"), testing::HasSubstr("nothing.script"));
  EXPECT_THAT(error_of("--inputs nothing.inputs"), testing::HasSubstr("nothing.inputs"));
  put("bad.script", "# bushbaby script 1\nfly up\n");
  EXPECT_THAT(error_of("--script bad.script"), testing::HasSubstr("bad.script:2:1: found unknown"));
}

}  // namespace
}  // namespace bushbaby
