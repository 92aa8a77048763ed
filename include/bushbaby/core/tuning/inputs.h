// Inputs: what is held, and for how long or until what.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include <bushbaby/core/motion/controls.h>
#include <bushbaby/core/tuning/tuning.h>

namespace bushbaby {

/// What inputs can wait for. It is looked for at the end of every tick.
enum class Cue : std::uint8_t {
  landed,    ///< the body comes to the ground
  airborne,  ///< it has no ground
  falling,   ///< it has no ground and does not rise, and no dash carries it
  wall,      ///< it meets a wall, or is held by one
  edge,      ///< its ground ends: it leaves it without a jump
  still,     ///< it stands, and did not move in the tick
  x,         ///< the feet come to a place, or pass it
  y,         ///< the same along y
};

/// Waiting for a moment.
struct Wait {
  Cue cue = Cue::landed;
  double place = 0;  ///< u; of `x` and `y`
  /// How long after the moment the span ends; negative: so long before it.
  Duration shift{0, Duration::Unit::ticks};
  Duration limit{10};  ///< for how long it is waited for
};

/// Something held, for a time or until a moment.
struct InputSpan {
  Controls held;
  Duration lasts;               ///< unless it waits
  std::optional<Wait> until{};  ///< what it lasts to, then
  int line = 0;                 ///< of the file it was read from; 0: from none
};

[[nodiscard]] constexpr bool operator==(const Wait& a, const Wait& b) noexcept {
  return a.cue == b.cue && a.place == b.place && a.shift == b.shift && a.limit == b.limit;
}

/// Wherever they were read from.
[[nodiscard]] constexpr bool operator==(const InputSpan& a, const InputSpan& b) noexcept {
  if (a.until.has_value() != b.until.has_value()) return false;
  return a.held == b.held && (a.until ? *a.until == *b.until : a.lasts == b.lasts);
}

struct Inputs {
  std::vector<InputSpan> spans;
};

/// Whether any of them waits: then what is held in which tick depends on who plays them (see
/// bushbaby/lab/playing.h).
[[nodiscard]] bool has_waits(const Inputs& inputs) noexcept;

/// How many ticks inputs last at `tick_rate` Hz, however long they are; those that wait are not
/// counted.
[[nodiscard]] std::int64_t ticks_in(const Inputs& inputs, double tick_rate) noexcept;

/// Longer runs than this are not made: a trace keeps every tick, and this many fill some 100 MB.
inline constexpr std::int64_t kMostRunTicks = 1000000;

/// Where spans end, in whole ticks: each on the tick nearest to the sum of the durations since the
/// start, or since the last one that waited, so that rounding does not add up and the same inputs
/// press at common times at every rate.
class SpanEnds {
 public:
  explicit SpanEnds(double tick_rate) noexcept : tick_rate_(tick_rate) {}

  /// The tick in which the next span ends, which lasts so long.
  std::int64_t after(const Duration& lasts) noexcept;
  /// The next span begins behind that tick.
  void restart(std::int64_t tick) noexcept;

 private:
  double tick_rate_;
  double ticks_ = 0;  // whole ticks and seconds are summed apart: sums of ticks stay exact
  double time_ = 0;
};

/// The controls of every tick at `tick_rate` Hz. Inputs that wait, or of more than `kMostRunTicks`,
/// are a broken precondition.
[[nodiscard]] std::vector<Controls> controls_of(const Inputs& inputs, double tick_rate);

/// The inputs that hold those controls, in spans of whole ticks.
[[nodiscard]] Inputs inputs_of(const std::vector<Controls>& controls);

}  // namespace bushbaby
