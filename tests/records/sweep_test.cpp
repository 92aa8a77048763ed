// Sweeps: every run is what the tuning gives, in whatever parts and however often it is gone on
// with.
#include <cmath>
#include <filesystem>
#include <fstream>
#include <random>

#include <gtest/gtest.h>
#include <unistd.h>

#include "bushbaby/data/files.h"
#include "bushbaby/lab/arc.h"
#include "bushbaby/records/sweep_csv.h"

#include "support.h"

namespace bushbaby {
namespace {

const std::string kPip = std::string(BUSHBABY_SOURCE_DIR) + "/demo/pip.tuning.toml";

KnobSweep sweep_of(const TuningFile& file, const std::vector<std::string>& over,
                   const std::vector<std::string>& facts) {
  KnobSweep sweep;
  sweep.base = file.tuning;
  for (const std::string& text : over) {
    const auto axis = parse_axis(file, text);
    EXPECT_TRUE(axis) << text;
    if (axis) sweep.axes.push_back(*axis);
  }
  for (const std::string& name : facts) {
    for (const FactInfo& info : drill_of_fact(name)->facts) {
      if (info.name == name) sweep.facts.push_back(&info);
    }
  }
  return sweep;
}

// Height and rise follow the closed form, each fall its own, in the order of the runs.
TEST(Sweep, RunsAreWhatTheTuningGives) {
  auto file = *load_tuning(kPip, {"jump.hang.below_speed=0", "fall.terminal_speed="});
  const KnobSweep sweep = sweep_of(file, {"fall.factor=1..3 in 9", "jump.height=1..6 in 7 log"},
                                   {"stand_jump.height", "stand_jump.air_time"});
  ASSERT_EQ(runs_of(sweep), 63U);
  std::size_t next = 0;
  run_sweep(sweep, 0, 63, [&](std::size_t first, const std::vector<SweepRun>& runs) {
    EXPECT_EQ(first, next);
    for (const SweepRun& run : runs) {
      const double factor = 1 + 0.25 * static_cast<double>(next / 7);
      const double height = std::pow(6.0, static_cast<double>(next % 7) / 6);
      EXPECT_NEAR(*run[0], height, 1e-9);
      EXPECT_NEAR(*run[1], 0.38 * (1 + 1 / std::sqrt(factor)), 1e-9);
      ++next;
    }
    return true;
  });
  EXPECT_EQ(next, 63U);
}

TEST(Sweep, WhatCannotBeMeasuredIsEmpty) {
  const auto file = *load_tuning(kPip);
  const KnobSweep sweep =
      sweep_of(file, {"jump.allowed=true, false"}, {"stand_jump.height", "run_up.top_speed"});
  EXPECT_TRUE(make_run(sweep, 0)[0]);
  EXPECT_FALSE(make_run(sweep, 1)[0]);
  EXPECT_EQ(*make_run(sweep, 1)[1], 7);
  EXPECT_EQ(sweep_lines(sweep, {}, 1, {make_run(sweep, 1)}).rfind("2,false,,7,", 0), 0U);
}

TEST(Sweep, RangesAreRead) {
  const auto file = *load_tuning(kPip);
  const auto amounts = [&](const std::string& text) {
    std::vector<double> all;
    const auto axis = parse_axis(file, text);
    EXPECT_TRUE(axis) << text;
    for (const KnobValue& value : axis->values) {
      const auto* duration = std::get_if<Duration>(&value);
      all.push_back(duration != nullptr ? duration->amount : std::get<double>(value));
    }
    return all;
  };
  EXPECT_EQ(amounts("fall.factor = 1..2 in 5"), (std::vector<double>{1, 1.25, 1.5, 1.75, 2}));
  EXPECT_EQ(amounts("fall.factor=2..1 in 3"), (std::vector<double>{2, 1.5, 1}));
  EXPECT_EQ(amounts("jump.coyote=0ticks..5 ticks in 11"), (std::vector<double>{0, 1, 2, 3, 4, 5}));
  EXPECT_EQ(amounts("jump.coyote=0.1, 0.2s"), (std::vector<double>{0.1, 0.2}));
  const auto log = amounts("run.top_speed=1..100 in 3 log");
  EXPECT_NEAR(log[1], 10, 1e-12);
  EXPECT_EQ(log[2], 100);
  for (const char* bad :
       {"fall.factor", "fall.factr=1..2 in 3", "fall.factor=1..2", "fall.factor=1..2 in 1",
        "fall.factor=1..2 in 2.5", "fall.factor=0..2 in 3", "fall.factor=", "fall.factor=1,,2",
        "jump.coyote=0.1..5ticks in 3", "run.top_speed=0..8 in 3 log",
        "run.facing=held..speed in 2", "fall.factor=1..2 in 999999999999"}) {
    EXPECT_FALSE(parse_axis(file, bad)) << bad;
  }
}

class SweepFiles : public testing::Test {
 protected:
  void SetUp() override { std::filesystem::create_directories(folder_); }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  [[nodiscard]] std::string at(const std::string& name) const { return (folder_ / name).string(); }

