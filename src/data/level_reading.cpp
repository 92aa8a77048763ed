#include "level_reading.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/world/outline.h"

#include "core/shape/arithmetic.h"

namespace bushbaby::detail {
namespace {

constexpr double kFastest = 1e6;  // u/s

std::string text_of(Vec place, const Convention& convention) {
  const Vec reported = to_convention(convention, place, Dimension::length, 1);
  return fmt::format("[{:.6g}, {:.6g}]", reported.x, reported.y);
}

// An edge by its ends: "from [0, 1] to [3, 3]".
std::string text_of_edge(const std::vector<Vec>& corners, std::size_t edge,
                         const Convention& convention) {
  return fmt::format("from {} to {}", text_of(corners[edge], convention),
                     text_of(corners[(edge + 1) % corners.size()], convention));
}

void check_outline(const Solid& solid, const toml::source_region& where, const std::string& key,
                   const Convention& convention, ProblemList& problems) {
  const auto fault = find_fault(solid.corners);
  if (!fault) return;
  const auto edge = [&](std::size_t i) { return text_of_edge(solid.corners, i, convention); };
  switch (fault->fault) {
    case OutlineFault::too_few_corners:
      problems.add(ProblemCode::out_of_range, where, key,
                   fmt::format("{} corners", solid.corners.size()),
                   "3 corners or more (two are a line)");
      return;
    case OutlineFault::no_length:
      problems.add(
          ProblemCode::out_of_range, where, key,
          fmt::format("{} twice in a row", text_of(solid.corners[fault->first], convention)),
          "every corner once");
      return;
    case OutlineFault::crossing:
      problems.add(
          ProblemCode::contradiction, where, key,
          fmt::format("an edge {} that meets the edge {}", edge(fault->first), edge(fault->second)),
          "an outline that neither crosses nor touches itself");
      return;
  }
}

void check_line(const Solid& solid, const toml::source_region& where, const std::string& key,
                const Convention& convention, ProblemList& problems) {
  if (solid.corners.size() < 2) {
    problems.add(ProblemCode::out_of_range, where, key,
                 fmt::format("{} points", solid.corners.size()), "2 points or more");
  }
  for (std::size_t i = 0; i + 1 < solid.corners.size(); ++i) {
    if (solid.corners[i] != solid.corners[i + 1]) continue;
    problems.add(ProblemCode::out_of_range, where, key,
                 fmt::format("{} twice in a row", text_of(solid.corners[i], convention)),
                 "every point once");
    return;
  }
}

}  // namespace

std::optional<std::vector<double>> read_numbers(const toml::node& node, std::size_t count,
                                                const std::string& key, const std::string& expected,
                                                Dimension dimension, const Convention& convention,
                                                ProblemList& problems) {
  const double unit = factor_of(convention, dimension, 1);
  const bool speeds = dimension == Dimension::speed;
  const double most = speeds ? kFastest : kFarthest;
  const toml::array* list = node.as_array();
  if (list == nullptr || list->size() != count) {
    const std::string found =
        list == nullptr ? shown(node) : fmt::format("a list of {}", list->size());
    problems.add(ProblemCode::wrong_type, node.source(), key, found, expected);
    return std::nullopt;
  }
  std::vector<double> coordinates;
  for (const toml::node& item : *list) {
    const auto number = quantity_in(item, dimension, {convention, 1});
    if (!number) {
      problems.add(ProblemCode::wrong_type, item.source(), key, shown(item), expected);
    } else if (!(std::abs(*number * unit) <= most)) {
      problems.add(ProblemCode::out_of_range, item.source(), key, shown(item),
                   fmt::format("a {0} of -{1:g} to {1:g} {2}", speeds ? "speed" : "coordinate",
                               most / unit, unit_in(convention, dimension)));
    } else {
      coordinates.push_back(*number);
    }
  }
  if (coordinates.size() != count) return std::nullopt;
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

const toml::table* FieldReader::as_table(const toml::node& node, const std::string& key) {
  const toml::table* table = node.as_table();
  if (table == nullptr) {
    problems_.add(ProblemCode::wrong_type, node.source(), key, shown(node), "a table");
  }
  return table;
}

void FieldReader::set_number(const toml::node& node, const std::string& name, const Range& range,
                             Dimension dimension, double& target) {
  // A number as it is written; a level has no ticks.
  const auto text = node.value_exact<std::string>();
  const bool in_ticks = text && text->find("tick") != std::string::npos;
  std::optional<double> number;
  if (!in_ticks) number = quantity_in(node, dimension, {convention_, 1});
  std::string expected = describe(range);
  if (dimension == Dimension::time) {
    expected = "a time, " + expected + ": 0.11 (seconds) or \"110 ms\"";
  } else if (dimension == Dimension::number || dimension == Dimension::ratio) {
    expected = "a number, " + expected;
  } else {
    const char* noun = dimension == Dimension::speed          ? "a speed"
                       : dimension == Dimension::acceleration ? "an acceleration"
                                                              : "a length";
    expected = fmt::format("{} in {}, {}", noun, unit_in(convention_, dimension), expected);
  }
  if (!number) {
    problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), expected);
  } else if (!range.contains(*number)) {
    problems_.add(ProblemCode::out_of_range, node.source(), name, shown(node), expected);
  } else if (has_rate(node, name, dimension)) {
    target =
        dimension == Dimension::time ? *number : *number * factor_of(convention_, dimension, 1);
  }
}

