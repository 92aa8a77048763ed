// A trace: what happened, tick by tick; and the arcs in it.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/motion/character.h>
#include <bushbaby/core/motion/controls.h>
#include <bushbaby/core/motion/events.h>
#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

/// The state at the end of a tick. Sample 0 is the state before the first.
struct Sample {
  std::int64_t tick = 0;  ///< ticks done
  Vec feet{0, 0};         ///< u
  Vec velocity{0, 0};     ///< u/s
  Stance stance = Stance::falling;
  bool grounded = false;
  Controls held;  ///< during the tick that ended here
  Vec up{0, 1};   ///< unit vector along which the body stands
  double gap =
      0;  ///< u vertically between the feet and what they rest on; 0 in the air, or unknown
};

/// Where to show the feet: on what they rest on.
[[nodiscard]] Vec visible_feet(const Sample& sample) noexcept;

struct Trace {
  double tick_rate = 60;    ///< Hz
  bool true_curve = false;  ///< the motion between samples is known: events carry fractions
  std::vector<Sample> samples;
  std::vector<Event> events;  ///< in order of time

  [[nodiscard]] double time_of(const Sample& sample) const noexcept {
    return static_cast<double>(sample.tick) / tick_rate;
  }
};

/// A number that changes when any field of any sample or event does, down to the last bit, but for
/// the gap: FNV-1a over the fields, 64 bits.
[[nodiscard]] std::uint64_t hash_of(const Trace& trace) noexcept;

/// Where to show what happened at `place` during a tick: on what the feet rest on, if they rest
/// there before or after it.
[[nodiscard]] Vec visible_place(const Trace& trace, std::int64_t tick, Vec place) noexcept;

/// What happened, in a few words: "landed", "jumped (ground)".
[[nodiscard]] std::string title_of(const Event& event);

/// Take-off to landing. With a true curve, the moments inside ticks count; otherwise the samples.
struct Arc {
  bool from_jump = false;    ///< false: walked off or otherwise lost its ground
  double take_off_time = 0;  ///< s since the trace began
  Vec take_off{0, 0};        ///< feet, u
  double launch_speed = 0;   ///< u/s vertically; 0 if not from a jump
  double apex_time = 0;      ///< s since the trace began
  Vec apex{0, 0};            ///< the place of the feet that is highest along `up`, u
  bool landed = false;       ///< false: the trace ends in the air; the fields below are 0
  double landing_time = 0;   ///< s since the trace began
  Vec landing{0, 0};         ///< feet, u
  double landing_speed = 0;  ///< u/s into the ground
  bool from_climb = false;   ///< it climbed off the ground, along a wall
  Vec up{0, 1};              ///< unit vector along which the body stood when it left the ground

  /// Of a place over the take-off, along that up; and how far to the right of it.
  [[nodiscard]] double height_of(Vec place) const noexcept {
    return (place.x - take_off.x) * up.x + (place.y - take_off.y) * up.y;
  }
  [[nodiscard]] double distance_of(Vec place) const noexcept {
    return (place.x - take_off.x) * up.y - (place.y - take_off.y) * up.x;
  }
  [[nodiscard]] double height() const noexcept {
    const double height = height_of(apex);
    return height > 0 ? height : 0;  // of no rise, without the sign that a product may leave
  }
  [[nodiscard]] double rise_time() const noexcept { return apex_time - take_off_time; }
  [[nodiscard]] double air_time() const noexcept { return landing_time - take_off_time; }
  [[nodiscard]] double distance() const noexcept { return distance_of(landing); }
};

/// Every arc of a trace, in order of time, from its events.
[[nodiscard]] std::vector<Arc> find_arcs(const Trace& trace);

/// The points of an arc in order of time: its samples, and its take-off, apex and landing.
struct ArcPoint {
  double time = 0;  ///< s since the trace began
  Vec feet{0, 0};   ///< u
};
[[nodiscard]] std::vector<ArcPoint> points_of(const Trace& trace, const Arc& arc);

/// Events for a trace that has none, from `grounded` and the path alone: leaving the ground
/// upward counts as a jump, the highest sample as the apex, the first grounded one as the landing.
[[nodiscard]] std::vector<Event> infer_events(const Trace& trace);

}  // namespace bushbaby
