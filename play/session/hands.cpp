#include "hands.h"

#include <cmath>

namespace bushbaby::live {

std::string_view name_of(Held held) noexcept {
  static constexpr std::string_view kNames[] = {"left", "right", "up",    "down",
                                                "jump", "dash",  "sprint"};
  return kNames[static_cast<std::size_t>(held)];
}

void Hands::change(Held held, bool down) {
  Switch& one = of(held);
  const bool last = one.changes.empty() ? one.down : one.changes.back();
  if (last == down) return;         // a key that repeats
  constexpr std::size_t kMost = 6;  // ticks that a drumming finger may be ahead
  if (one.changes.size() >= kMost) {
    one.changes.pop_back();
    return;
  }
  one.changes.push_back(down);
  if (down) one.pressed = ++presses_;
}

void Hands::press(Held held) { change(held, true); }
void Hands::release(Held held) { change(held, false); }

void Hands::tilt(double right, double up) {
  constexpr double kMiddle = 0.2;  // of the way: no hand holds a stick stiller
  stick_x_ = std::abs(right) < kMiddle ? std::int8_t{0} : direction_from(right);
  stick_y_ = std::abs(up) < kMiddle ? std::int8_t{0} : direction_from(up);
}

void Hands::let_all_go() {
  for (std::size_t i = 0; i < kHeldKinds; ++i) change(static_cast<Held>(i), false);
  stick_x_ = stick_y_ = 0;
}

std::int8_t Hands::direction(Held less, Held more, std::int8_t stick) {
  constexpr std::int8_t kFull = 127;
  const Switch& a = of(less);
  const Switch& b = of(more);
  if (a.down && b.down) return a.pressed > b.pressed ? std::int8_t{-kFull} : kFull;
  if (a.down) return -kFull;
  return b.down ? kFull : stick;
}

Controls Hands::take() {
  for (Switch& one : switches_) {
    if (one.changes.empty()) continue;
    one.down = one.changes.front();
    one.changes.pop_front();
  }
  Controls controls;
  controls.x = direction(Held::left, Held::right, stick_x_);
  controls.y = direction(Held::down, Held::up, stick_y_);
  controls.jump = of(Held::jump).down;
  controls.dash = of(Held::dash).down;
  controls.sprint = of(Held::sprint).down;
  return controls;
}

}  // namespace bushbaby::live
