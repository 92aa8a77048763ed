// Zones: places of a level in which a character moves by other rules. A zone is never solid.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/duration.h>
#include <bushbaby/core/world/surface.h>

namespace bushbaby {

/// Names a zone of a world; stable for as long as the world lives.
using ZoneId = std::uint32_t;

/// A character is in at most N zones at once.
inline constexpr std::size_t kMostZones = 8;

/// Some zones: their ids in ascending order, the rest kNoZone.
using ZoneSet = std::array<ZoneId, kMostZones>;
inline constexpr ZoneId kNoZone = 0xffffffffu;

/// No zones.
[[nodiscard]] constexpr ZoneSet no_zones() noexcept {
  ZoneSet set{};
  for (ZoneId& zone : set) zone = kNoZone;
  return set;
}

/// What of a body must be in a zone for the body to be in it.
enum class Contains : std::uint8_t { feet, centre, any_part };

/// What the motion step needs of a zone, apart from the rules in it.
struct ZoneTraits {
  Contains contains = Contains::centre;
  double exit_margin = 0.05;  ///< u beyond its border up to which a body that was in it stays in it
  double keep_vertical = 1;   ///< share of the vertical speed that entering leaves
  double keep_horizontal = 1;  ///< the same across
  bool is_fluid = false;       ///< whether a body swims in it: something may be leapt out of
  bool has_touch = false;      ///< whether `touch` counts
  Touch touch;                 ///< what entering it does
  Vec middle{0, 0};            ///< u, where pushes from a source come from; a level works it out
};

/// A knob that is another in a zone; see the table of knobs for its key.
struct Override {
  std::string knob;
  bool scales = false;  ///< the value is a factor on what the knob is without the zone
  /// Nothing: the knob is omitted, if it may be.
  std::variant<std::monostate, double, bool, Duration, std::string> value = 0.0;
};

/// Which way is down in a zone, and how a body comes to stand that way.
struct Turning {
  enum class To : std::uint8_t {
    nothing,    ///< down is what it is without the zone
    direction,  ///< down is the same everywhere
    point,      ///< down is towards a point
  };
  To to = To::nothing;
  Vec down{0, -1};          ///< unit vector
  Vec point{0, 0};          ///< u
  double rate = 540;        ///< degrees/s, about the body's centre; infinite: at once
  bool speed_turns = true;  ///< whether the speed of a body in the air turns with it
  bool by_screen = false;  ///< directions are held as the screen shows them, not as the body stands
};

/// What fills a zone that is swum in.
struct Fluid {
  double buoyancy = 0;      ///< u/s² vertically
  double drag = 0;          ///< 1/s: what of a vertical speed is lost to the current in a second
  Vec current{0, 0};        ///< u/s
  double dive = 0;          ///< u/s downwards that holding down goes towards; 0: it does nothing
  double stroke = 0;        ///< u that a jump within it rises from rest; 0: there is none
  Duration stroke_every{};  ///< least time between two of them
  double exit_jump = 0;     ///< u that a jump at its surface rises; 0: there is none
  bool restores = false;    ///< restores air jumps and dashes
};

/// The unit vector that is turned against the clock by N degrees from straight down, the same
/// bits everywhere: 0 is down, 90 right, 180 up, -90 left.
[[nodiscard]] Vec way_from_down(double degrees) noexcept;

/// A zone as it is written down.
struct Zone {
  std::string name;            ///< may be empty
  Box box;                     ///< u; counts if there are no corners
  std::vector<Vec> corners{};  ///< u, of a simple outline, either way round
  int priority =
      0;  ///< of zones that a body is in at once, those of higher priority have the last word
  ZoneTraits traits{};
  std::vector<Override> overrides{};
  Turning turning{};
  std::optional<Fluid> fluid{};
};

}  // namespace bushbaby
