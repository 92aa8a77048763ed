#include "bushbaby/lab/rates.h"

#include <algorithm>
#include <cmath>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/lab/derive.h"
#include "bushbaby/lab/drills.h"

namespace bushbaby {
namespace {

std::string rate_text(double rate) {
  std::string text = std::to_string(rate);
  text.erase(text.find_last_not_of('0') + 1);
  if (text.back() == '.') text.pop_back();
  return text + " Hz";
}

std::string loop_text(const Tuning& tuning) {
  const auto name = std::get<std::string>(get_knob(tuning, *find_knob("loop.integrator")));
  const bool late =
      tuning.loop.integrator != Integrator::exact && !tuning.loop.gravity_on_launch_tick;
  return late ? name + ", no gravity on launch" : name;
}

// The standing jump of a tuning that does not charge.
std::optional<Arc> plain_jump(Tuning tuning) {
  tuning.jump.charge = {};
  tuning.run.auto_run = AutoRun::none;
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return std::nullopt;
  CharacterSubject subject(compiled.rules);
  const auto jump = record_standing_jump(subject, kHeldThroughout);
  return jump ? std::optional(jump->arc) : std::nullopt;
}

}  // namespace

std::vector<LoopVariant> loop_variants(const Tuning& base, const std::vector<double>& rates) {
  std::vector<LoopVariant> variants;
  const auto add = [&variants](std::string name, Tuning tuning) {
    Compiled compiled = compile(tuning);
    if (!compiled.ok()) return;
    variants.push_back({std::move(name), std::move(tuning), std::move(compiled.roundings)});
  };
  add(rate_text(base.loop.tick_rate) + ", " + loop_text(base), base);
  for (const double rate : rates) {
    if (rate != base.loop.tick_rate) add(rate_text(rate), at_tick_rate(base, rate));
  }
  for (const Integrator integrator : {Integrator::exact, Integrator::trapezoidal,
                                      Integrator::semi_implicit, Integrator::explicit_step}) {
    for (const bool on_launch : {true, false}) {
      Tuning tuning = base;
      tuning.loop.integrator = integrator;
      tuning.loop.gravity_on_launch_tick = on_launch;
      // The exact loop knows no such difference.
      if (integrator == Integrator::exact && !on_launch) continue;
      if (loop_text(tuning) == loop_text(base)) continue;
      add(loop_text(tuning), tuning);
    }
  }
  return variants;
}

std::optional<KeptJump> keep_jump(const Tuning& base, const Tuning& other) {
  const auto target = plain_jump(base);
  const auto now = plain_jump(other);
  constexpr double kSame = 1e-9;
  if (!target || !now || std::abs(now->height() - target->height()) <= kSame * target->height()) {
    return std::nullopt;
  }
  ArcAsk ask;
  ask.jump.height = target->height();
  ask.jump.apex_time = target->rise_time();
  const auto derived = derive(other, ask);
  if (!derived) return std::nullopt;
  return KeptJump{derived->constants.launch_speed, derived->constants.gravity,
                  derived->achieved.height, derived->achieved.apex_time};
}

std::vector<Compared> compare_loops(const std::vector<LoopVariant>& loops,
                                    const std::vector<std::string>& only) {
  std::vector<Variant> variants;
  for (const LoopVariant& loop : loops) {
    CharacterSubject subject(compile(loop.tuning).rules, loop.name);
    Variant variant;
    variant.facts = run_drills(subject, only);
    variants.push_back(std::move(variant));
  }
  return compare_facts(variants);
}

Drift find_drift(const Trace& a, const Trace& b, double within) {
  Drift drift;
  const double ratio = b.tick_rate / a.tick_rate;
  for (std::size_t i = 0; i < a.samples.size(); ++i) {
    const double place = static_cast<double>(i) * ratio;
    const double whole = std::round(place);
    constexpr double kSameTime = 1e-9;
    if (std::abs(place - whole) > kSameTime * std::max(1.0, place)) continue;
    const auto j = static_cast<std::size_t>(whole);
    if (j >= b.samples.size()) break;
    const Vec way = b.samples[j].feet - a.samples[i].feet;
    const double apart = std::hypot(way.x, way.y);
    drift.compared = static_cast<double>(i) / a.tick_rate;
    drift.farthest = std::max(drift.farthest, apart);
    if (!drift.apart && apart > within) drift.apart = drift.compared;
  }
  return drift;
}

UnevenSubject::UnevenSubject(Subject& subject, double jitter, std::uint32_t seed)
    : subject_(subject), jitter_(jitter), seed_(seed) {}

bool UnevenSubject::accepts(Subject& subject) {
  const SubjectTraits traits = subject.traits();
  return subject.place(floor_stage(traits.body_height)) &&
         subject.advance_for({}, 0.5 / traits.tick_rate);
}

bool UnevenSubject::place(const Stage& stage) {
  state_ = seed_;
  is_second_ = false;
  return subject_.place(stage);
}

void UnevenSubject::advance(const Controls& controls) {
  if (!is_second_) {
    // A linear congruence, with the constants of Knuth's MMIX; its high bits are the random ones.
    state_ = state_ * 6364136223846793005ULL + 1442695040888963407ULL;
    constexpr double kLargest = 4294967296.0;
    share_ = jitter_ * static_cast<double>(state_ >> 32U) / kLargest;
  }
  const double tick = 1 / subject_.traits().tick_rate;
  const double step = tick * (is_second_ ? 1 - share_ : 1 + share_);
  is_second_ = !is_second_;
  if (!subject_.advance_for(controls, step)) subject_.advance(controls);
}

}  // namespace bushbaby
