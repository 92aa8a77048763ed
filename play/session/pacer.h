// Which ticks are due: fixed steps, whatever the frame rate.
#pragma once

namespace bushbaby::live {

class Pacer {
 public:
  explicit Pacer(double tick_rate) : tick_rate_(tick_rate) {}

  /// The ticks that are due after N seconds more. What is longer than a quarter of a second,
  /// as after a window was dragged, is not made up for.
  [[nodiscard]] int due(double seconds);

  /// How much of the tick to come has passed, 0 … 1: frames are drawn between ticks.
  [[nodiscard]] double share() const noexcept { return share_; }

  void set_tick_rate(double tick_rate) noexcept { tick_rate_ = tick_rate; }
  /// 1: as fast as it is; 0.25: slow motion.
  void set_speed(double speed) noexcept { speed_ = speed; }
  [[nodiscard]] double speed() const noexcept { return speed_; }

 private:
  double tick_rate_;
  double speed_ = 1;
  double share_ = 0;
};

}  // namespace bushbaby::live
