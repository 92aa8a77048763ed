// Rewriting a tuning's file: whatever way it is written in, and whatever changes, the new text
// means what was meant and everything else stays.
#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

struct Style {
  const char* name;
  std::string text;
};

const std::string kHead = "format = \"bushbaby-tuning/1\"   # what it is\n";
const std::string kRows =
    "\n[[wall.exit]]   # off\non = \"jump\"\naway = 6\n\n[[wall.exit]]\non = \"down\"   # lets "
    "go\n";

std::string replaced(std::string text, const std::string& what, const std::string& with) {
  for (std::size_t at = 0; (at = text.find(what, at)) != std::string::npos; at += with.size()) {
    text.replace(at, what.size(), with);
  }
  return text;
}

// One tuning in every way that TOML has to write it.
std::vector<Style> styles() {
  const std::string headed = kHead +
                             "name = \"Pip\"\n\n[jump]  # up\nheight = 3.25     # u\napex_time = "
                             "0.38\n[jump.cut]\nstyle = \"scale\"\nkeep = 0.45   # share\n\n"
                             "[fall]\nfactor = 1.7   # heavy\nterminal_speed = 24\n\n[wall]\n"
                             "slide_speed = 2.5\n" +
                             kRows;
  const std::string dotted = kHead +
                             "name = \"Pip\"\njump.height = 3.25     # u\njump.apex_time = 0.38\n"
                             "jump.cut.style = \"scale\"\njump.cut.keep = 0.45\n"
                             "fall.factor = 1.7   # heavy\nfall.terminal_speed = 24\n"
                             "wall.slide_speed = 2.5\n" +
                             "wall.exit = [{ on = \"jump\", away = 6 }, { on = \"down\" }]\n";
  const std::string braces =
      kHead +
      "name = \"Pip\"\njump = { height = 3.25, apex_time = 0.38, cut = { style = \"scale\", keep = "
      "0.45 } }   # up\nfall = { factor = 1.7, terminal_speed = 24 }   # heavy\nwall = { "
      "slide_speed "
      "= 2.5, exit = [ { on = \"jump\", away = 6 }, { on = \"down\" } ] }\n";
  const std::string quoted =
      kHead +
      "\"name\" = 'Pip'\n[ \"jump\" ]\n\"height\" = 3.25   # u\n'apex_time' = "
      "0.38\ncut . style = \"scale\"\ncut.\"keep\" = 0.45\n[\"fall\"]\n  factor "
      "= 1.7   # heavy\n  terminal_speed = 24\n[ wall ]\nslide_speed = 2.5\n"
      "exit = [\n  { on = \"jump\", away = 6 },  # off\n  { on = \"down\" },\n]\n";
  const std::string mixed =
      kHead +
      "name = \"\"\"Pip\"\"\"\n[jump.cut]\nstyle = 'scale'\nkeep = 0.45\n[jump]\n"
      "height = 3.25   # u\napex_time = 0.38\n[wall]\nslide_speed = 2.5\n" +
      kRows + "\n[fall]\nfactor = 1.7   # heavy\nterminal_speed = 24";
  std::vector<Style> all{{"headed", headed},
                         {"dotted", dotted},
                         {"braces", braces},
                         {"quoted", quoted},
                         {"mixed, without an end of the last line", mixed}};
  for (std::size_t i = 0; i < 5; ++i) {
    all.push_back({"with carriage returns", replaced(all[i].text, "\n", "\r\n")});
    all.push_back({"with a byte-order mark", "\xEF\xBB\xBF" + all[i].text});
  }
  return all;
}

// Another value that the knob allows.
KnobValue other_value(const Tuning& tuning, const KnobPlace& place) {
  const Knob& knob = *place.knob;
  const KnobValue now = get_knob(tuning, knob, place.row);
  const std::vector<KnobValue> tries{0.5,  2.0,   1.0,  3.0,      Duration{0.25},
                                     true, false, "up", "damped", "semi_implicit"};
  std::vector<KnobValue> all = tries;
  if (const auto* choice = std::get_if<ChoiceBinding>(&knob.binding)) {
    for (std::size_t i = 0; i < choice->count; ++i) all.emplace_back(std::string(choice->names[i]));
  }
  for (const KnobValue& value : all) {
    Tuning changed = tuning;
    if (value != now && !set_knob(changed, knob, value, place.row)) return value;
  }
  return now;
}

class Rewriting : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / fmt::format("bushbaby-rewriting-{}", ::getpid());
    fs::create_directories(folder_);
  }
  void TearDown() override { fs::remove_all(folder_); }

  // Saves `changed` over a text and looks at what came of it.
  void expect_kept(const Style& style, const Tuning& changed, const std::string& what) {
    const std::string path = (folder_ / "t.tuning.toml").string();
    const auto source = parse_tuning(style.text, path);
    ASSERT_TRUE(source) << style.name << ": " << describe(source.error().front());
    const auto problem = save_tuning(*source, changed, path);
    ASSERT_FALSE(problem) << style.name << ", " << what << ": " << describe(*problem);
    const std::string text = *read_file(path);
    const auto again = parse_tuning(text, path);
    ASSERT_TRUE(again) << text;
    for (const KnobPlace& place : places_of(changed)) {
      EXPECT_EQ(get_knob(again->tuning, *place.knob, place.row),
                get_knob(changed, *place.knob, place.row))
          << style.name << ", " << what << "\n"
          << text;
    }
    for (const char* comment : {"# what it is", "# heavy"}) {
      const bool had = style.text.find(comment) != std::string::npos;
      const bool cut = what.find("fall.factor") == 0 && comment[2] == 'h';
      EXPECT_TRUE(!had || cut || text.find(comment) != std::string::npos) << what << "\n" << text;
    }
    const bool returns = style.text.find("\r\n") != std::string::npos;
    EXPECT_EQ(std::count(text.begin(), text.end(), '\r'),
              returns ? std::count(text.begin(), text.end(), '\n') : 0)
        << style.name << ", " << what;
    EXPECT_EQ(text.substr(0, 3) == "\xEF\xBB\xBF", style.text.substr(0, 3) == "\xEF\xBB\xBF");
    ++kept_;
  }

  fs::path folder_;
  int kept_ = 0;
};

