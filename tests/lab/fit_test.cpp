// Fits: targets that were measured of one tuning are met again from another; what cannot be
// together is named.
#include "bushbaby/lab/fit.h"

#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/lab/answer.h"

namespace bushbaby {
namespace {

constexpr std::size_t kTunings = BUSHBABY_SLOW ? 2 : 25;
constexpr std::size_t kContradictions = BUSHBABY_SLOW ? 2 : 20;
constexpr std::size_t kWords = BUSHBABY_SLOW ? 6 : 100;

Duration ticks(double amount) { return {amount, Duration::Unit::ticks}; }

Tuning springy() {
  Tuning tuning;
  tuning.name = "Pip";
  tuning.run.top_speed = 7;
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = Duration{0.38};
  tuning.jump.cut.style = CutStyle::scale;
  tuning.jump.cut.keep = 0.45;
  tuning.jump.coyote = ticks(7);
  tuning.jump.buffer = ticks(8);
  tuning.fall.factor = 1.7;
  return tuning;
}

Target target(const std::string& fact, Bound bound) {
  Target one;
  one.fact = fact;
  one.bound = bound;
  return one;
}
Target aim(const std::string& fact, double at, double within) {
  return target(fact, {Bound::Form::aim, at, within});
}
Target at_least(const std::string& fact, double least) {
  return target(fact, {Bound::Form::at_least, least, 0});
}
Target at_most(const std::string& fact, double most) {
  return target(fact, {Bound::Form::at_most, 0, most});
}

FreeKnob usual(const Tuning& tuning, const char* key) {
  return *free_knob(tuning, *find_place(key));
}

KnobValue value_in(const Tuning& tuning, const char* key) {
  const KnobPlace place = *find_place(key);
  return get_knob(tuning, *place.knob, place.row);
}

// Everything about tunings that is chosen at random.
class Chance {
 public:
  explicit Chance(std::uint64_t seed) : random_(seed) {}

  double between(double lo, double hi) {
    return lo + (hi - lo) * static_cast<double>(random_() >> 11U) * 0x1p-53;
  }
  double by_ratio(double lo, double hi) { return lo * std::pow(hi / lo, between(0, 1)); }
  std::uint64_t of(std::uint64_t count) { return random_() % count; }

  Tuning tuning() {
    Tuning one;
    one.loop.tick_rate = std::round(between(50, 144));
    one.loop.integrator = static_cast<Integrator>(of(4));
    one.run.top_speed = by_ratio(4, 12);
    one.run.ground.accelerate = by_ratio(20, 200);
    one.run.ground.brake = by_ratio(20, 200);
    one.run.air.accelerate = by_ratio(20, 120);
    one.jump.height = by_ratio(1.5, 6);
    one.jump.apex_time = Duration{by_ratio(0.25, 0.6)};
    one.fall.factor = by_ratio(1, 2.5);
    one.jump.cut.style = of(2) == 0 ? CutStyle::scale : CutStyle::weight;
    one.jump.cut.keep = between(0.2, 0.8);
    one.jump.cut.weight = between(1.5, 4);
    one.jump.coyote = ticks(3 + static_cast<double>(of(10)));
    one.jump.buffer = ticks(3 + static_cast<double>(of(10)));
    if (of(2) == 0) one.jump.hang = {between(0.5, 2), between(0.4, 0.9)};
    if (of(2) == 0) one.fall.terminal_speed = between(12, 30);
    return one;
  }

  // Turned by up to 40 %, whole ticks staying whole.
  void scramble(Tuning& tuning, const char* key) {
    const KnobPlace place = *find_place(key);
    const KnobValue value = get_knob(tuning, *place.knob, place.row);
    double amount = *amount_of(value) * std::pow(1.4, between(-1, 1));
    if (is_in_ticks(value)) amount = std::max(1.0, std::round(amount));
    (void)set_knob(tuning, *place.knob, with_amount(value, amount), place.row);
  }

