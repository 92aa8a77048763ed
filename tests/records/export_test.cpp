// Exports: read back they are the same tuning, bit for bit where nothing was rounded.
#include <algorithm>
#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/drills.h"
#include "bushbaby/records/export_table.h"

namespace bushbaby {
namespace {

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

// A tuning with some knobs moved, that compiles.
Tuning random_tuning(std::mt19937_64& random) {
  const char* const names[] = {"pip.tuning.toml", "dorro.tuning.toml"};
  static const Tuning demos[] = {load_tuning(kDemo + names[0])->tuning,
                                 load_tuning(kDemo + names[1])->tuning};
  Tuning tuning = demos[random() % 2];
  for (const KnobPlace& place : places_of(tuning)) {
    if (random() % 3 != 0 || place.knob->key == "loop.tick_rate") continue;
    Tuning changed = tuning;
    KnobValue value = get_knob(tuning, *place.knob, place.row);
    const double factor = std::uniform_real_distribution<double>(0.7, 1.4)(random);
    if (auto* number = std::get_if<double>(&value)) {
      *number = std::holds_alternative<KnobAccess<int>>(place.knob->binding)
                    ? std::round(*number * factor)
                    : *number * factor;
    } else if (auto* duration = std::get_if<Duration>(&value)) {
      duration->amount = duration->unit == Duration::Unit::ticks
                             ? std::round(duration->amount * factor)
                             : duration->amount * factor;
    } else if (auto* flag = std::get_if<bool>(&value)) {
      *flag = !*flag;
    }
    if (set_knob(changed, *place.knob, value, place.row)) continue;
    if (compile(changed).ok()) tuning = changed;
  }
  const double rates[] = {30, 50, 60, 120};
  if (random() % 2 == 0) tuning = at_tick_rate(tuning, rates[random() % 4]);
  return tuning;
}

ExportStyle random_style(std::mt19937_64& random, bool exact) {
  ExportStyle style;
  // Powers of two, and no ticks, round nothing.
  style.convention.lengths_per_unit = exact ? std::ldexp(1, static_cast<int>(random() % 8)) : 100;
  style.convention.length_name = style.convention.lengths_per_unit == 1 ? "u" : "px";
  style.convention.vertical_down = random() % 2 == 0;
  if (!exact) {
    style.convention.per_tick = random() % 2 == 0;
    style.radians = random() % 2 == 0;
    style.single = random() % 2 == 0;
  }
  if (random() % 2 == 0) style.reference_gravity = 9.81;
  if (random() % 2 == 0) style.mass = 2.5;
  return style;
}

std::uint64_t jump_hash(const Tuning& tuning) {
  CharacterSubject subject(compile(tuning).rules);
  const auto jump = record_running_jump(subject, 12);
  return jump ? hash_of(jump->trace) : 0;
}

TEST(Export, ReadBackIsTheSameTuning) {
  std::mt19937_64 random(8);
  int jumps = 0;
  for (int round = 0; round < 500; ++round) {
    const Tuning tuning = random_tuning(random);
    const bool exact = round % 2 == 0;
    const ExportStyle style = random_style(random, exact);
    const auto form = static_cast<ExportForm>(random() % 5);
    const std::string text = write_export(tuning, style, form);
    const auto back = parse_export(text, "t");
    ASSERT_TRUE(back) << describe(back.error().front()) << "\n" << text;
    EXPECT_EQ(back->style.convention.length_name, style.convention.length_name);
    EXPECT_EQ(back->style.mass, style.mass);
    EXPECT_EQ(back->style.reference_gravity, style.reference_gravity);
    const auto rows = export_rows(tuning, style);
    for (const KnobPlace& place : places_of(tuning)) {
      const KnobValue was = get_knob(tuning, *place.knob, place.row);
      ASSERT_TRUE(place.knob->has_row(back->tuning, place.row)) << place.key();
      const KnobValue now = get_knob(back->tuning, *place.knob, place.row);
      if (exact) {
        ASSERT_EQ(now, was) << place.key() << "\n" << text;
        continue;
      }
      // What is rounded is so by what its row says, and the last bits of its way there and back.
      const auto row = std::find_if(rows.begin(), rows.end(),
                                    [&](const ExportRow& one) { return one.key == place.key(); });
      const auto amount = [](const KnobValue& value) {
        const auto* duration = std::get_if<Duration>(&value);
        if (duration != nullptr) return duration->amount;
        const auto* number = std::get_if<double>(&value);
        return number != nullptr ? *number : 0;
      };
      if (row == rows.end()) {
        EXPECT_EQ(now, was);
        continue;
      }
      // A decimal of single precision lies as far from the number as that itself may.
      const double reported = parse_number(row->text).value_or(1);
      const double share = std::abs(row->rounded_by / (reported == 0 ? 1 : reported)) +
                           (style.single ? 1.2e-7 : 1e-12);
      const bool as_ticks = style.convention.per_tick && std::holds_alternative<Duration>(was) &&
                            std::get<Duration>(was).unit == Duration::Unit::seconds;
      const double meant = as_ticks ? amount(was) * tuning.loop.tick_rate : amount(was);
      EXPECT_NEAR(amount(now), meant, share * std::abs(meant) + 1e-12) << place.key();
    }
    if (exact) {
      ASSERT_EQ(jump_hash(back->tuning), jump_hash(tuning));
      jumps += jump_hash(tuning) != 0 ? 1 : 0;
    }
  }
  EXPECT_GT(jumps, 100);
}

TEST(Export, ReportsWhatALoopNeeds) {
  Tuning tuning;
  tuning.jump.launch_speed = 12;
  tuning.jump.gravity = 40;
  tuning.fall.factor = 1.5;
  tuning.jump.coyote = {0.1};
  ExportStyle style;
  style.convention = {16, "px", true, true};
  style.reference_gravity = 10;
  style.mass = 3;
  const auto rows = export_rows(tuning, style);
  const auto value_of = [&rows](std::string_view key) {
    for (const ExportRow& row : rows) {
      if (row.key == key) return row.text + " " + row.unit;
    }
    return std::string("none");
  };
  EXPECT_EQ(value_of("loop.launch_speed"), "3.2 px/tick");
  EXPECT_EQ(value_of("loop.launch_velocity_y"), "-3.2 px/tick");
  EXPECT_EQ(value_of("loop.rise_gravity_multiple"), "4 ×");
  EXPECT_EQ(value_of("loop.fall_gravity_multiple"), "6 ×");
  EXPECT_EQ(value_of("loop.launch_impulse").substr(0, 3), "9.6");
  EXPECT_EQ(value_of("loop.coyote_ticks"), "6 ticks");
  EXPECT_EQ(value_of("jump.launch_speed"), "3.2 px/tick");
  EXPECT_EQ(value_of("loop.terminal_speed"), "none");
}

TEST(Export, HostileNamesStayText) {
  Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  tuning.name = "*/ #error \"x\" \\ \n[knobs]\n=,\"";
  for (int form = 0; form < 5; ++form) {
    const auto kind = static_cast<ExportForm>(form);
    const std::string text = write_export(tuning, {}, kind);
    EXPECT_EQ(text.find("\n#error"), std::string::npos);
    const auto back = parse_export(text, "t");
    ASSERT_TRUE(back) << describe(back.error().front()) << text;
    EXPECT_EQ(back->tuning.jump.height, tuning.jump.height);
  }
}

// Names that are words of the languages, that begin a formula, or that would go on in the next
// line.
TEST(Export, AnyNameMakesAHeader) {
  Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  const std::pair<const char*, const char*> names[] = {{"int", "int_tuning"},
                                                       {"", "character_tuning"},
                                                       {"7 up", "character_7_up_tuning"},
                                                       {"__X__", "x_tuning"},
                                                       {"\u00e9t\u00e9", "t_tuning"},
                                                       {"a  b\\", "a_b_tuning"},
                                                       {"=1+1", "character_1_1_tuning"}};
  for (const auto& [name, space] : names) {
    tuning.name = name;
    const std::string header = write_export(tuning, {}, ExportForm::cpp);
    EXPECT_NE(header.find(std::string("namespace ") + space + " {\n"), std::string::npos) << header;
    EXPECT_EQ(header.find("\\\n"), std::string::npos);
    EXPECT_EQ(write_export(tuning, {}, ExportForm::csv).find(",=1+1"), std::string::npos);
    for (const ExportForm form :
         {ExportForm::cpp, ExportForm::c, ExportForm::csv, ExportForm::toml}) {
      EXPECT_EQ(parse_export(write_export(tuning, {}, form), "t")->tuning.name, name);
    }
  }
}

// The line and the column of a byte, as problems say them.
std::string place_in(const std::string& text, std::size_t at) {
  const std::string before = text.substr(0, at);
  const std::size_t begin = before.rfind('\n') + 1;  // 0 if there is none
  return fmt::format("t:{}:{}: ", std::count(before.begin(), before.end(), '\n') + 1,
                     at - begin + 1);
}

// In whatever form: where a wrong value or key stands, to the column.
TEST(Export, SaysWhereItIsWrong) {
  const Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  for (int form = 0; form < 5; ++form) {
    const std::string good = write_export(tuning, {}, static_cast<ExportForm>(form));
    const auto first_problem = [](const std::string& text) {
      const auto read = parse_export(text, "t");
      return read ? std::string("nothing is wrong") : describe(read.error().front());
    };
    std::string text = good;
    std::size_t at = text.find("3.25");
    text.insert(at, "-");
    EXPECT_EQ(first_problem(text).find(place_in(text, at) + "jump.height: found -3.25, expected a "
                                                            "length in u, more than 0"),
              0U)
        << first_problem(text);
    text = good;
    at = text.find("jump.height");
    text.replace(at + 6, 2, "ie");
    if (text[at - 1] == '"') --at;
    EXPECT_EQ(first_problem(text).find(place_in(text, at) + "found unknown key jump.hieght"), 0U)
        << first_problem(text);
    EXPECT_NE(first_problem(text).find("did you mean jump.height?"), std::string::npos);
  }
}

TEST(Export, SaysWhatIsWrong) {
  const struct {
    const char* text;
    const char* message;
  } gallery[] = {
      {"", "found no export"},
      {"{}", "found no export"},
      {"{\"format\": 3}", "found no export"},
      {"[1, 2", "found no export"},
      {"key,value,unit\nformat,bushbaby-export/2,,\n", "found no export"},
      {"// another header\n", "found no export"},
      {"format = \"bushbaby-export/1\"\n[knobs]\n\"jump.hieght\" = 3\n",
       "t:3:1: found unknown key jump.hieght; did you mean jump.height?"},
      {"key,value,unit,rounded by\nformat,bushbaby-export/1,,\nconvention.time,week,,\n",
       "t:3:17: convention.time: found week, expected \"second\" or \"tick\""},
      {"key,value,unit,rounded by\nformat,bushbaby-export/1,,\nfall.factor,-3,,\n",
       "t:3:13: fall.factor: found -3"},
      {"key,value,unit\nformat,bushbaby-export/1,\nfall.factor,2,\nfall.factor,3,\n",
       "t:4:1: fall.factor: found it twice, expected it once: it is on line 3"},
      {"key,value,unit\nformat,bushbaby-export/1,\n\nfall.factor\n",
       "t:4:1: fall.factor: found a row of 1, expected key,value,unit"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {\"jump.height\": 3}}",
       "t:2:27: jump.height: found 3, expected {\"value\": …, \"unit\": …}"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {\"jump.height\": {\"unit\": \"u\"}}}",
       "t:2:12: jump.height: found no value"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {\"jump.height\": {\"value\": [3]}}}",
       "t:2:37: jump.height: found a list, expected a number"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {\"jump.height\": {\"value\": null}}}",
       "t:2:37: jump.height: found null"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": []}",
       "t:2:11: knobs: found a list, expected {…}"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {\"é\": x}}", "t:2:17: found \"é\": x"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\": {",
       "t:2:12: found the end, expected JSON"},
      {"{\"format\": \"bushbaby-export/1\",\n \"knobs\" 3, \"a\": 1}",
       "t:2:10: found 3, expected JSON"},
      {"format = \"bushbaby-export/1\"\n[knobs]\n\"jump.height\" = [3]\n",
       "t:3:17: jump.height: found a list, expected a number"},
      {"format = \"bushbaby-export/1\"\nknobs = 3\n", "t:2:9: knobs: found 3, expected [knobs]"},
      {"format = \"bushbaby-export/1\"\n[knobs]\n\"jump.height\" = \n", "t:3:17: found"},
  };
  for (const auto& bad : gallery) {
    const auto read = parse_export(bad.text, "t");
    ASSERT_FALSE(read) << bad.text;
    EXPECT_NE(describe(read.error().front()).find(bad.message), std::string::npos)
        << describe(read.error().front());
  }
}

// However deep objects lie within one another, they are read in linear time.
TEST(Export, GoesAsDeepAsAStrangerDoes) {
  std::string text = "{\"format\": \"bushbaby-export/1\", \"a\": ";
  constexpr int kDeep = 300'000;
  for (int i = 0; i < kDeep; ++i) text += "{\"a\":";
  text += "1" + std::string(kDeep, '}') + "}";
  EXPECT_TRUE(parse_export(text, "t"));
  EXPECT_FALSE(parse_export(text.substr(0, text.size() / 2), "t"));
}

}  // namespace
}  // namespace bushbaby