bool FieldReader::has_rate(const toml::node& node, const std::string& name, Dimension dimension) {
  const bool free = dimension == Dimension::ratio || dimension == Dimension::number ||
                    dimension == Dimension::length || dimension == Dimension::angle;
  if (!convention_.per_tick || free) return true;
  problems_.add(ProblemCode::contradiction, node.source(), name, "a level that counts in ticks",
                "time = \"second\" in its convention: a level has no tick rate");
  return false;
}

void FieldReader::set_flag(const toml::node& node, const std::string& name, bool& target) {
  if (const auto flag = node.value_exact<bool>()) {
    target = *flag;
  } else {
    problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), "true or false");
  }
}

std::optional<std::size_t> read_choice(const toml::node& node, const std::string& key,
                                       const std::vector<std::string_view>& names,
                                       ProblemList& problems) {
  const auto text = read_text(node, key, problems);
  if (!text) return std::nullopt;
  const auto name = std::find(names.begin(), names.end(), *text);
  if (name != names.end()) return static_cast<std::size_t>(name - names.begin());
  problems.add(ProblemCode::unknown_name, node.source(), key, shown(node),
               fmt::format("one of {}", fmt::join(names, ", ")),
               std::string(nearest_name(*text, names)));
  return std::nullopt;
}

void read_circle(const toml::node& node, const std::string& key, const Convention& convention,
                 std::vector<Vec>& corners, ProblemList& problems) {
  const auto circle =
      read_numbers(node, 3, key, fmt::format("[x, y, radius] in {}", convention.length_name),
                   Dimension::length, convention, problems);
  if (!circle) return;
  const double radius = (*circle)[2];
  if (!(radius > 0)) {
    problems.add(ProblemCode::out_of_range, node.source(), key, fmt::format("radius {:g}", radius),
                 "more than 0");
    return;
  }
  for (const Vec corner : circle_corners()) {
    const Vec place{(*circle)[0] + radius * corner.x, (*circle)[1] + radius * corner.y};
    corners.push_back(from_convention(convention, place, Dimension::length, 1));
  }
}

void check_corners(const Solid& solid, const toml::source_region& where, const std::string& key,
                   const Convention& convention, ProblemList& problems) {
  if (solid.corners.size() > kMostOutlineCorners) {
    problems.add(ProblemCode::out_of_range, where, key,
                 fmt::format("{} {}", solid.corners.size(), solid.is_line ? "points" : "corners"),
                 fmt::format("at most {}: give it in several", kMostOutlineCorners));
  } else if (solid.is_line) {
    check_line(solid, where, key, convention, problems);
  } else {
    check_outline(solid, where, key, convention, problems);
  }
}

}  // namespace bushbaby::detail
