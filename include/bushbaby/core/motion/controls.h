// What the player holds during one tick.
#pragma once

#include <cstdint>

namespace bushbaby {

/// Controls of one tick. Directions are whole steps of 1/127, so that inputs written as text and a
/// stick read by a game mean the same bits.
struct Controls {
  std::int8_t x = 0;  ///< -127 (full left) … 127 (full right)
  std::int8_t y = 0;  ///< -127 (full down) … 127 (full up)
  bool jump = false;
  bool dash = false;
  bool sprint = false;  ///< the sprint button
};

[[nodiscard]] constexpr bool operator==(const Controls& a, const Controls& b) noexcept {
  return a.x == b.x && a.y == b.y && a.jump == b.jump && a.dash == b.dash && a.sprint == b.sprint;
}
[[nodiscard]] constexpr bool operator!=(const Controls& a, const Controls& b) noexcept {
  return !(a == b);
}

/// A direction counts as held, for whatever a tick decides, from half of it on, so that the noise
/// of a stick presses nothing.
inline constexpr std::int8_t kHeldStep = 64;

/// The step nearest to `share` of a full direction; `share` is clamped to -1 … 1, and anything
/// that is not a number counts as 0.
[[nodiscard]] std::int8_t direction_from(double share) noexcept;

/// The share of full direction, -1 … 1, that a step stands for.
[[nodiscard]] double direction_share(std::int8_t step) noexcept;

}  // namespace bushbaby
