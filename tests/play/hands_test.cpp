// What is held between ticks, which ticks are due, dials, keys and scripts.
#include "session/hands.h"

#include <cmath>
#include <random>

#include <gmock/gmock.h>

#include "bushbaby/core/tuning/amounts.h"

#include "play_support.h"
#include "session/camera.h"
#include "session/dial.h"
#include "session/pacer.h"
#include "session/script.h"
#include "session/settings.h"

namespace bushbaby::live {
namespace {

using test::knob;

// However presses and ticks fall, each press is a press for the character, in order.
TEST(Hands, EveryPressCountsOnce) {
  std::mt19937_64 random(1);
  for (int round = 0; round < 2000; ++round) {
    Hands hands;
    int pressed = 0;
    int seen = 0;
    bool down = false;
    bool was = false;
    const auto tick = [&] {
      const bool now = hands.take().jump;
      if (now && !was) ++seen;
      was = now;
    };
    for (int step = 0; step < 60; ++step) {
      // Up to four changes within a tick: no finger is faster.
      for (auto changes = random() % 5; changes > 0; --changes) {
        down = !down;
        down ? hands.press(Held::jump) : hands.release(Held::jump);
        if (down) ++pressed;
      }
      for (int i = 0; i < 4; ++i) tick();
    }
    EXPECT_EQ(seen, pressed);
    EXPECT_EQ(was, down);
  }
}

TEST(Hands, APressIsThereInTheNextTick) {
  Hands hands;
  hands.press(Held::jump);
  hands.release(Held::jump);
  EXPECT_TRUE(hands.take().jump);
  EXPECT_FALSE(hands.take().jump);
  hands.press(Held::dash);
  hands.press(Held::dash);  // a key that repeats
  EXPECT_TRUE(hands.take().dash);
  EXPECT_TRUE(hands.take().dash);
  hands.let_all_go();
  EXPECT_FALSE(hands.take().dash);
}

TEST(Hands, TheDirectionPressedLastCounts) {
  Hands hands;
  hands.press(Held::left);
  EXPECT_EQ(hands.take().x, -127);
  hands.press(Held::right);
  EXPECT_EQ(hands.take().x, 127);
  hands.release(Held::right);
  EXPECT_EQ(hands.take().x, -127);
  hands.release(Held::left);
  hands.tilt(0.5, -1);
  const Controls tilted = hands.take();
  EXPECT_EQ(tilted.x, direction_from(0.5));
  EXPECT_EQ(tilted.y, -127);
  hands.tilt(0.1, 0.1);
  EXPECT_EQ(hands.take(), Controls{});
}

TEST(Pacer, MakesTheTicksOfTheTimeThatPassed) {
  std::mt19937_64 random(2);
  std::uniform_real_distribution<double> frame(0, 0.06);
  for (const double rate : {30.0, 60.0, 144.0, 1000.0}) {
    for (const double speed : {1.0, 0.25}) {
      Pacer pacer(rate);
      pacer.set_speed(speed);
      double time = 0;
      int ticks = 0;
      for (int i = 0; i < 500; ++i) {
        const double seconds = frame(random);
        time += seconds;
        ticks += pacer.due(seconds);
        EXPECT_GE(pacer.share(), 0);
        EXPECT_LT(pacer.share(), 1);
        EXPECT_NEAR(ticks + pacer.share(), time * rate * speed, 1e-6);
      }
      EXPECT_LE(pacer.due(100), 0.25 * rate + 1) << "what cannot be made up for";
    }
  }
}

TEST(Camera, ZoomsAboutAPlaceAndKeepsTheBodyInSight) {
  Camera camera;
  camera.set_room(800, 600);
  camera.look_at({10, 5});
  const Vec px{120, 470};
  const Vec place = camera.to_place(px);
  camera.zoom(2.5, px);
  EXPECT_NEAR(camera.to_place(px).x, place.x, 1e-9);
  EXPECT_NEAR(camera.to_place(px).y, place.y, 1e-9);
  // A body that runs away faster than the camera follows stays in sight.
  Vec body{10, 5};
  for (int i = 0; i < 600; ++i) {
    body = body + Vec{0.8, -0.5};
    camera.follow(body, 1 / 60.0);
    const Box seen = camera.seen();
    EXPECT_GT(body.x, seen.lo.x);
    EXPECT_LT(body.x, seen.hi.x);
    EXPECT_GT(body.y, seen.lo.y);
    EXPECT_LT(body.y, seen.hi.y);
  }
  // Within the quiet zone it does not move.
  camera.look_at(body);
  const Box before = camera.seen();
  camera.follow(body + Vec{0.3, 0.2}, 1);
  EXPECT_EQ(camera.seen().lo, before.lo);
}

// Every knob can be turned all the way, and each place of a dial is a value that it may have.
TEST(Dials, ReachValuesThatKnobsMayHave) {
  for (const char* name : {"pip.tuning.toml", "dorro.tuning.toml"}) {
    const TuningFile file = *load_tuning(test::demo(name));
    const Units units = file.units();
    for (const KnobPlace& place : places_of(file.tuning)) {
      SCOPED_TRACE(place.key());
      const Dial dial = dial_of(file.tuning, place, file.tuning);
      if (dial.kind != DialKind::number) continue;
      ASSERT_LT(dial.lo, dial.hi);
      double last = -1e300;
      for (int i = 0; i <= 100; ++i) {
        const double amount = amount_at(dial, i / 100.0, units);
        EXPECT_GE(amount, last);
        last = amount;
        const double back = share_of(dial, amount);
        const double step = dial.whole ? 1 / (dial.hi - dial.lo) : 0.011;
        EXPECT_NEAR(back, i / 100.0, step);
        Tuning changed = file.tuning;
        if (!dial.is_set) continue;
        const KnobValue now = get_knob(changed, *place.knob, place.row);
        const auto fault = set_knob(changed, *place.knob, with_amount(now, amount), place.row);
        // An end may be omitted of the range.
        EXPECT_TRUE(!fault || place.knob->range.above_lo) << amount;
      }
      if (!dial.is_set) {
        Tuning changed = file.tuning;
        EXPECT_FALSE(set_knob(changed, *place.knob, first_amount(*place.knob), place.row));
        continue;
      }
      EXPECT_GT(nudged(dial, 1, units), dial.amount);
      EXPECT_LT(nudged(dial, -1, units), dial.amount);
    }
  }
}

TEST(Dials, ReportShortNumbersInThePersonsUnits) {
  const TuningFile file = *parse_tuning(
      "format = \"bushbaby-tuning/1\"\n[convention]\none_unit = \"16 px\"\n"
      "[jump]\nheight = 52\napex_time = 0.38\n",
      "px.tuning.toml");
  const Dial dial = dial_of(file.tuning, knob("jump.height"), file.tuning);
  const Units units = file.units();
  EXPECT_NEAR(share_of(dial, file.tuning.jump.height.value()), 0.5, 1e-9);
  for (int i = 0; i <= 50; ++i) {
    const double reported = units.shown(Dimension::length, amount_at(dial, i / 50.0, units));
    const double digits = std::pow(10, 2 - std::floor(std::log10(reported)));
    EXPECT_NEAR(reported * digits, std::round(reported * digits), 1e-6)
        << reported << ": three digits";
  }
  EXPECT_NEAR(units.shown(Dimension::length, nudged(dial, 1, units)), 52.5, 1e-9);
  EXPECT_EQ(value_text(3.25, *knob("jump.height").knob, units), "52 px");
}

TEST(Dials, KnobsAreFoundByWhatTheyDo) {
  EXPECT_TRUE(is_about(knob("jump.coyote"), "leaving the GROUND"));
  EXPECT_TRUE(is_about(knob("fall.factor"), "fall fac"));
  EXPECT_FALSE(is_about(knob("fall.factor"), "coyote"));
  EXPECT_TRUE(is_about(knob("fall.factor"), ""));
}

// ---- files of a person --------------------------------------------------------------------------

TEST(Settings, ReadBackAsTheyWereWritten) {
  Settings settings = Settings::defaults();
  settings.bind_key("jump", "Left Alt");
  settings.bind_key("pause", ",");  // taken from step_back
  settings.bind_button("dash", "start");
  const auto again = parse_settings_file(write_settings(settings), "settings.toml");
  ASSERT_TRUE(again);
  EXPECT_EQ(again->keys, settings.keys);
  EXPECT_EQ(again->pad, settings.pad);
  EXPECT_EQ(again->action_of_key("Left Alt"), "jump");
  EXPECT_EQ(again->action_of_key(","), "pause");
  EXPECT_EQ(again->action_of_key("Space"), "");
  EXPECT_EQ(again->action_of_button("A"), "jump");
  EXPECT_EQ(again->action_of_button("start"), "dash");
  EXPECT_EQ(again->action_of_button("X"), "");
}

TEST(Settings, NoKeyOrButtonDoesTwoThings) {
  const Settings settings = Settings::defaults();
  for (const auto* bindings : {&settings.keys, &settings.pad}) {
    std::vector<std::string> all;
    for (const auto& [action, names] : *bindings) all.insert(all.end(), names.begin(), names.end());
    std::sort(all.begin(), all.end());
    EXPECT_EQ(std::adjacent_find(all.begin(), all.end()), all.end());
  }
}

TEST(Settings, SayWhatIsWrong) {
  const auto first = [](const char* text) {
    const auto settings = parse_settings_file(text, "settings.toml");
    return settings ? std::string("read") : describe(settings.error().front());
  };
  EXPECT_EQ(first("format = \"bushbaby-settings/1\"\n[keys]\njumpp = [\"A\"]\n"),
            "settings.toml:3:1: found unknown key keys.jumpp; did you mean jump?");
  EXPECT_THAT(first("format = \"bushbaby-settings/1\"\n[keys]\njump = \"A\"\n"),
              testing::HasSubstr("settings.toml:3:8: keys.jump: found \"A\", expected a list"));
  EXPECT_THAT(first("format = \"bushbaby-settings/1\"\nkeys = 3\n"),
              testing::HasSubstr("expected a table"));
  EXPECT_THAT(first("format = \"bushbaby-settings/2\"\n"), testing::HasSubstr("settings.toml:1"));
  EXPECT_THAT(first("format = \"bushbaby-level/1\"\n"), testing::HasSubstr("settings.toml:1"));
  EXPECT_THAT(first("[keys\n"), testing::HasSubstr("settings.toml"));
}

TEST(Scripts, SayWhatIsWrong) {
  const auto first = [](const std::string& line) {
    const auto script = parse_script("# bushbaby script 1\n" + line + "\n", "a.script", {});
    return script ? std::string("read") : describe(script.error().front());
  };
  for (const char* fine : {"play right jump for 12 ticks", "wait 3", "set fall.factor=2", "undo",
                           "compare on", "screenshot a.png", "  # a remark", "speed 0.25", ""}) {
    EXPECT_EQ(first(fine), "read") << fine;
  }
  EXPECT_EQ(first("pley right for 3 ticks"),
            "a.script:2:1: found unknown action pley; did you mean play?");
  EXPECT_THAT(first("play right for 3 tocks"), testing::HasSubstr("a.script:2"));
  EXPECT_THAT(first("play right until landed"), testing::HasSubstr("found inputs that wait"));
  EXPECT_THAT(first("play right for 1e9 s"), testing::HasSubstr("a.script:2"));
  EXPECT_THAT(first("wait long"), testing::HasSubstr("found long, expected a number"));
  EXPECT_THAT(first("wait -1"), testing::HasSubstr("expected a number"));
  EXPECT_THAT(first("wait nan"), testing::HasSubstr("expected a number"));
  // Whose script it is, nobody knows: it writes no file but pictures, and those nowhere else.
  for (const char* elsewhere :
       {"screenshot /tmp/a.png", "screenshot ../a.png", "screenshot b/../../a.png",
        "screenshot .bashrc", "screenshot pip.tuning.toml"}) {
    EXPECT_THAT(first(elsewhere), testing::HasSubstr("a file that ends in .png")) << elsewhere;
  }
  EXPECT_EQ(first("screenshot shots/a.png"), "read");
  std::string endless;
  for (int i = 0; i < 100; ++i) endless += "wait 900000\nplay right for 900000 ticks\n";
  EXPECT_THAT(first(endless), testing::HasSubstr("a.script:3:1: found more ticks than that"));
  EXPECT_THAT(first("undo it"), testing::HasSubstr("expected \"undo\" alone"));
  EXPECT_THAT(first("screenshot"), testing::HasSubstr("found nothing behind it"));
  EXPECT_THAT(first("compare maybe"), testing::HasSubstr("expected on or off"));
  EXPECT_EQ(first("set fall.facter=2"),
            "a.script:2:1: found unknown key fall.facter; did you mean fall.factor?");
  EXPECT_THAT(first("set fall.factor 2"), testing::HasSubstr("found no '='"));
  EXPECT_THAT(first("choose nothing.at.all"), testing::HasSubstr("unknown key"));
  EXPECT_EQ(first("page fact"),
            "a.script:2:1: found unknown page fact, expected knobs, facts, "
            "history or keys; did you mean facts?");
  EXPECT_FALSE(parse_script("play right for 1 tick\n", "a.script", {}));
  EXPECT_FALSE(parse_script("", "a.script", {}));
}

}  // namespace
}  // namespace bushbaby::live
