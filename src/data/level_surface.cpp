#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr std::array<NumberField<SurfaceTraits>, 4> kSurfaceNumbers{
    {{"grip", &SurfaceTraits::grip, {0, kMostAmount}, Dimension::ratio},
     {"conveyor", &SurfaceTraits::conveyor, {-kMostAmount, kMostAmount}, Dimension::speed},
     {"bounce", &SurfaceTraits::bounce, {0, 1}, Dimension::ratio},
     {"bounce_speed", &SurfaceTraits::bounce_speed, {0, kMostAmount}, Dimension::speed}}};
constexpr std::array<FlagField<SurfaceTraits>, 3> kSurfaceFlags{{{"ground", &SurfaceTraits::ground},
                                                                 {"cling", &SurfaceTraits::cling},
                                                                 {"jump", &SurfaceTraits::jump}}};
constexpr std::array<NumberField<SurfaceTraits>, 2> kHandedOver{
    {{"horizontal", &SurfaceTraits::inherit_horizontal, {0, kMostAmount}, Dimension::ratio},
     {"vertical", &SurfaceTraits::inherit_vertical, {0, kMostAmount}, Dimension::ratio}}};
constexpr std::array<NumberField<Touch>, 7> kTouchNumbers{
    {{"stun", &Touch::stun, {0, kMostAmount}, Dimension::time},
     {"no_jump", &Touch::no_jump, {0, kMostAmount}, Dimension::time},
     {"slow", &Touch::slow, {0, kMostAmount}, Dimension::time},
     {"slow_share", &Touch::slow_share, {0, kMostAmount}, Dimension::ratio},
     {"no_cling", &Touch::no_cling, {0, kMostAmount}, Dimension::time},
     {"slow_fall", &Touch::slow_fall, {0, kMostAmount}, Dimension::time},
     {"slow_fall_share", &Touch::slow_fall_share, {0, kMostAmount}, Dimension::ratio}}};
constexpr std::array<std::string_view, 3> kFrameNames{"world", "facing", "away"};

// Reads the tables of one solid's surface; notes what is wrong with them.
class SurfaceReader : private FieldReader {
 public:
  using FieldReader::FieldReader;

  void read_surface(const toml::node& node, SurfaceTraits& traits) {
    const toml::table* table = as_table(node, "surface");
    if (table == nullptr) return;
    for (const auto& [key, value] : *table) {
      const std::string name = "surface." + std::string(key.str());
      if (read_number(kSurfaceNumbers, key.str(), value, name, traits)) continue;
      if (read_flag(kSurfaceFlags, key.str(), value, name, traits)) continue;
      if (key.str() == "inherit") {
        read_inherit(value, name, traits);
        continue;
      }
      problems_.unknown(
          key, std::string(key.str()),
          {"grip", "conveyor", "bounce", "bounce_speed", "inherit", "ground", "cling", "jump"});
    }
  }

  void read_touch(const toml::node& node, bool& has_touch, Touch& touch) {
    const toml::table* table = as_table(node, "touch");
    if (table == nullptr) return;
    has_touch = true;
    for (const auto& [key, value] : *table) {
      const std::string name = "touch." + std::string(key.str());
      if (read_number(kTouchNumbers, key.str(), value, name, touch)) continue;
      if (key.str() == "push") {
        read_push(value, touch);
      } else if (key.str() == "frame") {
        read_frame(value, touch.push);
      } else if (key.str() == "adds") {
        set_flag(value, name, touch.push.adds);
      } else if (key.str() == "lock") {
        set_number(value, name, {0, kMostAmount}, Dimension::time, touch.push.lock);
      } else {
        problems_.unknown(key, std::string(key.str()),
                          {"push", "frame", "adds", "lock", "stun", "no_jump", "slow", "slow_share",
                           "no_cling", "slow_fall", "slow_fall_share"});
      }
    }
  }

 private:
  void read_inherit(const toml::node& node, const std::string& name, SurfaceTraits& traits) {
    const toml::table* table = as_table(node, name);
    if (table == nullptr) return;
    for (const auto& [key, value] : *table) {
      const std::string full = name + "." + std::string(key.str());
      if (!read_number(kHandedOver, key.str(), value, full, traits)) {
        problems_.unknown(key, std::string(key.str()), {"horizontal", "vertical"});
      }
    }
  }

  void read_push(const toml::node& node, Touch& touch) {
    const auto velocity = read_numbers(node, 2, "touch.push", "[horizontal speed, vertical speed]",
                                       Dimension::speed, convention_, problems_);
    if (!velocity || !has_rate(node, "touch.push", Dimension::speed)) return;
    touch.pushes = true;
    touch.push.velocity =
        from_convention(convention_, Vec{(*velocity)[0], (*velocity)[1]}, Dimension::speed, 1);
  }

  void read_frame(const toml::node& node, Push& push) {
    const auto choice =
        read_choice(node, "touch.frame", {kFrameNames.begin(), kFrameNames.end()}, problems_);
    if (choice) push.frame = static_cast<PushFrame>(*choice);
  }
};

}  // namespace

void read_surface(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                  ProblemList& problems) {
  SurfaceReader(convention, problems).read_surface(node, traits);
}

void read_touch(const toml::node& node, const Convention& convention, bool& has_touch, Touch& touch,
                ProblemList& problems) {
  SurfaceReader(convention, problems).read_touch(node, has_touch, touch);
}

}  // namespace bushbaby::detail
