#include "bushbaby/data/level_file.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/names.h"

#include "level_reading.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

std::string box_text(const Convention& convention) {
  return fmt::format("[left, {}, right, {}] in {}", convention.vertical_down ? "top" : "bottom",
                     convention.vertical_down ? "bottom" : "top", convention.length_name);
}

std::string start_text(const Convention& convention) {
  return fmt::format("[x, y] of the feet in {}", convention.length_name);
}

}  // namespace

void detail::read_box(const toml::node& node, const std::string& key, const Convention& convention,
                      Box& box, ProblemList& problems) {
  const auto sides =
      read_numbers(node, 4, key, box_text(convention), Dimension::length, convention, problems);
  if (!sides) return;
  const double left = (*sides)[0];
  const double bottom = (*sides)[1];
  const double right = (*sides)[2];
  const double top = (*sides)[3];
  Vec lo = from_convention(convention, Vec{left, bottom}, Dimension::length, 1);
  Vec hi = from_convention(convention, Vec{right, top}, Dimension::length, 1);
  // Where y points down, people write the top first as often as the bottom.
  if (convention.vertical_down && lo.y > hi.y) std::swap(lo.y, hi.y);
  if (!(lo.x < hi.x)) {
    problems.add(ProblemCode::out_of_range, node.source(), key,
                 fmt::format("left {}, right {}", left, right), "left less than right");
  }
  if (!(lo.y < hi.y)) {
    std::string expected =
        convention.vertical_down ? "a top and a bottom apart" : "bottom less than top";
    if (lo.y > hi.y) {
      expected += " (if y points down in this file, write vertical = \"down\" under [convention])";
    }
    problems.add(ProblemCode::out_of_range, node.source(), key,
                 fmt::format("bottom {}, top {}", bottom, top), std::move(expected));
  }
  box = {lo, hi};
}

namespace {

std::string corners_text(const Convention& convention) {
  return fmt::format("[[x, y], [x, y], ...] in {}", convention.length_name);
}

}  // namespace

void detail::read_corners(const toml::node& node, const std::string& key,
                          const Convention& convention, Solid& solid, ProblemList& problems) {
  const std::string expected = corners_text(convention);
  const toml::array* list = node.as_array();
  if (list == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), key, shown(node), expected);
    return;
  }
  for (const toml::node& item : *list) {
    const auto corner =
        read_numbers(item, 2, key, expected, Dimension::length, convention, problems);
    if (!corner) return;
    solid.corners.push_back(
        from_convention(convention, Vec{(*corner)[0], (*corner)[1]}, Dimension::length, 1));
  }
  check_corners(solid, node.source(), key, convention, problems);
}

namespace {

void read_blocks(const toml::node& node, Blocks& blocks, ProblemList& problems) {
  const auto choice =
      read_choice(node, "solid.blocks", {kBlocksNames.begin(), kBlocksNames.end()}, problems);
  if (choice) blocks = static_cast<Blocks>(*choice);
}

// Reads one solid; notes what is wrong with it.
class SolidReader {
 public:
  // `index` is that of the solid in the level.
  SolidReader(const Convention& convention, std::size_t index, ZoneNames& names,
              ProblemList& problems)
      : convention_(convention), index_(index), names_(names), problems_(problems) {}

  Solid read(const toml::table& table) {
    Solid solid;
    for (const auto& [key, value] : table) {
      if (!read_key(key.str(), value, solid)) {
        problems_.unknown(key, std::string(key.str()),
                          {"name", "box", "polygon", "circle", "line", "blocks", "solid_when",
                           "path", "surface", "touch"});
      }
    }
    check_shape(table);
    return solid;
  }

 private:
  bool read_key(std::string_view key, const toml::node& value, Solid& solid) {
    if (key == "name") {
      solid.name = read_text(value, "solid.name", problems_).value_or("");
    } else if (key == "box") {
      read_box(value, "solid.box", convention_, solid.box, problems_);
    } else if (key == "polygon" || key == "line") {
      solid.is_line = key == "line";
      read_corners(value, "solid." + std::string(key), convention_, solid, problems_);
    } else if (key == "circle") {
      read_circle(value, "solid.circle", convention_, solid.corners, problems_);
    } else if (key == "blocks") {
      read_blocks(value, solid.blocks, problems_);
    } else if (key == "solid_when") {
      read_condition(value, convention_, index_, solid.solid_when, names_, problems_);
    } else if (key == "path") {
      solid.path = read_path(value, convention_, problems_);
    } else if (key == "surface") {
      read_surface(value, convention_, solid.traits, problems_);
    } else if (key == "touch") {
      read_touch(value, convention_, solid.traits.has_touch, solid.traits.touch, problems_);
    } else {
      return false;
    }
    return true;
  }

  // A solid has one shape.
  void check_shape(const toml::table& table) {
    std::vector<std::string_view> shapes;
    for (const std::string_view shape : {"box", "polygon", "circle", "line"}) {
      if (table.contains(shape)) shapes.push_back(shape);
    }
    if (shapes.size() == 1) return;
    problems_.add(
        ProblemCode::contradiction, table.source(), "solid",
        shapes.empty() ? "no shape" : fmt::format("{}", fmt::join(shapes, " and ")),
        fmt::format("one of box = {}, polygon = {}, circle = [x, y, radius] or line = {}",
                    box_text(convention_), corners_text(convention_), corners_text(convention_)));
  }

