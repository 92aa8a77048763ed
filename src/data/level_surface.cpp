#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr double kMost = 1e6;  // of whatever unit: larger is a slip, and would not stay finite

// A number of a surface or of its touch.
template <class Owner>
struct NumberField {
  std::string_view name;
  double Owner::*member;
  Range range;
  Dimension dimension;
};

template <class Owner>
struct FlagField {
  std::string_view name;
  bool Owner::*member;
};

constexpr std::array<NumberField<SurfaceTraits>, 4> kSurfaceNumbers{
    {{"grip", &SurfaceTraits::grip, {0, kMost}, Dimension::ratio},
     {"belt", &SurfaceTraits::belt, {-kMost, kMost}, Dimension::speed},
     {"bounce", &SurfaceTraits::bounce, {0, 1}, Dimension::ratio},
     {"bounce_speed", &SurfaceTraits::bounce_speed, {0, kMost}, Dimension::speed}}};
constexpr std::array<FlagField<SurfaceTraits>, 3> kSurfaceFlags{
    {{"footing", &SurfaceTraits::footing},
     {"cling", &SurfaceTraits::cling},
     {"jump", &SurfaceTraits::jump}}};
constexpr std::array<NumberField<Touch>, 7> kTouchNumbers{
    {{"stun", &Touch::stun, {0, kMost}, Dimension::time},
     {"no_jump", &Touch::no_jump, {0, kMost}, Dimension::time},
     {"slow", &Touch::slow, {0, kMost}, Dimension::time},
     {"slow_share", &Touch::slow_share, {0, kMost}, Dimension::ratio},
     {"no_cling", &Touch::no_cling, {0, kMost}, Dimension::time},
     {"slow_fall", &Touch::slow_fall, {0, kMost}, Dimension::time},
     {"slow_fall_share", &Touch::slow_fall_share, {0, kMost}, Dimension::ratio}}};
constexpr std::array<std::string_view, 3> kFrameNames{"world", "facing", "away"};

// Reads the tables of one solid's surface; notes what is wrong with them.
class SurfaceReader {
 public:
  SurfaceReader(const Convention& convention, ProblemList& problems)
      : convention_(convention), problems_(problems) {}

  void read_surface(const toml::node& node, SurfaceTraits& traits) {
    const toml::table* table = as_table(node, "surface");
    if (table == nullptr) return;
    for (const auto& [key, value] : *table) {
      const std::string name = "surface." + std::string(key.str());
      if (read_number(kSurfaceNumbers, key.str(), value, name, traits)) continue;
      if (read_flag(kSurfaceFlags, key.str(), value, name, traits)) continue;
      problems_.unknown(key, std::string(key.str()),
                        {"grip", "belt", "bounce", "bounce_speed", "footing", "cling", "jump"});
    }
  }

  void read_touch(const toml::node& node, SurfaceTraits& traits) {
    const toml::table* table = as_table(node, "touch");
    if (table == nullptr) return;
    traits.has_touch = true;
    Touch& touch = traits.touch;
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
        set_number(value, name, {0, kMost}, Dimension::time, touch.push.lock);
      } else {
        problems_.unknown(key, std::string(key.str()),
                          {"push", "frame", "adds", "lock", "stun", "no_jump", "slow", "slow_share",
                           "no_cling", "slow_fall", "slow_fall_share"});
      }
    }
  }

 private:
  const toml::table* as_table(const toml::node& node, const char* key) {
    const toml::table* table = node.as_table();
    if (table == nullptr) {
      problems_.add(ProblemCode::wrong_type, node.source(), key, shown(node), "a table");
    }
    return table;
  }

  template <class Fields, class Owner>
  bool read_number(const Fields& fields, std::string_view key, const toml::node& node,
                   const std::string& name, Owner& owner) {
    for (const auto& field : fields) {
      if (field.name != key) continue;
      set_number(node, name, field.range, field.dimension, owner.*field.member);
      return true;
    }
    return false;
  }

  template <class Fields, class Owner>
  bool read_flag(const Fields& fields, std::string_view key, const toml::node& node,
                 const std::string& name, Owner& owner) {
    for (const auto& field : fields) {
      if (field.name != key) continue;
      set_flag(node, name, owner.*field.member);
      return true;
    }
    return false;
  }

  // A number as it is written; a level has no ticks.
  [[nodiscard]] std::optional<double> number_of(const toml::node& node, Dimension dimension) const {
    const auto text = node.value_exact<std::string>();
    if (text && text->find("tick") != std::string::npos) return std::nullopt;
    return detail::quantity_in(node, dimension, {convention_, 1});
  }

  void set_number(const toml::node& node, const std::string& name, const Range& range,
                  Dimension dimension, double& target) {
    const auto number = number_of(node, dimension);
    std::string expected = describe(range);
    if (dimension == Dimension::time) {
      expected = "a time, " + expected + ": 0.11 (seconds) or \"110 ms\"";
    } else if (dimension == Dimension::speed) {
      expected = fmt::format("a speed in {}, {}", unit_in(convention_, dimension), expected);
    } else {
      expected = "a number, " + expected;
    }
    if (!number) {
      problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), expected);
    } else if (!range.contains(*number)) {
      problems_.add(ProblemCode::out_of_range, node.source(), name, shown(node), expected);
    } else if (has_speeds_per_second(node, name, dimension)) {
      target = dimension == Dimension::speed ? *number * factor_of(convention_, Dimension::speed, 1)
                                             : *number;
    }
  }

  // A level has no tick rate that speeds per tick could be meant at.
  bool has_speeds_per_second(const toml::node& node, const std::string& name, Dimension dimension) {
    if (!convention_.per_tick || dimension == Dimension::ratio) return true;
    problems_.add(ProblemCode::contradiction, node.source(), name, "a level that counts in ticks",
                  "time = \"second\" in its convention: a level has no tick rate");
    return false;
  }

  void set_flag(const toml::node& node, const std::string& name, bool& target) {
    if (const auto flag = node.value_exact<bool>()) {
      target = *flag;
    } else {
      problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), "true or false");
    }
  }

  void read_push(const toml::node& node, Touch& touch) {
    const auto velocity =
        read_numbers(node, 2, "touch.push", "[speed along the frame, speed along up]",
                     Dimension::speed, convention_, problems_);
    if (!velocity || !has_speeds_per_second(node, "touch.push", Dimension::speed)) return;
    touch.pushes = true;
    touch.push.velocity =
        from_convention(convention_, Vec{(*velocity)[0], (*velocity)[1]}, Dimension::speed, 1);
  }

  void read_frame(const toml::node& node, Push& push) {
    const auto text = read_text(node, "touch.frame", problems_);
    if (!text) return;
    const auto* name = std::find(kFrameNames.begin(), kFrameNames.end(), *text);
    if (name == kFrameNames.end()) {
      problems_.add(ProblemCode::unknown_name, node.source(), "touch.frame", shown(node),
                    "one of world, facing, away",
                    std::string(nearest_name(*text, {"world", "facing", "away"})));
      return;
    }
    push.frame = static_cast<PushFrame>(name - kFrameNames.begin());
  }

  const Convention& convention_;
  ProblemList& problems_;
};

}  // namespace

void read_surface(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                  ProblemList& problems) {
  SurfaceReader(convention, problems).read_surface(node, traits);
}

void read_touch(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                ProblemList& problems) {
  SurfaceReader(convention, problems).read_touch(node, traits);
}

}  // namespace bushbaby::detail
