#include "press_windows.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace bushbaby::detail {
namespace {

void add(WindowReading& reading, double off, bool worked) {
  ++reading.presses;
  if (worked) {
    reading.longest_in = std::max(reading.longest_in.value_or(off), off);
  } else {
    reading.shortest_out = std::min(reading.shortest_out.value_or(off), off);
  }
}

class WindowReader {
 public:
  WindowReader(const Recording& recording, const Flights& flights)
      : points_(recording.points), standing_(flights.standing) {
    for (const RecordedPoint& point : points_) {
      times_.push_back(point.time);
      heights_.push_back(point.feet.y);
    }
    spacing_ = spacing_of(times_);
    noise_ = flights.noise;
  }

  WindowReadings read() {
    std::size_t i = 1;
    while (i < points_.size()) {
      if (standing_[i] || !standing_[i - 1]) {
        ++i;
        continue;
      }
      std::size_t lands = i;
      while (lands < points_.size() && !standing_[lands]) ++lands;
      read_coyote(i, lands);
      if (lands < points_.size()) read_buffer(i, lands);
      i = lands;
    }
    return found_;
  }

 private:
  // Whether the button went down between the point before and this one.
  [[nodiscard]] bool pressed(std::size_t i) const {
    return i > 0 && points_[i].jump && !points_[i - 1].jump;
  }

  // The vertical speed over a few points from there on.
  [[nodiscard]] std::optional<double> speed_from(std::size_t i, std::size_t end) const {
    constexpr std::size_t kPoints = 5;
    if (i + kPoints > end) return std::nullopt;
    return fit_parabola(times_, heights_, i, i + kPoints, times_[i]).slope;
  }

  // Of a body that left the ground at `leaves`, without a press: its first press.
  void read_coyote(std::size_t leaves, std::size_t lands) {
    if (pressed(leaves) || pressed(leaves - 1) || rises(leaves, lands)) return;
    for (std::size_t i = leaves + 1; i < lands; ++i) {
      if (!pressed(i)) continue;
      const auto after = speed_from(i, lands);
      if (!after) return;
      // The ground was lost, and the button pressed, between the points before and these.
      add(found_.coyote, times_[i] - times_[leaves], *after > 0 && lifts(i, lands));
      return;
    }
  }

  // Whether it left the ground upward.
  [[nodiscard]] bool rises(std::size_t leaves, std::size_t lands) const {
    constexpr double kRises = 5;
    if (leaves + 1 >= lands) return false;
    return heights_[leaves] > heights_[leaves - 1] + kRises * noise_;
  }

  // Whether it comes higher than it was at a point.
  [[nodiscard]] bool lifts(std::size_t i, std::size_t lands) const {
    constexpr double kRises = 5;
    double top = heights_[i];
    for (std::size_t k = i; k < lands; ++k) top = std::max(top, heights_[k]);
    return top > heights_[i - 1] + kRises * noise_;
  }

  // The last press before a landing, if it did nothing in the air.
  void read_buffer(std::size_t leaves, std::size_t lands) {
    constexpr double kLongest = 0.6;  // s
    std::size_t press = lands;
    while (press > leaves + 1 && !pressed(press)) --press;
    if (!pressed(press) || press <= leaves + 1 || press >= lands) return;
    // The jump comes a point after the landing.
    const double off = times_[lands] - times_[press] + spacing_;
    if (off > kLongest || lifts(press, lands)) return;
    // It jumps at once, or stands.
    std::size_t end = lands;
    while (end < points_.size() && standing_[end]) ++end;
    const double stands = times_[std::min(end, points_.size() - 1)] - times_[lands];
    constexpr double kAtOnce = 2.5;
    constexpr double kStands = 0.1;  // s
    if (end < points_.size() && stands <= kAtOnce * spacing_ && rises_after(end)) {
      add(found_.buffer, off, true);
    } else if (stands > kStands) {
      add(found_.buffer, off, false);
    }
  }

  [[nodiscard]] bool rises_after(std::size_t end) const {
    const auto speed = speed_from(end, points_.size());
    return speed && *speed > 0;
  }

  const std::vector<RecordedPoint>& points_;
  const std::vector<bool>& standing_;
  std::vector<double> times_, heights_;
  double spacing_ = 0;
  double noise_ = 0;
  WindowReadings found_;
};

}  // namespace

WindowReadings read_windows(const Recording& recording, const Flights& flights) {
  if (!recording.has_jump) return {};
  return WindowReader(recording, flights).read();
}

}  // namespace bushbaby::detail
