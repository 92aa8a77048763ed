#include "bushbaby/lab/complaints.h"

#include <algorithm>
#include <cctype>
#include <cmath>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/core/tuning/compile.h"

namespace bushbaby {
namespace {

constexpr bool kMore = true;
constexpr bool kLess = false;

std::vector<Complaint> make_complaints() {
  return {
      {"floaty",
       "it hangs in the air; you wait for the landing",
       {"moony", "hangs", "slow fall"},
       {{"stand_jump.air_time", kLess}},
       0.12,
       {"stand_jump.height", "hop.height", "run_up.top_speed"},
       "How long a jump takes is what is felt; how high it goes decides what it reaches, and "
       "stays."},
      {"stone",
       "it falls like a stone; there is no time to aim",
       {"heavy", "falls like a stone", "hard landing"},
       {{"stand_jump.landing_speed", kLess}},
       0.12,
       {"stand_jump.height", "stand_jump.apex_time", "run_up.top_speed"},
       "The speed at the end of a fall is what is seen; the way up is not what is complained of."},
      {"high",
       "it jumps too high",
       {"too high", "over everything"},
       {{"stand_jump.height", kLess}},
       0.12,
       {"stand_jump.air_time", "run_up.top_speed"},
       "The height alone; in the same time, so that leaps reach as far as they did."},
      {"low",
       "it does not jump high enough",
       {"too low", "short jump", "weak jump"},
       {{"stand_jump.height", kMore}},
       0.12,
       {"stand_jump.air_time", "run_up.top_speed"},
       "The height alone; in the same time, so that leaps reach as far as they did."},
      {"short",
       "leaps do not reach far enough",
       {"too short", "cannot reach"},
       {{"running_jump.distance", kMore}},
       0.12,
       {"stand_jump.height", "hop.height"},
       "How far a leap goes is speed times time; how high it goes is another matter."},
      {"far",
       "leaps go too far",
       {"too far", "overshoots"},
       {{"running_jump.distance", kLess}},
       0.12,
       {"stand_jump.height", "hop.height"},
       "How far a leap goes is speed times time; how high it goes is another matter."},
      {"tap high",
       "a tap goes nearly as high as a full jump",
       {"tap too high", "no small jumps", "always full"},
       {{"hop.height", kLess}},
       0.15,
       {"stand_jump.height", "stand_jump.apex_time"},
       "The least jump is what a tap gives; the full one is not what is complained of."},
      {"tap low",
       "a tap hardly leaves the ground",
       {"tap too low", "taps are useless"},
       {{"hop.height", kMore}},
       0.15,
       {"stand_jump.height", "stand_jump.apex_time"},
       "The least jump is what a tap gives; the full one is not what is complained of."},
      {"coarse",
       "there are only a few heights to jump",
       {"steps", "all or nothing"},
       {{"hold_ladder.largest_step", kLess}},
       0.15,
       {"stand_jump.height"},
       "The most that holding for a tick longer changes is how finely a height can be chosen."},
      {"stiff",
       "once in the air there is no changing one's mind",
       {"no air control", "committed", "rigid"},
       {{"steer.span", kMore}},
       0.15,
       {"stand_jump.height", "stand_jump.air_time", "run_up.top_speed"},
       "Between the farthest and the nearest place to land lies the room to change one's mind."},
      {"loose",
       "it swims about in the air",
       {"too much air control", "drifts"},
       {{"steer.span", kLess}},
       0.15,
       {"stand_jump.height", "stand_jump.air_time", "run_up.top_speed"},
       "Between the farthest and the nearest place to land lies the room to change one's mind."},
      {"sluggish",
       "it starts to run too slowly",
       {"slow start", "sluggish start", "laggy"},
       {{"run_up.time", kLess}},
       0.25,
       {"run_up.top_speed", "stop.distance"},
       "From the first held tick to top speed is what is felt as a delay."},
      {"jerky",
       "it is at full speed at once",
       {"twitchy", "nervous"},
       {{"run_up.time", kMore}},
       0.25,
       {"run_up.top_speed", "stop.distance"},
       "From the first held tick to top speed is how gently it sets out."},
      {"slow",
       "it does not run fast enough",
       {"too slow", "crawls"},
       {{"run_up.top_speed", kMore}},
       0.12,
       {"run_up.time", "stand_jump.height", "stand_jump.air_time"},
       "The speed alone, reached in the same time; leaps go farther by it."},
      {"fast",
       "it runs too fast to be steered",
       {"too fast", "hectic"},
       {{"run_up.top_speed", kLess}},
       0.12,
       {"run_up.time", "stand_jump.height", "stand_jump.air_time"},
       "The speed alone, reached in the same time; leaps go less far by it."},
      {"slides",
       "it slides too far before it stands",
       {"slippery", "icy", "slides too far", "skids"},
       {{"stop.distance", kLess}},
       0.25,
       {"run_up.top_speed", "run_up.time"},
       "The way from letting go to standing still is what slides past a ledge."},
      {"sticky",
       "it stops dead",
       {"stops dead", "abrupt"},
       {{"stop.distance", kMore}},
       0.25,
       {"run_up.top_speed", "run_up.time"},
       "The way from letting go to standing still is the weight that is missed."},
      {"slow turn",
       "it turns round like a cart",
       {"turns slowly", "wide turn"},
       {{"turn.time", kLess}},
       0.2,
       {"run_up.top_speed", "run_up.time", "stop.distance"},
       "From full speed one way to full speed the other is what a change of mind costs."},
      {"edges",
       "presses at an edge do not count",
       {"unfair at edges", "unfair", "late presses", "missed edges"},
       {{"late_press.window_ticks", kMore}},
       2,
       {"stand_jump.height", "run_up.top_speed"},
       "A press a little after the edge was meant for the edge.",
       {"jump.coyote"}},
      {"eaten",
       "presses just before landing are eaten",
       {"presses eaten", "eats presses", "unresponsive", "early presses"},
       {{"early_press.window_ticks", kMore}},
       2,
       {"stand_jump.height", "run_up.top_speed"},
       "A press a little before the ground was meant for the ground.",
       {"jump.buffer"}},
      {"air jump weak",
       "the jump in the air is hardly worth it",
       {"weak air jump", "second jump weak"},
       {{"air_jump.height", kMore}},
       0.15,
       {"stand_jump.height", "hop.height"},
       "What it gains from where it is pressed is what it is for."},
      {"cannot climb",
       "wall after wall, it gets no higher",
       {"no wall climbing", "wall gives nothing"},
       {{"wall_regain.height", kMore}},
       0.15,
       {"stand_jump.height", "run_up.top_speed"},
       "How much higher the wall is met again after a jump from it decides whether one wall is a "
       "way "
       "up."},
      {"wall jump weak",
       "jumps from walls do not get away from them",
       {"weak wall jump", "stuck to walls"},
       {{"wall_cross.away", kMore}},
       0.15,
       {"stand_jump.height", "run_up.top_speed"},
       "How far from the wall it gets against the steering is what crosses a shaft."},
      {"wall slips",
       "it slips down walls too fast",
       {"slips off walls", "wall slide fast"},
       {{"wall_slide.speed", kLess}},
       0.25,
       {"stand_jump.height", "stand_jump.landing_speed"},
       "The speed along the wall is the time that there is to decide."},
      {"dash short",
       "the dash goes nowhere",
       {"short dash", "weak dash"},
       {{"dash.distance", kMore}},
       0.15,
       {"dash.time", "run_up.top_speed"},
       "The way of a dash is what it is for; longer in the same time is quicker too."},
      {"dash rare",
       "the dash takes too long to come back",
       {"dash waits", "slow dash"},
       {{"dash.cooldown", kLess}},
       3,
       {"dash.distance", "dash.time"},
       "The ticks from the end of one to the start of the next."},
  };
}

std::string plain(std::string_view text) {
  std::string words;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    if (std::isalnum(byte) != 0) {
      words += static_cast<char>(std::tolower(byte));
    } else if (!words.empty() && words.back() != ' ') {
      words += ' ';
    }
  }
  if (!words.empty() && words.back() == ' ') words.pop_back();
  constexpr std::string_view kToo = "too ";
  while (words.compare(0, kToo.size(), kToo) == 0) words.erase(0, kToo.size());
  return words;
}

const FactInfo& info_of(std::string_view fact) {
  const Drill& drill = *drill_of_fact(fact);
  return *std::find_if(drill.facts.begin(), drill.facts.end(),
                       [fact](const FactInfo& info) { return info.name == fact; });
}

bool counts_ticks(const FactInfo& info) { return info.dimension == Dimension::ticks; }

// What is wanted of a fact: by so much more or less than now.
Target wanted_target(const ComplaintFact& fact, double now, double step, double body_height) {
  const FactInfo& info = info_of(fact.fact);
  Target target;
  target.fact = fact.fact;
  double size = std::abs(now);
  // Heights may be negative, or near 0: more by a share of nothing would be nothing.
  constexpr double kOfBody = 0.5;
  if (fact.more && info.dimension == Dimension::length)
    size = std::max(size, kOfBody * body_height);
  const double by = counts_ticks(info) ? step : step * size;
  target.bound = fact.more ? Bound{Bound::Form::at_least, now + by, 0}
                           : Bound{Bound::Form::at_most, 0, now - by};
  if (counts_ticks(info) && !fact.more) target.bound.hi = std::max(target.bound.hi, 1.0);
  return target;
}

Target held_target(std::string_view fact, double now, const Tuning& tuning) {
  constexpr double kWithin = 0.03;
  constexpr double kHalfTick = 0.5;
  constexpr double kLeast = 1e-6;
  Target target;
  target.fact = fact;
  const FactInfo& info = info_of(fact);
  double within = counts_ticks(info) ? kHalfTick : std::max(kWithin * std::abs(now), kLeast);
  // Times that are counted in ticks have none in between.
  constexpr double kOneTick = 1.001;
  if (info.dimension == Dimension::time) {
    within = std::max(within, kOneTick / tuning.loop.tick_rate);
  }
  target.bound = {Bound::Form::aim, now, within};
  return target;
}

std::vector<FreeKnob> knobs_for(const Tuning& tuning, const Complaint& complaint,
                                const std::vector<FreeKnob>& asked) {
  if (!asked.empty()) return asked;
  std::vector<FreeKnob> knobs = free_knobs(tuning);
  for (const std::string_view key : complaint.switches) {
    const auto is_it = [key](const FreeKnob& knob) { return knob.place.knob->key == key; };
    if (std::any_of(knobs.begin(), knobs.end(), is_it)) continue;
    if (const auto knob = free_knob(tuning, *find_place(key))) knobs.push_back(*knob);
  }
  return knobs;
}

std::vector<SideEffect> others_of(const std::vector<DrillReport>& before, const Tuning& after,
                                  const std::vector<Target>& targets) {
  CharacterSubject subject(compile(after).rules);
  const std::vector<DrillReport> reports = run_drills(subject);
  std::vector<SideEffect> others;
  for (std::size_t d = 0; d < before.size(); ++d) {
    for (std::size_t f = 0; f < before[d].facts.size(); ++f) {
      const Fact& a = before[d].facts[f];
      if (f >= reports[d].facts.size()) continue;
      const Fact& b = reports[d].facts[f];
      const bool is_target =
          std::any_of(targets.begin(), targets.end(),
                      [&a](const Target& target) { return target.fact == a.info->name; });
      constexpr double kSeen = 0.01;
      const bool same =
          a.value && b.value && std::abs(*a.value - *b.value) <= kSeen * std::abs(*a.value) + 1e-9;
      if (is_target || same || (!a.value && !b.value)) continue;
      others.push_back({a.info, a.value, b.value});
    }
  }
  return others;
}

std::ptrdiff_t wanted_of(const Answer& answer) {
  return static_cast<std::ptrdiff_t>(answer.wanted);
}

// Choices, and what is switched off: those that break nothing of what is held.
std::vector<Way> ways_by_switches(const Tuning& tuning, const Answer& answer,
                                  const Rounder& round) {
  std::vector<Way> ways;
  for (const Remedy& remedy :
       find_remedies(tuning, answer.targets, answer.before.verdicts.front(), round)) {
    constexpr std::size_t kMost = 3;
    if (!remedy.meets || !remedy.breaks.empty() || ways.size() == kMost) continue;
    KnobMove move;
    move.place = remedy.place;
    move.from = remedy.from;
    move.to = remedy.to;
    Way way{{std::move(move)}, tuning, remedy.change};
    if (set_knob(way.tuning, *remedy.place.knob, remedy.to, remedy.place.row)) continue;
    if (judge(answer.targets, way.tuning).met()) ways.push_back(std::move(way));
  }
  return ways;
}

// Builds the targets of an answer; false, with the reason, if what is complained of is not there.
bool set_targets(Answer& answer, const Tuning& tuning, const AnswerOptions& options,
                 const std::vector<DrillReport>& reports) {
  const Complaint& complaint = *answer.complaint;
  const double step = options.step.value_or(complaint.step);
  for (const ComplaintFact& fact : complaint.facts) {
    const auto now = value_of(reports, fact.fact);
    if (!now) {
      answer.why_not = std::string(fact.fact) + " cannot be measured: the character does not do it";
      return false;
    }
    answer.targets.push_back(wanted_target(fact, *now, step, tuning.body.height));
  }
  answer.wanted = answer.targets.size();
  const auto hold = [&](std::string_view fact) {
    const bool let_go =
        std::find(options.lets_go.begin(), options.lets_go.end(), fact) != options.lets_go.end();
    const bool is_there = std::any_of(answer.targets.begin(), answer.targets.end(),
                                      [fact](const Target& target) { return target.fact == fact; });
    const auto now = value_of(reports, fact);
    if (now && !let_go && !is_there) answer.targets.push_back(held_target(fact, *now, tuning));
  };
  for (const std::string_view fact : complaint.holds) hold(fact);
  for (const std::string& fact : options.holds) hold(fact);
  return true;
}

}  // namespace

