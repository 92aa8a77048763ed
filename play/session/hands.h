// What the hands hold, between ticks: every press and every release counts, however short.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <deque>
#include <string_view>

#include "bushbaby/core/motion/controls.h"

namespace bushbaby::live {

/// What can be held.
enum class Held : std::uint8_t { left, right, up, down, jump, dash, sprint };
inline constexpr std::size_t kHeldKinds = 7;

[[nodiscard]] std::string_view name_of(Held held) noexcept;

class Hands {
 public:
  void press(Held held);
  void release(Held held);
  /// A stick, -1 … 1 to the right and up; near its middle it counts as released.
  void tilt(double right, double up);
  /// As when the window loses the keyboard.
  void let_all_go();

  /// What the next tick is played with. A button that was pressed and released since the last one
  /// is down for a tick; one released and pressed again is up for a tick first. Of two opposite
  /// directions the one pressed last counts, and over a stick, buttons do.
  [[nodiscard]] Controls take();

 private:
  struct Switch {
    bool down = false;          // in the last tick
    std::deque<bool> changes;   // since then, one for each tick to come
    std::uint64_t pressed = 0;  // when, counted in presses
  };

  void change(Held held, bool down);
  [[nodiscard]] Switch& of(Held held) { return switches_[static_cast<std::size_t>(held)]; }
  [[nodiscard]] std::int8_t direction(Held less, Held more, std::int8_t stick);

  std::array<Switch, kHeldKinds> switches_;
  std::uint64_t presses_ = 0;
  std::int8_t stick_x_ = 0;
  std::int8_t stick_y_ = 0;
};

}  // namespace bushbaby::live
