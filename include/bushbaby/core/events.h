// What happened during a tick, for animation, sound, interface and measurement.
#pragma once

#include <array>
#include <cstdint>
#include <new>
#include <string_view>

#include <bushbaby/core/shapes.h>
#include <bushbaby/core/world.h>

namespace bushbaby {

enum class EventKind : std::uint8_t {
  jumped,          ///< value: the speed along up after launch, u/s; detail: JumpKind
  cut,             ///< the jump was cut; value: the speed along up before it, u/s
  apex,            ///< the speed along up came down to 0 by itself
  landed,          ///< value: the speed into the footing, u/s
  left_ground,     ///< detail: LeaveReason
  wall_touched,    ///< value: the speed into the wall, u/s; detail: 0 on the left, 1 on the right
  wall_left,       ///< detail: as for wall_touched
  bumped_head,     ///< value: the speed into the ceiling, u/s
  coyote_used,     ///< the jump that follows was taken without ground or wall, in the time of grace
  buffer_used,     ///< the jump that follows was asked for by an earlier press
  bounced,         ///< value: the speed along up after it, u/s
  pushed,          ///< value: the speed after it, u/s
  dash_started,    ///< value: its speed, u/s
  dash_ended,      ///< detail: DashEnd; value: the speed that is left, u/s
  locked,          ///< something is not possible for a time; detail: StatusKind
  unlocked,        ///< it is again; detail: StatusKind
  fast_fell,       ///< a fast fall began; value: the speed along down after it, u/s
  charge_started,  ///< the gauge of a jump begins to fill
  charge_lost,     ///< it was emptied without a jump
  let_go,          ///< a wall was left by a row that gives no speed along up
  hold_started,    ///< a wall holds it: it slides, clings or climbs; detail: as for wall_touched
  hold_ended,      ///< it does no more; detail: as for wall_touched
  glide_started,   ///< it falls no faster than a glide does
  glide_ended,
  fast_fall_ended,
  climb_started,  ///< it climbs along a wall, or holds on to it; detail: as for wall_touched
  climb_ended,    ///< it does no more; detail: as for wall_touched
  climbed_over,   ///< a wall ended above it; detail: the same; value: the speed across after, u/s
  pace_started,   ///< the second pace is in force
  pace_ended,     ///< the first one is
};
inline constexpr EventKind kLastEvent = EventKind::pace_ended;

enum class JumpKind : std::uint8_t { ground, air, wall, charged };
enum class LeaveReason : std::uint8_t { jumped, walked_off, lifted, pushed, dashed, climbed };
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

/// "jumped", "cut", …
[[nodiscard]] std::string_view name_of(EventKind kind) noexcept;

struct Event {
  EventKind kind = EventKind::jumped;
  std::uint8_t detail = 0;
  SurfaceId surface = kNoSurface;
  /// The tick during which it happened. Ticks count from 1: tick k lasts from time (k − 1)·dt to
  /// k·dt, and after it the character's `tick` is k.
  std::int64_t tick = 1;
  double fraction = 0;  ///< how far into that tick, 0 … 1; stepped loops know only 0 and 1
  Vec place{0, 0};      ///< feet, u
  double value = 0;     ///< see EventKind
};

/// Details of an event are less than this.
inline constexpr std::uint8_t kEventDetails = 8;

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
