#include "rehearsal.h"

#include <algorithm>
#include <cassert>
#include <limits>

namespace bushbaby::detail {

bool prepare(Subject& subject, const Stage& stage) {
  return subject.can_stand_on(stage.terrain) && subject.place(stage);
}

Measured facts_of(const Drill& drill, std::initializer_list<double> values) {
  assert(values.size() == drill.facts.size());
  Measured measured;
  const double* value = values.begin();
  for (const FactInfo& info : drill.facts) measured.facts.push_back({&info, 0 + *value++, ""});
  return measured;
}

void give(Measured& measured, std::string_view fact, double value, bool or_more) {
  for (Fact& one : measured.facts) {
    if (one.info->name == fact) one = {one.info, 0 + value, "", or_more};
  }
}

Measured no_facts(const Drill& drill, const std::string& why_not) {
  Measured measured;
  for (const FactInfo& info : drill.facts) measured.facts.push_back({&info, std::nullopt, why_not});
  return measured;
}

std::optional<double> run_up_room(Subject& subject) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return std::nullopt;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  const double start = rehearsal.now().feet.x;
  if (!rehearsal.run_up()) return std::nullopt;
  return rehearsal.now().feet.x - start;
}

bool take_off(Rehearsal& rehearsal, Controls& held) {
  constexpr double kLongestCharge = 2;  // s
  const auto leaves = [](const Sample&, const Sample& now) { return !now.grounded; };
  held.jump = true;
  if (rehearsal.hold_until(held, kLongestCharge, leaves)) return true;
  held.jump = false;
  return rehearsal.hold_until(held, kPatience / rehearsal.tick_rate(), leaves);
}

bool jump_to_apex(Rehearsal& rehearsal) {
  Controls held = kJump;
  if (!take_off(rehearsal, held)) return false;
  return rehearsal.hold_until(
      held, kAirSeconds, [](const Sample&, const Sample& now) { return !(now.velocity.y > 0); });
}

int count_jumps(Rehearsal& rehearsal, Controls held, int most) {
  // A fall of that long in which presses do nothing has no more jumps in it.
  constexpr double kNoMore = 3;  // s
  const auto patience = static_cast<int>(kNoMore * rehearsal.tick_rate());
  int in_vain = 0;
  int jumps = 0;
  bool down = true;  // released first
  // Pressed on every other tick of a fall until landing, since a jump lifts no body that rises as
  // fast already; an interval between jumps only takes more presses.
  rehearsal.hold_each(
      kAirSeconds,
      [&](const Sample& before, const Sample& now) {
        const bool jumped = down && rose(before, now);
        if (jumped) ++jumps;
        in_vain = jumped || now.velocity.y > 0 ? 0 : in_vain + 1;
        return now.grounded || jumps == most || in_vain > patience;
      },
      [&] {
        down = held.jump = !down && !(rehearsal.now().velocity.y > 0);
        return held;
      });
  return jumps;
}

int count_air_jumps(Subject& subject) {
  if (!prepare(subject, floor_stage(size_of(subject)))) return 0;
  Rehearsal rehearsal(subject);
  rehearsal.settle();
  return jump_to_apex(rehearsal) ? count_jumps(rehearsal, kNothing) : 0;
}

double highest_from(const Trace& trace, std::int64_t tick) {
  double top = -std::numeric_limits<double>::max();
  for (const Sample& sample : trace.samples) {
    if (sample.tick >= tick) top = std::max(top, sample.feet.y);
  }
  for (const Event& event : trace.events) {
    const bool within = event.fraction > 0 && event.fraction < 1;
    if (event.tick > tick && within) top = std::max(top, event.place.y);
  }
  return top;
}

}  // namespace bushbaby::detail
