// How a solid travels: between stops, back and forth or in a loop, as a function of time.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

/// The way of a solid that travels, as it is written down.
struct PlatformPath {
  /// u, where it goes from where it is drawn, one stop after another; at least one.
  std::vector<Vec> stops;
  bool loop = false;  ///< from the last stop straight back to the first; else back as it came
  /// u/s along its way on the average, rests apart; more than 0.
  double speed = 0;
  /// s for which it rests: one for every stop; two, if it goes back and forth, for either end; or
  /// one for each, where it is drawn being the first.
  std::vector<double> waits;
  bool ease = false;  ///< gathers speed where it has rested, or turns, and loses it before
  double offset = 0;  ///< s: how far on its timetable it is at tick 0
};

/// What is wrong with the way of a moving platform.
enum class PathFault {
  no_stops,
  bad_place,    ///< a stop that is not finite
  stop_twice,   ///< in a row, or nearer to the one before than anything can report (1e-9 u)
  bad_speed,    ///< not more than 0, or one at which it takes more than 1e12 s
  bad_wait,     ///< negative, or not finite
  wrong_waits,  ///< as many as fit no such list
};

/// The first thing wrong with it, if anything is.
[[nodiscard]] std::optional<PathFault> find_fault(const PlatformPath& path) noexcept;

/// u of its way: to the last stop, or once round.
[[nodiscard]] double length_of(const PlatformPath& path) noexcept;

/// s for which it rests at a stop; where it is drawn is number 0. `waits` must be without fault.
[[nodiscard]] double wait_at(const PlatformPath& path, std::size_t stop) noexcept;

/// The timetable of a moving platform, made once: where it is at any time. It begins where it is
/// drawn, with the rest there.
class Timetable {
 public:
  /// `path` must be without fault.
  explicit Timetable(const PlatformPath& path);

  /// u from where it is drawn, `time` s after tick 0; any finite time, be it negative.
  [[nodiscard]] Vec place_at(double time) const noexcept;

  /// s after which it begins again.
  [[nodiscard]] double period() const noexcept { return period_; }

  /// u: holds every place it comes to.
  [[nodiscard]] const Box& bounds() const noexcept { return bounds_; }

 private:
  // A rest, and then the way to the next one.
  struct Run {
    double begins;  // s
    double rests;   // s
    double lasts;   // s, on the way
    double from;    // u along the way
    double to;
  };

  [[nodiscard]] Vec place_along(double length) const noexcept;
  [[nodiscard]] double time_at_start() const noexcept;
  [[nodiscard]] double length_in(const Run& run, double time) const noexcept;

  std::vector<Vec> way_;         // all of it, until it is back where it began
  std::vector<double> lengths_;  // u along the way up to each place of it
  std::vector<Run> runs_;
  Box bounds_;
  double period_ = 0;
  double ahead_ = 0;  // s of the runs that lie behind it at tick 0
  bool eases_ = false;
};

}  // namespace bushbaby