  const Convention& convention_;
  std::size_t index_;
  ZoneNames& names_;
  ProblemList& problems_;
};

// Reads the tables of a list of sections with one heading.
template <class Read>
void read_sections(const toml::node& node, const char* heading, ProblemList& problems,
                   const Read& read) {
  const toml::array* list = node.as_array();
  if (list == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), heading, shown(node),
                 fmt::format("sections headed [[{}]]", heading));
    return;
  }
  for (const toml::node& item : *list) {
    if (const toml::table* table = item.as_table()) {
      read(*table);
    } else {
      problems.add(ProblemCode::wrong_type, item.source(), heading, shown(item), "a table");
    }
  }
}

Result<LevelFile> parse_level_file(std::string_view text, const std::string& path) {
  const auto table = parse_toml(without_mark(text), path, kLevelFormat);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  check_format(*table, kLevelFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  LevelFile file;
  Level& level = file.level;
  Convention convention;
  ZoneNames names;
  read_convention(*table, convention, problems);
  for (const auto& [key, node] : *table) {
    if (key.str() == "name") {
      level.name = read_text(node, "name", problems).value_or("");
    } else if (key.str() == "start") {
      file.start = place_of(node.source());
      if (const auto feet = read_numbers(node, 2, "start", start_text(convention),
                                         Dimension::length, convention, problems)) {
        level.start =
            from_convention(convention, Vec{(*feet)[0], (*feet)[1]}, Dimension::length, 1);
      }
    } else if (key.str() == "solid") {
      read_sections(node, "solid", problems, [&](const toml::table& section) {
        SolidReader reader(convention, level.solids.size(), names, problems);
        level.solids.push_back(reader.read(section));
        file.solids.push_back(place_of(section.source()));
      });
    } else if (key.str() == "zone") {
      read_sections(node, "zone", problems, [&](const toml::table& section) {
        Zone& zone = level.zones.emplace_back();
        ZonePlaces& places = file.zones.emplace_back();
        places.zone = place_of(section.source());
        read_zone(section, convention, zone, places, problems);
        check_zone_shape(section, problems);
      });
    } else if (key.str() != "format" && key.str() != "convention") {
      problems.unknown(key, std::string(key.str()),
                       {"format", "convention", "name", "start", "solid", "zone"});
    }
  }
  names.resolve(level, problems);
  if (!table->contains("start")) {
    problems.add(ProblemCode::contradiction, {{1, 1}, {1, 1}, {}}, "", "no start",
                 "start = " + start_text(convention));
  }
  if (!problems.empty()) return tl::unexpected(problems.take());
  return file;
}

bool is_drawing(std::string_view path) {
  constexpr std::string_view kSuffix = ".svg";
  if (path.size() < kSuffix.size()) return false;
  path.remove_prefix(path.size() - kSuffix.size());
  return std::equal(path.begin(), path.end(), kSuffix.begin(), [](char a, char b) {
    return std::tolower(static_cast<unsigned char>(a)) == b;
  });
}

Result<Level> level_of(Result<LevelFile> file) {
  if (!file) return tl::unexpected(std::move(file.error()));
  return std::move(file->level);
}

}  // namespace

namespace {

// What is wrong with zones, where the file says what they are.
std::vector<Problem> problems_of(const std::vector<ZoneViolation>& violations,
                                 const LevelFile& file, const std::string& path,
                                 const Units& units) {
  std::vector<Problem> problems;
  for (const ZoneViolation& each : violations) {
    Problem problem;
    problem.code = ProblemCode::contradiction;
    problem.file = path;
    std::string names;
    for (const ZoneId zone : each.zones) {
      names += (names.empty() ? "" : ", ") + zone_name(file.level, zone);
      const ZonePlaces& places = file.zones[zone];
      const FilePlace place =
          each.override_index ? places.overrides[*each.override_index] : places.zone;
      problem.line = place.line;
      problem.column = place.column;
    }
    problem.key = each.violation.key;
    problem.found = describe(each.violation.found, units);
    if (!names.empty()) problem.found += " in " + names;
    problem.expected = describe(each.violation.expected, units);
    problems.push_back(std::move(problem));
  }
  return problems;
}

Result<Rulebook> book_or_problems(const TuningFile& tuning, const LevelFile& level,
                                  const std::string& path, const Units& units,
                                  CompiledBook compiled) {
  // What is wrong with the tuning itself is reported where its file says it.
  if (const auto checked = check_tuning(tuning); !checked) return tl::unexpected(checked.error());
  if (!compiled.ok()) return tl::unexpected(problems_of(compiled.violations, level, path, units));
  return std::move(compiled.book);
}

}  // namespace

Result<Rulebook> compile_for(const TuningFile& tuning, const LevelFile& level,
                             const std::string& path, const Units& units) {
  return book_or_problems(tuning, level, path, units,
                          compile_book(tuning.tuning, level.level.zones));
}

Result<Rulebook> compile_in(const TuningFile& tuning, const LevelFile& level,
                            const std::vector<ZoneId>& within, const std::string& path,
                            const Units& units) {
  return book_or_problems(tuning, level, path, units,
                          compile_in(tuning.tuning, level.level.zones, within));
}

Result<LevelFile> load_level_file(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return is_drawing(path) ? parse_drawing(*text, path) : parse_level_file(*text, path);
}

Result<Level> load_level(const std::string& path) { return level_of(load_level_file(path)); }

Result<Level> parse_level(std::string_view text, const std::string& path) {
  return level_of(parse_level_file(text, path));
}

Result<Level> parse_level_drawing(std::string_view text, const std::string& path) {
  return level_of(parse_drawing(text, path));
}

}  // namespace bushbaby
