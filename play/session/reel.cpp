#include "reel.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "bushbaby/lab/subject.h"

namespace bushbaby::live {

bool is_at_rest(const Character& character) noexcept {
  constexpr double kStill = 0.01;  // u/s: a damped run ends in a long creep
  return character.grounded() && character.charge_held == 0 && character.dash_left == 0 &&
         std::abs(character.velocity.x) < kStill && std::abs(character.velocity.y) < kStill;
}

void Reel::restart(const Character& character) {
  before_ = character;
  ticks_.clear();
}

void Reel::add(ReelTick tick) {
  ticks_.push_back(std::move(tick));
  if (ticks_.size() <= most_) return;
  before_ = ticks_.front().after;
  ticks_.pop_front();
}

void Reel::put(const Character& character) {
  (ticks_.empty() ? before_ : ticks_.back().after) = character;
}

void Reel::cut_after(std::int64_t tick) {
  const auto kept = static_cast<std::size_t>(std::max<std::int64_t>(tick - first(), 0));
  while (ticks_.size() > kept) ticks_.pop_back();
}

const Character& Reel::at(std::int64_t tick) const {
  return tick <= first() ? before_ : this->tick(tick).after;
}

const ReelTick& Reel::tick(std::int64_t tick) const {
  return ticks_[static_cast<std::size_t>(tick - first() - 1)];
}

std::int64_t Reel::start_of_take(std::int64_t tick) const {
  std::int64_t at_tick = std::min(tick, last());
  // Standing still after a take still belongs to it.
  while (at_tick > first() && is_at_rest(at(at_tick))) --at_tick;
  while (at_tick > first() && !is_at_rest(at(at_tick))) --at_tick;
  return at_tick;
}

std::vector<Controls> Reel::held(std::int64_t after, std::int64_t to) const {
  std::vector<Controls> all;
  for (std::int64_t i = std::max(after, first()) + 1; i <= std::min(to, last()); ++i) {
    all.push_back(tick(i).held);
  }
  return all;
}

Trace Reel::trace(std::int64_t from, std::int64_t to, double tick_rate, bool true_curve) const {
  Trace trace;
  trace.tick_rate = tick_rate;
  trace.true_curve = true_curve;
  from = std::max(from, first());
  to = std::min(to, last());
  trace.samples.push_back(sample_of(at(from)));
  for (std::int64_t i = from + 1; i <= to; ++i) {
    const ReelTick& one = tick(i);
    trace.samples.push_back(sample_of(one.after));
    trace.samples.back().held = one.held;
    trace.events.insert(trace.events.end(), one.events.begin(), one.events.end());
  }
  return trace;
}

}  // namespace bushbaby::live