 private:
  std::mt19937_64 random_;
};

// Ten targets that a tuning meets: to 1 % or a tick, windows to the tick, and its leap as a curve.
std::vector<Target> measured_targets(const Tuning& tuning) {
  CharacterSubject subject(compile(tuning).rules);
  const auto reports = run_drills(
      subject, {"stand_jump", "hop", "running_jump", "run_up", "stop", "coyote", "buffer"});
  const double tick = 1 / tuning.loop.tick_rate;
  std::vector<Target> targets;
  const auto add = [&](const char* fact, double least) {
    const double value = value_of(reports, fact).value_or(-1);
    targets.push_back(aim(fact, value, std::max(least, 0.01 * value)));
  };
  for (const char* fact : {"stand_jump.height", "hop.height", "running_jump.distance",
                           "stop.distance", "run_up.top_speed"}) {
    add(fact, 0);
  }
  add("stand_jump.apex_time", tick);
  add("stand_jump.air_time", tick);
  for (const char* fact : {"coyote.window_ticks", "buffer.window_ticks"}) {
    targets.push_back(aim(fact, value_of(reports, fact).value_or(-1), 0));
  }
  const auto jump = record_running_jump(subject, kHeldThroughout);
  Target leap;
  leap.fact = "running_jump";
  Curve curve;
  const std::vector<CurvePoint> arc = arc_points(curve, *jump);
  for (std::size_t i = 0; i < arc.size(); i += std::max<std::size_t>(1, arc.size() / 20)) {
    curve.points.push_back(arc[i]);
  }
  leap.follow = curve;
  leap.bound = {Bound::Form::at_most, 0, 0.02 * jump->arc.height()};
  targets.push_back(leap);
  return targets;
}

TEST(Fits, ScrambledKnobsMeetTheirTargetsAgain) {
  Chance chance(11);
  std::size_t met = 0;
  for (std::size_t i = 0; i < kTunings; ++i) {
    const Tuning truth = chance.tuning();
    const std::vector<Target> targets = measured_targets(truth);
    Tuning scrambled = truth;
    const bool scales = truth.jump.cut.style == CutStyle::scale;
    FitOptions options;
    options.explains = false;
    for (const char* key : {"jump.height", "jump.apex_time", "fall.factor",
                            scales ? "jump.cut.keep" : "jump.cut.weight", "run.top_speed",
                            "run.ground.brake", "jump.coyote", "jump.buffer"}) {
      chance.scramble(scrambled, key);
      options.knobs.push_back(usual(scrambled, key));
    }
    if (!compile(scrambled).ok()) continue;  // keep beyond 1: nothing to start from
    const Fit fit = fit_targets(scrambled, targets, options);
    const Judgement judged = judge(targets, fit.tuning);
    const bool all = std::all_of(judged.verdicts.begin(), judged.verdicts.end(),
                                 [](const Verdict& verdict) { return verdict.met; });
    EXPECT_EQ(all, fit.end == FitEnd::met || fit.end == FitEnd::met_before) << i;
    met += all ? 1U : 0U;
    // Whole ticks are still whole.
    EXPECT_EQ(fit.tuning.jump.coyote.amount, std::round(fit.tuning.jump.coyote.amount));
  }
  EXPECT_GE(met * 100, kTunings * 98);
}

// A height and a time: the closed forms' answer needs no search, in any loop.
TEST(Fits, AHeightAndATimeAreSolved) {
  for (const char* loop : {"exact", "trapezoidal", "semi_implicit", "explicit"}) {
    SCOPED_TRACE(loop);
    Tuning tuning = springy();
    tuning.jump.height.reset();
    tuning.jump.apex_time.reset();
    tuning.jump.gravity = 40;
    tuning.jump.launch_speed = 15;
    ASSERT_FALSE(set_knob(tuning, *find_knob("loop.integrator"), std::string(loop)));
    const std::vector<Target> targets{aim("stand_jump.height", 3, 1e-6),
                                      aim("stand_jump.apex_time", 0.4, 1.0 / 60)};
    FitOptions options;
    options.explains = false;
    options.knobs = {usual(tuning, "jump.gravity"), usual(tuning, "jump.launch_speed")};
    const Fit fit = fit_targets(tuning, targets, options);
    EXPECT_EQ(fit.end, FitEnd::met);
    EXPECT_EQ(fit.starts, 1);
    EXPECT_LT(fit.evaluations, 60);  // to look whether less would do, and for short numbers
  }
}

TEST(Fits, WhatIsMetIsLeftAlone) {
  const Tuning tuning = springy();
  const Fit fit = fit_targets(tuning, {aim("stand_jump.height", 3.25, 0.01)}, {});
  EXPECT_EQ(fit.end, FitEnd::met_before);
  EXPECT_EQ(fit.evaluations, 1);
  EXPECT_TRUE(fit.knobs.empty());
}

// One knob was turned: that one alone is turned back, though seven more may be.
TEST(Fits, FewKnobsAreTurned) {
  const Tuning truth = springy();
  const std::vector<Target> targets = measured_targets(truth);
  for (const char* key : {"jump.height", "fall.factor", "run.top_speed", "jump.coyote"}) {
    SCOPED_TRACE(key);
    Tuning tuning = truth;
    const KnobPlace place = *find_place(key);
    const KnobValue value = value_in(truth, key);
    const double turned = is_in_ticks(value) ? 4 : *amount_of(value) * 1.3;
    ASSERT_FALSE(set_knob(tuning, *place.knob, with_amount(value, turned), place.row));
    const Fit fit = fit_targets(tuning, targets, {});
    ASSERT_EQ(fit.end, FitEnd::met);
    for (const KnobMove& move : fit.knobs) {
      EXPECT_EQ(!(move.from == move.to), move.place.key() == key) << move.place.key();
    }
    // In a number as short as a person's.
    const double expected = *amount_of(value_in(truth, key));
    EXPECT_NEAR(*amount_of(value_in(fit.tuning, key)), expected, 0.011 * expected);
  }
}

// A window that is switched off is switched on in ticks, and no wider than it must be.
TEST(Fits, WindowsAreSwitchedOnInTicks) {
  Tuning tuning = springy();
  tuning.jump.coyote = {};
  tuning.loop.integrator = Integrator::semi_implicit;
  FitOptions options;
  options.knobs = {usual(tuning, "jump.coyote"), usual(tuning, "jump.height")};
  const Fit fit = fit_targets(
      tuning, {at_least("coyote.window_ticks", 5), at_most("stand_jump.height", 3)}, options);
  ASSERT_EQ(fit.end, FitEnd::met);
  EXPECT_EQ(fit.tuning.jump.coyote, ticks(5));
  // What is not turned stays as it was written.
  const Fit other = fit_targets(tuning, {at_most("stand_jump.height", 3)}, options);
  EXPECT_EQ(other.tuning.jump.coyote, Duration{});
}

TEST(Fits, BoundsAreKept) {
  const Tuning tuning = springy();
  const FreeKnob height{*find_place("jump.height"), 2, 3};
  FitOptions options;
  options.knobs = {height};
  const Fit fit = fit_targets(tuning, {at_least("stand_jump.height", 4)}, options);
  EXPECT_EQ(fit.end, FitEnd::missed);
  EXPECT_EQ(*fit.tuning.jump.height, 3);  // though the tuning itself is beyond
  EXPECT_TRUE(fit.knobs.front().at_hi);
  ASSERT_EQ(fit.conflicts.size(), 1U);
  ASSERT_EQ(fit.conflicts.front().targets.size(), 1U);
  EXPECT_NEAR(*fit.conflicts.front().nearest.front(), 3, 1e-6);
}

TEST(Fits, TheSameOnAnyNumberOfCoresAndAgain) {
  const Tuning truth = springy();
  const std::vector<Target> targets = measured_targets(truth);
  Tuning tuning = truth;
  Chance chance(5);
  for (const char* key : {"jump.height", "jump.apex_time", "fall.factor", "run.top_speed"}) {
    chance.scramble(tuning, key);
  }
  std::vector<Fit> fits;
  for (const std::size_t threads : {1U, 2U, 2U}) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    fits.push_back(fit_targets(tuning, targets, {}));
  }
  for (const Fit& fit : fits) {
    EXPECT_EQ(fit.evaluations, fits.front().evaluations);
    ASSERT_EQ(fit.knobs.size(), fits.front().knobs.size());
    for (std::size_t i = 0; i < fit.knobs.size(); ++i) {
      EXPECT_TRUE(fit.knobs[i].to == fits.front().knobs[i].to);
    }
  }
}

TEST(Fits, ABudgetIsKept) {
  const Tuning truth = springy();
  const std::vector<Target> targets = measured_targets(truth);
  Tuning tuning = truth;
  Chance chance(5);
  for (const char* key : {"jump.height", "jump.apex_time", "fall.factor"}) {
    chance.scramble(tuning, key);
  }
  FitOptions options;
  options.explains = false;
  for (const char* key : {"jump.height", "jump.apex_time", "fall.factor", "run.top_speed"}) {
    options.knobs.push_back(usual(tuning, key));
  }
  for (const int most : {1, 5, 20, 40}) {
    options.most_evaluations = most;
    const Fit fit = fit_targets(tuning, targets, options);
    // The last round of slopes, and the shortening of numbers, are made to their ends.
    EXPECT_LE(fit.evaluations, most + 40);
    EXPECT_TRUE(fit.end == FitEnd::met || fit.end == FitEnd::out_of_budget);
  }
}

// What turning a knob does is what it does.
TEST(Fits, SlopesAreMeasured) {
  Tuning tuning = springy();
  FitOptions options;
  options.knobs = {usual(tuning, "jump.height"), usual(tuning, "jump.coyote"),
                   usual(tuning, "run.top_speed")};
  const std::vector<Target> targets{aim("stand_jump.height", 4, 0.01),
                                    at_least("coyote.window_ticks", 5)};
  const Fit fit = fit_targets(tuning, targets, options);
  ASSERT_EQ(fit.end, FitEnd::met);
  ASSERT_EQ(fit.slopes.size(), 3U);
  for (const Slope& slope : fit.slopes) {
    const std::string key = slope.place.key();
    EXPECT_NEAR(*slope.change[0], key == "jump.height" ? 0.4 : 0, 1e-6) << key;
    EXPECT_NEAR(*slope.change[1], key == "jump.coyote" ? 1 : 0, 1e-9) << key;
    if (key == "jump.height") {
      EXPECT_NEAR(*fit.knobs[0].leeway, 1.0025, 1e-4);
    } else {
      EXPECT_FALSE(fit.knobs[static_cast<std::size_t>(&slope - fit.slopes.data())].leeway);
    }
  }
}

// ---- what cannot be together --------------------------------------------------------------------

struct Contradiction {
  const char* name;
  std::vector<Target> apart;  ///< each can be met, but not all
  std::vector<const char*> knobs;
};

std::vector<Contradiction> contradictions() {
  const std::vector<const char*> jump{"jump.height", "jump.apex_time", "jump.cut.keep",
                                      "fall.factor"};
  const std::vector<const char*> run{"run.top_speed", "run.ground.accelerate", "run.ground.brake"};
  const auto between = [](const char* fact, double lo, double hi) {
    return target(fact, {Bound::Form::between, lo, hi});
  };
  return {
      {"a hop above the jump",
       {at_most("stand_jump.height", 3), at_least("hop.height", 3.3)},
       jump},
      {"an apex after the landing",
       {at_most("stand_jump.air_time", 0.4), at_least("stand_jump.apex_time", 0.5)},
       jump},
      {"two heights of one jump",
       {aim("stand_jump.height", 3, 0.05), aim("running_jump.height", 4, 0.05)},
       jump},
      {"two air times of one jump",
       {aim("stand_jump.air_time", 0.5, 0.01), aim("running_jump.air_time", 0.7, 0.01)},
       jump},
      {"faster on average than at most",
       {at_most("run_up.top_speed", 6), at_least("running_jump.mean_speed", 7)},
       run},
      {"far in no time",
       {aim("running_jump.mean_speed", 7, 0.1), at_most("running_jump.air_time", 0.4),
        at_least("running_jump.distance", 4)},
       {"run.top_speed", "jump.height", "jump.apex_time", "fall.factor"}},
      {"a lowest rung above the highest",
       {at_least("hold_heights.lowest", 3), at_most("hold_heights.highest", 2.5)},
       jump},
      {"a stop with no way",
       {aim("run_up.top_speed", 8, 0.1), aim("stop.time", 0.2, 0.01),
        at_most("stop.distance", 0.4)},
       run},
      {"a start with no way",
       {aim("run_up.top_speed", 8, 0.1), at_least("run_up.time", 0.3),
        at_most("run_up.distance", 0.6)},
       run},
      {"a high slow launch",
       {aim("stand_jump.height", 4, 0.05), aim("stand_jump.apex_time", 0.3, 0.01),
        at_most("stand_jump.launch_speed", 20)},
       jump},
      {"a soft landing from high up, soon",
       {aim("stand_jump.height", 4, 0.05), at_most("stand_jump.landing_speed", 10),
        at_most("stand_jump.air_time", 0.8)},
       {"jump.height", "jump.apex_time", "fall.factor"}},
      {"a window in two sizes",
       {aim("coyote.window_ticks", 5, 0), at_least("coyote.window_ms", 120)},
       {"jump.coyote"}},
      {"a memory in two sizes",
       {aim("buffer.window_ticks", 5, 0), at_least("buffer.window_ms", 120)},
       {"jump.buffer"}},
      {"far past the edge, soon",
       {at_most("coyote.window_ticks", 4), at_least("coyote.past_edge", 2),
        at_most("run_up.top_speed", 9)},
       {"jump.coyote", "run.top_speed"}},
      {"a hop that takes longer",
       {at_least("hop.air_time", 0.8), at_most("stand_jump.air_time", 0.7)},
       jump},
      {"a hop that turns later",
       {at_least("hop.apex_time", 0.5), at_most("stand_jump.apex_time", 0.4)},
       jump},
      {"one top speed twice",
       {aim("run_up.top_speed", 6, 0.1), aim("running_jump.mean_speed", 8, 0.1)},
       run},
      {"down before it is up",
       {aim("stand_jump.apex_time", 0.4, 0.01), at_most("running_jump.air_time", 0.35)},
       jump},
      {"a turn with no way",
       {aim("run_up.top_speed", 8, 0.1), at_least("turn.reversal_time", 0.2),
        at_most("turn.overshoot", 0.6)},
       {"run.top_speed", "run.ground.turn"}},
      {"two ranges that do not meet",
       {between("stand_jump.height", 2, 2.5), between("running_jump.height", 3, 3.5)},
       jump},
  };
}

TEST(Fits, TheSmallestContradictionIsNamed) {
  const Tuning tuning = springy();
  std::vector<Contradiction> all = contradictions();
  all.resize(kContradictions);
  for (const Contradiction& one : all) {
    SCOPED_TRACE(one.name);
    // Among others that have nothing to do with it.
    std::vector<Target> targets = one.apart;
    const std::size_t apart = targets.size();
    targets.push_back(at_least("drop.time", 0.1));
    targets.push_back(at_most("impact.gap", 0.01));
    FitOptions options;
    for (const char* key : one.knobs) options.knobs.push_back(usual(tuning, key));
    const Fit fit = fit_targets(tuning, targets, options);
    EXPECT_EQ(fit.end, FitEnd::missed);
    ASSERT_FALSE(fit.conflicts.empty());
    std::vector<const Target*> named = fit.conflicts.front().targets;
    std::sort(named.begin(), named.end());
    ASSERT_EQ(named.size(), apart);
    for (std::size_t i = 0; i < apart; ++i) EXPECT_EQ(named[i], &targets[i]);
    // Each would be missed if the others are met, but not by anything.
    for (std::size_t i = 0; i < apart; ++i) {
      const Target& member = *fit.conflicts.front().targets[i];
      const auto nearest = fit.conflicts.front().nearest[i];
      ASSERT_TRUE(nearest);
      EXPECT_FALSE(is_met(member.bound, *nearest)) << member.fact;
    }
  }
}

// ---- few knobs ----------------------------------------------------------------------------------

Tuning with_everything(Chance& chance) {
  Tuning tuning = chance.tuning();
  tuning.run.ground.turn = chance.by_ratio(40, 250);
  tuning.jump.air_jumps.count = 1;
  tuning.jump.air_jumps.height = chance.by_ratio(1, 4);
  tuning.wall.slide_speed = chance.by_ratio(1, 6);
  WallExit off;
  off.away = chance.by_ratio(4, 10);
  off.up = chance.by_ratio(8, 18);
  off.steer_lock = ticks(static_cast<double>(chance.of(10)));
  tuning.wall.exits = {off};
  tuning.dash.charges = 1;
  tuning.dash.distance = chance.by_ratio(2, 5);
  tuning.dash.time = Duration{chance.by_ratio(0.1, 0.3)};
  tuning.dash.cooldown = ticks(4 + static_cast<double>(chance.of(20)));
  return tuning;
}

bool is_all_met(const Judgement& judgement) {
  return std::all_of(judgement.verdicts.begin(), judgement.verdicts.end(),
                     [](const Verdict& verdict) { return verdict.met; });
}

// Each word moves its facts by its step, and what it holds stays: measured again. Where it cannot,
// it says of what it lets go, or why there is no way.
TEST(Complaints, AreAnsweredByFewKnobs) {
  Chance chance(23);
  std::vector<Complaint> words = complaints();
  words.resize(std::min(words.size(), kWords));
  int answered = 0;
  int asked = 0;
  for (int i = 0; i < 2; ++i) {
    const Tuning tuning = i == 0 ? springy() : with_everything(chance);
    for (const Complaint& complaint : words) {
      SCOPED_TRACE(std::string(complaint.word) + " of " + std::to_string(i));
      const Answer answer = answer_complaints(tuning, {&complaint}, {});
      if (answer.targets.empty()) {  // what it is about is not there
        EXPECT_FALSE(answer.why_not.empty());
        continue;
      }
      ++asked;
      EXPECT_EQ(answer.options.empty(), !answer.why_not.empty());
      if (!answer.options.empty() && answer.keeps_all) ++answered;
      for (const AnswerOption& one : answer.options) {
        EXPECT_LE(one.change.knobs.size(), 2U);
        const Judgement judged = judge(answer.targets, one.change.tuning);
        for (std::size_t k = 0; k < answer.asked; ++k) EXPECT_TRUE(judged.verdicts[k].met);
        EXPECT_TRUE(!answer.keeps_all || is_all_met(judged));
        // Nothing else than those knobs was turned.
        Tuning turned = tuning;
        for (const KnobMove& move : one.change.knobs) {
          ASSERT_FALSE(set_knob(turned, *move.place.knob, move.to, move.place.row));
        }
        for (const KnobPlace& place : places_of(turned)) {
          EXPECT_TRUE(get_knob(turned, *place.knob, place.row) ==
                      get_knob(one.change.tuning, *place.knob, place.row))
              << place.key();
        }
      }
    }
  }
  EXPECT_GE(answered * 100, asked * 90) << answered << " of " << asked;
}

TEST(Complaints, AreUnderstoodByAllTheirPhrases) {
  const auto read = [](const std::string& text) { return read_complaint(text).complaint; };
  for (const Complaint& complaint : complaints()) {
    EXPECT_EQ(read(std::string(complaint.word)), &complaint) << complaint.word;
    for (const std::string_view phrase : complaint.has) {
      EXPECT_EQ(read(std::string(phrase)), &complaint) << phrase;
      EXPECT_EQ(read("  It is too " + std::string(phrase) + "! "), &complaint) << phrase;
    }
    for (const std::string_view phrase : complaint.lacks) {
      EXPECT_EQ(read("no " + std::string(phrase)), &complaint) << phrase;
      EXPECT_EQ(read("There is not enough " + std::string(phrase)), &complaint) << phrase;
    }
    if (!complaint.opposite.empty()) {
      const Complaint* opposite = find_complaint(complaint.opposite);
      ASSERT_NE(opposite, nullptr) << complaint.opposite;
      EXPECT_EQ(opposite->opposite, complaint.word);
    }
    for (const ComplaintFact& fact : complaint.facts) {
      EXPECT_NE(drill_of_fact(fact.fact), nullptr) << fact.fact;
    }
    for (const std::string_view fact : complaint.keeps) {
      EXPECT_NE(drill_of_fact(fact), nullptr) << fact;
    }
    for (const std::string_view key : complaint.switches) EXPECT_NE(find_knob(key), nullptr) << key;
  }
}

TEST(Complaints, AreUnderstoodAsPeopleSayThem) {
  const std::pair<const char*, const char*> said[] = {
      {"less floaty", "floaty"},
      {"more floaty", "heavy"},
      {"not floaty enough", "heavy"},
      {"it hangs in the air too long", "floaty"},
      {"wall jump too weak", "wall jump weak"},
      {"eats my jump", "eaten"},
      {"jumps get eaten", "eaten"},
      {"falls too fast", "heavy"},
      {"gravity too strong", "heavy"},
      {"lower gravity", "heavy"},
      {"jump feels delayed", "delayed jump"},
      {"sticks to walls", "wall sticky"},
      {"no control in the air", "stiff"},
      {"too much air control", "loose"},
      {"air control too low", "stiff"},
      {"The jumps aren\xE2\x80\x99t high enough", "low"},
      {"doesn't jump high enough", "low"},
      {"it should jump higher", "low"},
      {"jump lower", "high"},
      {"can't reach", "short"},
      {"faster", "slow"},
      {"slower", "fast"},
      {"doesn't slide enough", "stops dead"},
      {"coyote time too short", "edges"},
      {"shorter coyote time", "edges loose"},
      {"longer dash", "dash short"},
      {"dash not long enough", "dash short"},
      {"dashes too often", "dash often"},
      {"too few heights", "coarse"},
      {"tighter controls", "sluggish"},
      {"short hop too high", "tap high"},
      {"double jump not high enough", "air jump weak"},
  };
  for (const auto& [text, word] : said) {
    const Complaint* complaint = read_complaint(text).complaint;
    ASSERT_NE(complaint, nullptr) << text;
    EXPECT_EQ(complaint->word, word) << text;
  }
  for (const char* text : {"", "purple", "too", "air control", "the cape is too floaty", "not"}) {
    EXPECT_EQ(read_complaint(text).complaint, nullptr) << text;
  }
  EXPECT_EQ(read_complaint("wall jmp weak").near.front()->word, "wall jump weak");
  EXPECT_EQ(read_complaint("air control").near.front()->word, "stiff");
  EXPECT_TRUE(read_complaint(std::string(1000000, 'a')).near.empty());
  std::string many;
  for (int i = 0; i < 100000; ++i) many += "floaty ";
  EXPECT_EQ(read_complaint(many).complaint, nullptr);
}

TEST(Complaints, AreAnsweredTogether) {
  const Tuning tuning = springy();
  const Answer answer = answer_complaints(
      tuning, {find_complaint("floaty"), find_complaint("slides"), find_complaint("edges")}, {});
  ASSERT_FALSE(answer.options.empty()) << answer.why_not;
  EXPECT_EQ(answer.asked, 3U);
  for (const AnswerOption& one : answer.options) {
    for (std::size_t k = 0; k < answer.asked; ++k) EXPECT_TRUE(one.after.verdicts[k].met);
  }
  EXPECT_TRUE(answer.keeps_all);
  const Answer torn =
      answer_complaints(tuning, {find_complaint("high"), find_complaint("low")}, {});
  EXPECT_TRUE(torn.options.empty());
  EXPECT_EQ(torn.why_not, "these complaints pull stand_jump.height both ways");
}

// What is switched off is switched on in ticks; a choice is made where no number helps.
TEST(Complaints, AreAnsweredBySwitches) {
  Tuning tuning = springy();
  tuning.jump.coyote = {};
  const Answer edges = answer_complaints(tuning, {find_complaint("edges")}, {});
  ASSERT_FALSE(edges.options.empty());
  EXPECT_EQ(edges.options.front().change.tuning.jump.coyote, ticks(2));
  tuning.jump.cut.style = CutStyle::none;
  const Answer taps = answer_complaints(tuning, {find_complaint("tap high")}, {});
  ASSERT_FALSE(taps.options.empty());
  EXPECT_TRUE(taps.keeps_all);
  EXPECT_NE(taps.options.front().change.tuning.jump.cut.style, CutStyle::none);
}

TEST(Complaints, KeepAndAllowWhatIsAskedFor) {
  const Complaint& floaty = *find_complaint("floaty");
  AnswerRequest options;
  options.share = 0.2;
  options.keeps = {"running_jump.distance"};
  options.allows = {"hop.height"};
  const Answer answer = answer_complaints(springy(), {&floaty}, options);
  std::vector<std::string> facts;
  for (const Target& one : answer.targets) facts.push_back(one.fact);
  EXPECT_EQ(std::count(facts.begin(), facts.end(), "running_jump.distance"), 1);
  EXPECT_EQ(std::count(facts.begin(), facts.end(), "hop.height"), 0);
  CharacterSubject pip(compile(springy()).rules);
  const double air_time = *value_of(run_drills(pip, {"stand_jump"}), "stand_jump.air_time");
  EXPECT_NEAR(answer.targets.front().bound.hi, 0.8 * air_time, 1e-9);
}

// A miss that each knob alone mends only by breaking something else.
TEST(Changes, TwoKnobsBreakNothing) {
  Tuning tuning = springy();
  tuning.jump.height.reset();
  tuning.jump.apex_time.reset();
  tuning.jump.gravity = 43.75;
  tuning.jump.launch_speed = 17.5;
  const std::vector<Target> targets{aim("stand_jump.height", 3, 0.05),
                                    aim("stand_jump.apex_time", 0.4, 0.01),
                                    aim("run_up.top_speed", 7, 0.1)};
  const Judgement before = judge(targets, tuning);
  for (const Remedy& remedy : find_remedies(tuning, targets, before.verdicts.front())) {
    EXPECT_FALSE(remedy.meets && remedy.breaks.empty()) << remedy.place.key();
  }
  const auto changes = find_quiet_changes(tuning, before, before.verdicts.front(), {});
  ASSERT_FALSE(changes.empty());
  EXPECT_EQ(changes.front().knobs.size(), 2U);
  EXPECT_TRUE(is_all_met(judge(targets, changes.front().tuning)));
}

}  // namespace
}  // namespace bushbaby