  // Writes runs of a sweep, until this many more are done.
  void write(const std::string& path, std::size_t first, std::size_t last,
             std::size_t most = 1000000) const {
    auto file = begin_sweep(path, sweep_, {}, first);
    ASSERT_TRUE(file);
    const std::size_t begin = first + file->lines_before();
    const std::size_t end = std::min(last, begin + most);
    for (std::size_t run = begin; run < end; ++run) {
      ASSERT_FALSE(file->append(sweep_lines(sweep_, {}, run, {make_run(sweep_, run)})));
    }
    if (end == last) {
      ASSERT_FALSE(file->finish());
    }
  }

  std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / ("bushbaby-sweep-" + std::to_string(::getpid()));
  TuningFile file_ = *load_tuning(kPip);
  KnobSweep sweep_ = sweep_of(file_, {"fall.factor=1..3 in 9", "jump.height=1..4 in 5"},
                              {"stand_jump.height", "running_jump.distance"});
};

// Broken off after any number of bytes and gone on with, and in any number of parts: the same
// bytes.
TEST_F(SweepFiles, AreTheSameHoweverTheyAreMade) {
  write(at("whole.csv"), 0, 45);
  const std::string whole = *read_file(at("whole.csv"));
  std::mt19937_64 random(5);
  for (int round = 0; round < 40; ++round) {
    const std::string path = at("broken.csv");
    write(path, 0, 45, random() % 44);
    const std::string part = *read_file(unfinished_path(path));
    std::ofstream(unfinished_path(path), std::ios::binary | std::ios::trunc)
        << part.substr(0, random() % (part.size() + 1));
    write(path, 0, 45);
    ASSERT_EQ(*read_file(path), whole);
    ASSERT_FALSE(exists(unfinished_path(path)));
    std::filesystem::remove(path);
  }
  for (const std::size_t parts : {1U, 2U, 7U, 20U, 50U}) {
    std::vector<std::string> paths;
    for (std::size_t k = 0; k < parts; ++k) {
      paths.push_back(at("part-" + std::to_string(k)));
      write(paths.back(), 45 * k / parts, 45 * (k + 1) / parts);
    }
    std::shuffle(paths.begin(), paths.end(), random);
    const auto problem = merge_sweeps(at("merged.csv"), paths);
    ASSERT_FALSE(problem) << describe(*problem);
    EXPECT_EQ(*read_file(at("merged.csv")), whole) << parts;
    for (const std::string& path : paths) std::filesystem::remove(path);
  }
}

TEST_F(SweepFiles, RefuseWhatDoesNotBelongTogether) {
  write(at("a"), 0, 20);
  write(at("b"), 20, 45);
  write(at("c"), 30, 45);
  EXPECT_TRUE(merge_sweeps(at("m"), {at("a")}));
  EXPECT_TRUE(merge_sweeps(at("m"), {at("b")}));
  EXPECT_TRUE(merge_sweeps(at("m"), {at("a"), at("c")}));
  EXPECT_TRUE(merge_sweeps(at("m"), {at("a"), at("a"), at("b")}));
  EXPECT_TRUE(merge_sweeps(at("m"), {at("a"), at("nowhere")}));
  sweep_.base.fall.terminal_speed = 3;
  write(at("d"), 20, 45);
  EXPECT_TRUE(merge_sweeps(at("m"), {at("a"), at("d")}));
  EXPECT_FALSE(exists(at("m")) || exists(unfinished_path(at("m"))));
  // What another sweep began is not gone on with.
  write(at("e"), 0, 45, 3);
  sweep_.base.fall.terminal_speed = 4;
  const auto file = begin_sweep(at("e"), sweep_, {}, 0);
  ASSERT_FALSE(file);
  EXPECT_NE(describe(file.error().front()).find("what another call began"), std::string::npos);
}

// A part that was cut off, or altered within a row, is refused by name and line; nothing is
// written.
TEST_F(SweepFiles, RefuseRowsThatAreNotWhole) {
  write(at("a"), 0, 20);
  write(at("b"), 20, 45);
  const std::string good = *read_file(at("b"));
  const auto refused_as = [&](const std::string& text) {
    std::ofstream(at("b"), std::ios::trunc) << text;
    const auto problem = merge_sweeps(at("m"), {at("a"), at("b")});
    EXPECT_FALSE(exists(at("m")) || exists(unfinished_path(at("m"))));
    return problem ? describe(*problem) : std::string("not refused");
  };
  EXPECT_NE(refused_as(good.substr(0, good.size() - 1)).find("cut off"), std::string::npos);
  EXPECT_NE(refused_as(good.substr(0, good.size() - 3)).find("cut off"), std::string::npos);
  const std::size_t row = good.find("\n30,") + 1;
  const std::size_t comma = good.find(',', row + 3);
  std::string altered = good;
  altered.erase(comma, 1);
  EXPECT_NE(refused_as(altered).find("columns"), std::string::npos);
  altered = good;
  altered.insert(comma + 1, "1x");
  EXPECT_NE(refused_as(altered).find("expected a number"), std::string::npos);
  altered = good;
  altered.replace(row, 2, "31");
  EXPECT_NE(refused_as(altered).find("does not add up"), std::string::npos);
  altered = good;
  altered.erase(row, good.find('\n', row) + 1 - row);
  EXPECT_NE(refused_as(altered).find("run 30: a part is missing"), std::string::npos);
  std::ofstream(at("b"), std::ios::trunc) << good;
  EXPECT_FALSE(merge_sweeps(at("m"), {at("a"), at("b")}));
}

// Whatever changes a number of a sweep changes its first line: each knob, each value of a range,
// each fact, and all that says how numbers are meant.
TEST_F(SweepFiles, ReportSweepsApartByTheirFirstLine) {
  const Units pixels{{16, "px", true, true}, 60};
  const std::string plain = sweep_header(sweep_, pixels);
  for (const Units& other :
       {Units{{32, "px", true, true}, 60}, Units{{16, "px", false, true}, 60},
        Units{{16, "px", true, false}, 60}, Units{{16, "dots", true, true}, 60},
        Units{{16, "px", true, true}, 50}}) {
    EXPECT_NE(sweep_header(sweep_, other), plain) << other.describe();
  }
  KnobSweep bare = sweep_;
  bare.base = Tuning{};
  const std::string of_bare = sweep_header(bare, pixels);
  for (const Knob& knob : knobs()) {
    KnobSweep changed = bare;
    ASSERT_FALSE(set_knob(changed.base, knob, test::other_value(knob))) << knob.key;
    EXPECT_NE(sweep_header(changed, pixels), of_bare) << knob.key;
  }
  for (std::size_t axis = 0; axis < 2; ++axis) {
    for (std::size_t i = 0; i < sweep_.axes[axis].values.size(); ++i) {
      KnobSweep changed = sweep_;
      double& amount = std::get<double>(changed.axes[axis].values[i]);
      amount = std::nextafter(amount, 9.0);
      EXPECT_NE(sweep_header(changed, pixels), plain) << axis << ' ' << i;
    }
    KnobSweep changed = sweep_;
    changed.axes[axis].values.pop_back();
    EXPECT_NE(sweep_header(changed, pixels), plain) << axis;
    changed = sweep_;
    changed.facts.erase(changed.facts.begin() + static_cast<std::ptrdiff_t>(axis));
    EXPECT_NE(sweep_header(changed, pixels), plain) << axis;
  }
  KnobSweep changed = sweep_;
  std::swap(changed.axes[0], changed.axes[1]);
  EXPECT_NE(sweep_header(changed, pixels), plain);
}

// Each byte of a part's rows, altered, and each row taken out, doubled or exchanged: refused, by
// merge and by whoever goes on with it.
TEST_F(SweepFiles, TrustNoRowThatIsNotAsItWasWritten) {
  write(at("a"), 0, 20);
  write(at("b"), 20, 45);
  const std::string good = *read_file(at("b"));
  std::vector<std::size_t> ends;
  for (std::size_t i = 0; i < good.size(); ++i) {
    if (good[i] == '\n') ends.push_back(i + 1);
  }
  const auto row = [&](std::size_t i) { return good.substr(ends[i], ends[i + 1] - ends[i]); };
  const auto refused = [&](const std::string& text, const std::string& what) {
    std::ofstream(at("b"), std::ios::trunc) << text;
    EXPECT_TRUE(merge_sweeps(at("m"), {at("a"), at("b")})) << what;
    EXPECT_FALSE(exists(at("m")) || exists(unfinished_path(at("m")))) << what;
    std::ofstream(unfinished_path(at("c")), std::ios::trunc) << text;
    EXPECT_FALSE(begin_sweep(at("c"), sweep_, {}, 20)) << what;
    EXPECT_EQ(*read_file(unfinished_path(at("c"))), text) << what;
    std::filesystem::remove(unfinished_path(at("c")));
  };
  for (std::size_t i = ends[3]; i < ends[5]; ++i) {
    std::string altered = good;
    altered[i] = altered[i] == '7' ? '2' : '7';
    refused(altered, "byte " + std::to_string(i));
  }
  refused(good.substr(0, ends[6]) + good.substr(ends[7]), "taken out");
  refused(good.substr(0, ends[7]) + row(6) + good.substr(ends[7]), "doubled");
  refused(good.substr(0, ends[6]) + row(7) + row(6) + good.substr(ends[8]), "exchanged");
  refused(good.substr(0, ends[0]) + good.substr(ends[1]), "without its first");
  // A row of another sweep, though it is in the right place.
  KnobSweep other = sweep_;
  other.base.fall.terminal_speed = 3;
  refused(good.substr(0, ends[6]) + sweep_lines(other, {}, 26, {make_run(other, 26)}) +
              good.substr(ends[7]),
          "of another sweep");
  std::ofstream(unfinished_path(at("c")), std::ios::trunc) << good.substr(0, ends[9]);
  const auto file = begin_sweep(at("c"), sweep_, {}, 20);
  ASSERT_TRUE(file);
  EXPECT_EQ(file->lines_before(), 9U);
}

// Every number that is reported comes back from the file as it was.
TEST_F(SweepFiles, AreReadBack) {
  const Units units{{16, "px", true, true}, 60};
  SweepTable reported = sweep_frame(sweep_, units, 100);
  auto file = begin_sweep(at("px.csv"), sweep_, units, 0);
  ASSERT_TRUE(file);
  for (std::size_t run = 0; run < 45; ++run) {
    const std::vector<SweepRun> one{make_run(sweep_, run)};
    keep_runs(reported, sweep_, units, run, one);
    ASSERT_FALSE(file->append(sweep_lines(sweep_, units, run, one)));
  }
  ASSERT_FALSE(file->finish());
  SweepTable read = sweep_frame(sweep_, units, 100);
  ASSERT_FALSE(read_sweep(at("px.csv"), sweep_, units, read));
  ASSERT_EQ(read.runs.size(), 45U);
  for (std::size_t run = 0; run < 45; ++run) {
    for (std::size_t k = 0; k < 2; ++k)
      EXPECT_NEAR(*read.runs[run][k], *reported.runs[run][k], 1e-9);
  }
  SweepTable some = sweep_frame(sweep_, units, 3);
  ASSERT_FALSE(read_sweep(at("px.csv"), sweep_, units, some));
  EXPECT_EQ(some.runs.size(), 9U);
  EXPECT_NEAR(*some.runs.back()[0], *reported.runs.back()[0], 1e-9);
}

}  // namespace
}  // namespace bushbaby
