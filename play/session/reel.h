// The reel: the last while of play, tick by tick, to go back in and to look at.
#pragma once

#include <cstddef>
#include <cstdint>
#include <deque>
#include <vector>

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/motion/why.h"
#include "bushbaby/lab/overlay.h"
#include "bushbaby/lab/trace.h"

#include "desk.h"

namespace bushbaby::live {

/// A tick that was played.
struct ReelTick {
  Character after;
  Controls held;
  std::vector<Event> events;
  Explanation why;
  TickNote note;
  InForce whose = InForce::present;
  std::uint64_t version = 0;  ///< of what was in force
};

/// Whether a body stands still: what is played from then on is a new take.
[[nodiscard]] bool is_at_rest(const Character& character) noexcept;

class Reel {
 public:
  /// Keeps N ticks; older ones are forgotten.
  explicit Reel(std::size_t most) : most_(most) {}

  /// Begins again with a character before its first tick.
  void restart(const Character& character);
  void add(ReelTick tick);
  /// The last tick ended with the character otherwise: it was put somewhere by hand.
  void put(const Character& character);
  /// Strikes out all ticks after that one.
  void cut_after(std::int64_t tick);

  [[nodiscard]] std::int64_t first() const noexcept { return before_.tick; }
  [[nodiscard]] std::int64_t last() const noexcept {
    return first() + static_cast<std::int64_t>(ticks_.size());
  }
  /// The state at the end of a tick from `first` to `last`.
  [[nodiscard]] const Character& at(std::int64_t tick) const;
  /// A tick after `first`, up to `last`.
  [[nodiscard]] const ReelTick& tick(std::int64_t tick) const;

  /// The last tick at whose end the body stood still before it moved on, up to `tick`: where the
  /// take that it belongs to begins. The first of the reel if it never did.
  [[nodiscard]] std::int64_t start_of_take(std::int64_t tick) const;

  /// What was held from the tick after one to another.
  [[nodiscard]] std::vector<Controls> held(std::int64_t after, std::int64_t to) const;

  /// The ticks from one to another, as a trace.
  [[nodiscard]] Trace trace(std::int64_t from, std::int64_t to, double tick_rate,
                            bool true_curve) const;

 private:
  std::size_t most_;
  Character before_;  // the first tick that is kept
  std::deque<ReelTick> ticks_;
};

}  // namespace bushbaby::live
