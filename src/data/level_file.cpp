#include "bushbaby/data/level_file.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::ProblemList;
using detail::shown;

// Farther out than this, the flush gap drowns in rounding.
constexpr double kFarthest = 1e7;
constexpr double kFastest = 1e6;  // u/s

// Reads a list of exactly N lengths or speeds; notes what is wrong with it.
template <std::size_t N>
std::optional<std::array<double, N>> read_numbers(const toml::node& node, const std::string& key,
                                                  const std::string& expected, Dimension dimension,
                                                  const Convention& convention,
                                                  ProblemList& problems) {
  const double unit = factor_of(convention, dimension, 1);
  const bool speeds = dimension == Dimension::speed;
  const double most = speeds ? kFastest : kFarthest;
  const toml::array* list = node.as_array();
  if (list == nullptr || list->size() != N) {
    const std::string found =
        list == nullptr ? shown(node) : fmt::format("a list of {}", list->size());
    problems.add(ProblemCode::wrong_type, node.source(), key, found, expected);
    return std::nullopt;
  }
  std::array<double, N> coordinates{};
  bool fine = true;
  for (std::size_t i = 0; i < N; ++i) {
    const toml::node& item = *list->get(i);
    const auto number = detail::quantity_in(item, dimension, {convention, 1});
    if (!number) {
      problems.add(ProblemCode::wrong_type, item.source(), key, shown(item), expected);
      fine = false;
    } else if (!(std::abs(*number * unit) <= most)) {
      problems.add(ProblemCode::out_of_range, item.source(), key, shown(item),
                   fmt::format("a {0} of -{1:g} to {1:g} {2}", speeds ? "speed" : "coordinate",
                               most / unit, unit_in(convention, dimension)));
      fine = false;
    } else {
      coordinates[i] = *number;
    }
  }
  if (!fine) return std::nullopt;
  return coordinates;
}

std::optional<std::string> read_text(const toml::node& node, const std::string& key,
                                     ProblemList& problems) {
  auto text = node.value_exact<std::string>();
  if (!text) {
    problems.add(ProblemCode::wrong_type, node.source(), key, shown(node), "a text in quotes");
  }
  return text;
}

std::string box_text(const Convention& convention) {
  return fmt::format("[left, bottom, right, top] in {}", convention.length_name);
}

std::string start_text(const Convention& convention) {
  return fmt::format("[x, y] of the feet in {}", convention.length_name);
}

// The solid's box, in world units; its sides keep their names whichever way y grows.
void read_box(const toml::node& node, const Convention& convention, Box& box,
              ProblemList& problems) {
  const auto sides = read_numbers<4>(node, "solid.box", box_text(convention), Dimension::length,
                                     convention, problems);
  if (!sides) return;
  const auto& [left, bottom, right, top] = *sides;
  const Vec lo = from_convention(convention, Vec{left, bottom}, Dimension::length, 1);
  const Vec hi = from_convention(convention, Vec{right, top}, Dimension::length, 1);
  if (!(lo.x < hi.x)) {
    problems.add(ProblemCode::out_of_range, node.source(), "solid.box",
                 fmt::format("left {}, right {}", left, right), "left less than right");
  }
  if (!(lo.y < hi.y)) {
    const bool down = convention.vertical_down;
    std::string expected =
        down ? "bottom more than top, since y points down in this file" : "bottom less than top";
    if (lo.y > hi.y) {
      expected += fmt::format(
          " (if y points {} in this file, write vertical = \"{}\" under "
          "[convention])",
          down ? "up" : "down", down ? "up" : "down");
    }
    problems.add(ProblemCode::out_of_range, node.source(), "solid.box",
                 fmt::format("bottom {}, top {}", bottom, top), std::move(expected));
  }
  box = {lo, hi};
}

// ---- surfaces -----------------------------------------------------------------------------------

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
        read_numbers<2>(node, "touch.push", "[speed along the frame, speed along up]",
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

void read_solid(const toml::node& node, const Convention& convention, Level& level,
                ProblemList& problems) {
  const toml::table* table = node.as_table();
  if (table == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), "solid", shown(node), "a table");
    return;
  }
  Solid solid;
  for (const auto& [key, value] : *table) {
    if (key.str() == "name") {
      solid.name = read_text(value, "solid.name", problems).value_or("");
    } else if (key.str() == "box") {
      read_box(value, convention, solid.box, problems);
    } else if (key.str() == "surface") {
      SurfaceReader(convention, problems).read_surface(value, solid.traits);
    } else if (key.str() == "touch") {
      SurfaceReader(convention, problems).read_touch(value, solid.traits);
    } else {
      problems.unknown(key, std::string(key.str()), {"name", "box", "surface", "touch"});
    }
  }
  if (!table->contains("box")) {
    problems.add(ProblemCode::contradiction, table->source(), "solid", "no box",
                 "box = " + box_text(convention));
  }
  level.solids.push_back(std::move(solid));
}

void read_solids(const toml::node& node, const Convention& convention, Level& level,
                 ProblemList& problems) {
  const toml::array* list = node.as_array();
  if (list == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), "solid", shown(node),
                 "sections headed [[solid]]");
    return;
  }
  for (const toml::node& item : *list) read_solid(item, convention, level, problems);
}

}  // namespace

Result<Level> parse_level(std::string_view text, const std::string& path) {
  const auto table = detail::parse_toml(detail::without_mark(text), path, kLevelFormat);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  detail::check_format(*table, kLevelFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  Level level;
  Convention convention;
  detail::read_convention(*table, convention, problems);
  for (const auto& [key, node] : *table) {
    if (key.str() == "name") {
      level.name = read_text(node, "name", problems).value_or("");
    } else if (key.str() == "start") {
      if (const auto feet = read_numbers<2>(node, "start", start_text(convention),
                                            Dimension::length, convention, problems)) {
        level.start =
            from_convention(convention, Vec{(*feet)[0], (*feet)[1]}, Dimension::length, 1);
      }
    } else if (key.str() == "solid") {
      read_solids(node, convention, level, problems);
    } else if (key.str() != "format" && key.str() != "convention") {
      problems.unknown(key, std::string(key.str()),
                       {"format", "convention", "name", "start", "solid"});
    }
  }
  if (!table->contains("start")) {
    problems.add(ProblemCode::contradiction, {{1, 1}, {1, 1}, {}}, "", "no start",
                 "start = " + start_text(convention));
  }
  if (!problems.empty()) return tl::unexpected(problems.take());
  return level;
}

Result<Level> load_level(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_level(*text, path);
}

FilePlace place_of_start(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return {};
  const auto table = detail::parse_toml(detail::without_mark(*text), path, kLevelFormat);
  const toml::node* start = table ? table->get("start") : nullptr;
  if (start == nullptr) return {};
  return {static_cast<int>(start->source().begin.line),
          static_cast<int>(start->source().begin.column)};
}

}  // namespace bushbaby
