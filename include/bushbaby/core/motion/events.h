// What happened during a tick, for animation, sound, interface and measurement.
#pragma once

#include <array>
#include <cstdint>
#include <new>
#include <string_view>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

/// `event_meanings()` says of each what it reports, and what its detail and its value are.
enum class EventKind : std::uint8_t {
  jumped,
  cut,
  apex,
  landed,
  left_ground,
  wall_touched,
  wall_lost,
  bumped_head,
  coyote_used,
  buffer_used,
  bounced,
  pushed,
  dash_started,
  dash_ended,
  locked,
  unlocked,
  fast_fell,
  charge_started,
  charge_lost,
  wall_released,
  wall_grabbed,
  wall_grab_ended,
  glide_started,
  glide_ended,
  fast_fall_ended,
  climb_started,
  climb_ended,
  climbed_over,
  sprint_started,
  sprint_ended,
  nudged,
  entered,
  left,
  crushed,
};
inline constexpr std::size_t kEventKinds = 34;

enum class JumpKind : std::uint8_t {
  ground,
  air,
  wall,
  charged,
  stroke,     ///< within a fluid
  exit_jump,  ///< at its surface
};
enum class LeaveReason : std::uint8_t {
  jumped,
  walked_off,
  lifted,
  pushed,
  dashed,
  climbed,
  dropped,
};
enum class DashEnd : std::uint8_t { done, blocked, jumped, pushed };

/// "jumped", "walked_off", …
[[nodiscard]] std::string_view name_of(LeaveReason reason) noexcept;

/// What can be impossible for a character for a time.
enum class StatusKind : std::uint8_t {
  no_control,  ///< nothing that is held or pressed counts, and nothing drives the run
  stun,        ///< nothing that is held or pressed counts; the run brakes
  no_jump,     ///< no jump of any kind
  slow,        ///< a part of top speed
  no_cling,    ///< no wall holds the body: it neither slides nor clings
  slow_fall,   ///< a part of gravity while falling, and of terminal speed
};
inline constexpr std::size_t kStatusKinds = 6;

/// "no_control", "stun", …
[[nodiscard]] std::string_view name_of(StatusKind kind) noexcept;

struct Event {
  EventKind kind = EventKind::jumped;
  std::uint8_t detail = 0;
  SurfaceId surface = kNoSurface;  ///< of `entered` and `left`, the zone
  /// The tick during which it happened. Ticks count from 1: tick k lasts from time (k − 1)·dt to
  /// k·dt, and after it the character's `tick` is k.
  std::int64_t tick = 1;
  double fraction = 0;  ///< how far into that tick, 0 … 1; stepped loops know only 0 and 1
  Vec place{0, 0};      ///< feet, u
  double value = 0;     ///< see EventMeaning
};

/// What the value of an event is.
enum class EventValue : std::uint8_t {
  none,    ///< nothing: 0
  speed,   ///< u/s
  reason,  ///< the game's own number for why
  zone,    ///< the number of a zone of the level, counted from 1
};

/// Details of an event are less than this.
inline constexpr std::size_t kEventDetails = 7;

/// What a kind of event reports.
struct EventMeaning {
  EventKind kind;
  std::string_view name;
  std::string_view reports;  ///< what happened
  std::array<std::string_view, kEventDetails>
      words;  ///< its details, in order; empty: there is none
  EventValue value;
  std::string_view value_is;  ///< which speed, or what number; empty if there is no value
};

/// Every kind of event, in order.
[[nodiscard]] const std::array<EventMeaning, kEventKinds>& event_meanings() noexcept;

[[nodiscard]] const EventMeaning& meaning_of(EventKind kind) noexcept;

/// "jumped", "cut", …
[[nodiscard]] std::string_view name_of(EventKind kind) noexcept;

/// The detail in a word ("ground", "walked_off", "left"), or empty if the kind has none.
[[nodiscard]] std::string_view detail_of(const Event& event) noexcept;

/// The time of an event, in s.
[[nodiscard]] constexpr double time_of(const Event& event, double tick_rate) noexcept {
  return (static_cast<double>(event.tick - 1) + event.fraction) / tick_rate;
}

/// The events of one tick, in order. Holds at most 16; `overflowed` says that there were more.
class Events {
 public:
  static constexpr std::size_t kMost = 16;

  // A tick makes one of these, mostly to stay empty: places that hold no event are never written.
  Events() noexcept {}  // NOLINT(modernize-use-equals-default): the union needs a body
  Events(const Events& other) noexcept { *this = other; }
  Events& operator=(const Events& other) noexcept {
    if (this == &other) return *this;
    count_ = 0;
    for (const Event& event : other) add(event);
    overflowed_ = other.overflowed_;
    return *this;
  }
  ~Events() = default;

  void add(const Event& event) noexcept {
    if (count_ < kMost) {
      new (&list_[count_++]) Event(event);
    } else {
      overflowed_ = true;
    }
  }

  [[nodiscard]] std::size_t size() const noexcept { return count_; }
  [[nodiscard]] bool empty() const noexcept { return count_ == 0; }
  [[nodiscard]] bool overflowed() const noexcept { return overflowed_; }
  [[nodiscard]] const Event& operator[](std::size_t i) const noexcept { return list_[i]; }
  [[nodiscard]] const Event* begin() const noexcept { return list_.data(); }
  [[nodiscard]] const Event* end() const noexcept { return list_.data() + count_; }
  [[nodiscard]] Event* begin() noexcept { return list_.data(); }
  [[nodiscard]] Event* end() noexcept { return list_.data() + count_; }

 private:
  union {
    std::array<Event, kMost> list_;
  };
  std::size_t count_ = 0;
  bool overflowed_ = false;
};

}  // namespace bushbaby