TEST_F(Rewriting, WhatIsWrittenBesideAKnobThatIsUnsetStays) {
  const std::string path = (folder_ / "t.tuning.toml").string();
  const auto source = parse_tuning(
      "format = \"bushbaby-tuning/1\"\nname = \"Pip\"\n[jump]\nheight = 3\napex_time = 0.4\n"
      "[fall]\n  terminal_speed = 24  # as fast as a limb may fall\n",
      path);
  ASSERT_TRUE(source) << describe(source.error().front());
  Tuning changed = source->tuning;
  changed.fall.terminal_speed.reset();
  ASSERT_FALSE(save_tuning(*source, changed, path));
  const std::string text = *read_file(path);
  EXPECT_NE(text.find("\n  # as fast as a limb may fall\n"), std::string::npos) << text;
  EXPECT_EQ(text.find("terminal_speed"), std::string::npos) << text;
}

TEST_F(Rewriting, EveryKnobInEveryStyle) {
  for (const Style& style : styles()) {
    const Tuning base = parse_tuning(style.text, "t")->tuning;
    ASSERT_EQ(base.wall.exits.size(), 2U) << style.name;
    ASSERT_EQ(base.jump.cut.keep, 0.45) << style.name;
    expect_kept(style, base, "nothing");
    for (const KnobPlace& place : places_of(base)) {
      Tuning changed = base;
      const KnobValue value = other_value(base, place);
      ASSERT_FALSE(set_knob(changed, *place.knob, value, place.row)) << place.key();
      expect_kept(style, changed, place.key() + " = " + describe(value));
      const bool optional =
          std::holds_alternative<KnobAccess<std::optional<double>>>(place.knob->binding) ||
          std::holds_alternative<KnobAccess<std::optional<Duration>>>(place.knob->binding);
      if (!optional) continue;
      changed = base;
      ASSERT_FALSE(set_knob(changed, *place.knob, std::monostate{}, place.row));
      expect_kept(style, changed, place.key() + " unset");
    }
  }
  EXPECT_GT(kept_, 1500);
}

TEST_F(Rewriting, SeveralChangesAtOnceInEveryStyle) {
  for (const Style& style : styles()) {
    const Tuning base = parse_tuning(style.text, "t")->tuning;
    Tuning changed = base;
    // Everything in the braces of `fall` goes, and something new comes.
    changed.fall.factor = 3;
    changed.fall.terminal_speed.reset();
    changed.fall.fast.speed = 9;
    changed.jump.gravity = 40;
    changed.jump.apex_time.reset();
    changed.jump.cut = {};
    changed.jump.cut.style = CutStyle::stop;
    changed.dash.charges = 1;
    changed.dash.distance = 3;
    changed.wall.exits[1].on = "up";
    changed.wall.exits[1].where = WallPlace::top;
    changed.wall.exits.push_back({"away", WallPlace::anywhere, Duration{0.1}, 2, 0});
    expect_kept(style, changed, "many");
  }
}

TEST_F(Rewriting, LeavesTheRestOfTheTextAlone) {
  const Style style = styles()[0];
  const auto source = parse_tuning(style.text, "t");
  EXPECT_EQ(rewrite_tuning(*source, source->tuning), style.text);
  Tuning changed = source->tuning;
  changed.fall.factor = 2;
  EXPECT_EQ(rewrite_tuning(*source, changed), replaced(style.text, "factor = 1.7", "factor = 2"));
  const Style braces = styles()[2];
  const auto inlined = parse_tuning(braces.text, "t");
  changed = inlined->tuning;
  changed.fall.factor = 3;
  changed.fall.terminal_speed.reset();
  EXPECT_EQ(rewrite_tuning(*inlined, changed),
            replaced(braces.text, "{ factor = 1.7, terminal_speed = 24 }", "{ factor = 3 }"));
}

TEST_F(Rewriting, NothingIsWrittenThatDoesNotReadBack) {
  // A number too small for the text it would need cannot be made here; a broken source can.
  const std::string path = (folder_ / "t.tuning.toml").string();
  TuningFile source = *parse_tuning(styles()[0].text, path);
  source.text += "\n[jump]\n";  // a second heading: no TOML any more
  ASSERT_FALSE(write_file(path, "what was there"));
  EXPECT_TRUE(save_tuning(source, source.tuning, path));
  EXPECT_EQ(*read_file(path), "what was there");
}

}  // namespace
}  // namespace bushbaby