const std::vector<Complaint>& complaints() {
  static const std::vector<Complaint> all = make_complaints();
  return all;
}

const Complaint* find_complaint(std::string_view word) {
  const std::string asked = plain(word);
  for (const Complaint& complaint : complaints()) {
    if (plain(complaint.word) == asked) return &complaint;
    for (const std::string_view other : complaint.also) {
      if (plain(other) == asked) return &complaint;
    }
  }
  return nullptr;
}

Answer answer_complaint(const Tuning& tuning, const Complaint& complaint,
                        const AnswerOptions& options) {
  Answer answer;
  answer.complaint = &complaint;
  CharacterSubject subject(compile(tuning).rules, tuning.name);
  const std::vector<DrillReport> reports = run_drills(subject);
  if (!set_targets(answer, tuning, options, reports)) return answer;
  answer.before = judge(answer.targets, tuning);

  WayOptions ways;
  ways.knobs = knobs_for(tuning, complaint, options.knobs);
  ways.round = options.round;
  std::vector<Way> found = find_ways(tuning, answer.targets, ways);
  if (found.empty() && options.knobs.empty())
    found = ways_by_switches(tuning, answer, options.round);
  if (found.empty()) {
    found = find_ways(tuning, {answer.targets.begin(), answer.targets.begin() + wanted_of(answer)},
                      ways);
  }
  for (Way& way : found) {
    AnswerWay one;
    one.after = judge(answer.targets, way.tuning);
    one.others = others_of(reports, way.tuning, answer.targets);
    one.way = std::move(way);
    answer.keeps_held = answer.keeps_held && one.after.met();
    answer.ways.push_back(std::move(one));
  }
  if (answer.ways.empty()) {
    answer.why_not =
        "no one or two of the knobs in use move " + answer.targets.front().fact + " so far";
  }
  return answer;
}

}  // namespace bushbaby
