#include "bushbaby/data/course_file.h"

#include <array>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::ProblemList;
using detail::shown;

// Farther out than this, the flush gap drowns in rounding.
constexpr double kFarthest = 1e7;

// Reads a list of exactly N coordinates; notes what is wrong with it.
template <std::size_t N>
std::optional<std::array<double, N>> read_coordinates(const toml::node& node,
                                                      const std::string& key,
                                                      const std::string& expected,
                                                      const Convention& convention,
                                                      ProblemList& problems) {
  const double unit = factor_of(convention, Dimension::length, 1);
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
    const auto number = detail::number_in(item);
    if (!number) {
      problems.add(ProblemCode::wrong_type, item.source(), key, shown(item), expected);
      fine = false;
    } else if (!(std::abs(*number * unit) <= kFarthest)) {
      problems.add(ProblemCode::out_of_range, item.source(), key, shown(item),
                   fmt::format("a coordinate of -{0:g} to {0:g} {1}", kFarthest / unit,
                               convention.length_name));
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

// The solid's box, in world units; its sides keep their names whichever way y grows.
void read_box(const toml::node& node, const Convention& convention, Box& box,
              ProblemList& problems) {
  const auto sides = read_coordinates<4>(node, "solid.box", "[left, bottom, right, top] in u",
                                         convention, problems);
  if (!sides) return;
  const auto& [left, bottom, right, top] = *sides;
  const Vec lo = from_convention(convention, Vec{left, bottom}, Dimension::length, 1);
  const Vec hi = from_convention(convention, Vec{right, top}, Dimension::length, 1);
  const auto require = [&](bool holds, const char* what, double low, double high) {
    if (holds) return;
    problems.add(ProblemCode::out_of_range, node.source(), "solid.box",
                 fmt::format("{} = {}, {}", what, low, high), "the second beyond the first");
  };
  require(lo.x < hi.x, "left, right", left, right);
  require(lo.y < hi.y, "bottom, top", bottom, top);
  box = {lo, hi};
}

void read_solid(const toml::node& node, const Convention& convention, Course& course,
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
    } else {
      problems.unknown(key, std::string(key.str()), {"name", "box"});
    }
  }
  if (!table->contains("box")) {
    problems.add(ProblemCode::contradiction, table->source(), "solid", "no box",
                 "box = [left, bottom, right, top] in u");
  }
  course.solids.push_back(std::move(solid));
}

void read_solids(const toml::node& node, const Convention& convention, Course& course,
                 ProblemList& problems) {
  const toml::array* list = node.as_array();
  if (list == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), "solid", shown(node),
                 "sections headed [[solid]]");
    return;
  }
  for (const toml::node& item : *list) read_solid(item, convention, course, problems);
}

}  // namespace

Result<Course> parse_course(std::string_view text, const std::string& path) {
  const auto table = detail::parse_toml(text, path);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  detail::check_format(*table, kCourseFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  Course course;
  Convention convention;
  detail::read_convention(*table, convention, problems);
  for (const auto& [key, node] : *table) {
    if (key.str() == "name") {
      course.name = read_text(node, "name", problems).value_or("");
    } else if (key.str() == "start") {
      if (const auto feet =
              read_coordinates<2>(node, "start", "[x, y] of the feet in u", convention, problems)) {
        course.start =
            from_convention(convention, Vec{(*feet)[0], (*feet)[1]}, Dimension::length, 1);
      }
    } else if (key.str() == "solid") {
      read_solids(node, convention, course, problems);
    } else if (key.str() != "format" && key.str() != "convention") {
      problems.unknown(key, std::string(key.str()),
                       {"format", "convention", "name", "start", "solid"});
    }
  }
  if (!table->contains("start")) {
    problems.add(ProblemCode::contradiction, {{1, 1}, {1, 1}, {}}, "", "no start",
                 "start = [x, y] of the feet in u");
  }
  if (!problems.empty()) return tl::unexpected(problems.take());
  return course;
}

Result<Course> load_course(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_course(*text, path);
}

}  // namespace bushbaby
