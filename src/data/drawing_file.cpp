// Levels drawn in SVG.
#ifndef BUSHBABY_NO_DRAWINGS
#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>

#include <fmt/format.h>
#include <pugixml.hpp>

#include "bushbaby/core/world/outline.h"

#include "core/shape/arithmetic.h"
#include "drawing_numbers.h"
#include "level_reading.h"

namespace bushbaby::detail {
namespace {

// Groups within groups: deeper is no drawing that somebody made.
constexpr int kMostGroups = 100;

// Lines and columns of offsets into a text: asked for in order, the text is gone through once, be
// it one long line.
class LineCounter {
 public:
  explicit LineCounter(std::string_view text) : text_(text) {}

  toml::source_region place_of(std::ptrdiff_t offset) {
    const auto end =
        std::min(static_cast<std::size_t>(std::max<std::ptrdiff_t>(offset, 0)), text_.size());
    if (end < at_) {
      at_ = 0;
      position_ = {1, 1};
    }
    for (; at_ < end; ++at_) {
      const bool begins_character = (static_cast<unsigned char>(text_[at_]) & 0xC0U) != 0x80U;
      if (text_[at_] == '\n') {
        position_ = {position_.line + 1, 1};
      } else if (begins_character) {
        ++position_.column;
      }
    }
    return {position_, position_, {}};
  }

 private:
  std::string_view text_;
  std::size_t at_ = 0;
  toml::source_position position_{1, 1};
};

// Where a text stops being UTF-8; nothing if it does not.
std::optional<std::size_t> find_bad_byte(std::string_view text) {
  for (std::size_t at = 0; at < text.size();) {
    const auto first = static_cast<unsigned char>(text[at]);
    const std::size_t more = first < 0x80 ? 0 : (first >> 5) == 6 ? 1 : (first >> 4) == 14 ? 2 : 3;
    if ((first >= 0x80 && first < 0xC2) || first > 0xF4 || at + more >= text.size()) return at;
    for (std::size_t i = 1; i <= more; ++i) {
      if ((static_cast<unsigned char>(text[at + i]) & 0xC0U) != 0x80U) return at;
    }
    at += more + 1;
  }
  return std::nullopt;
}

// A name without the prefix of its namespace.
std::string_view local_name(const char* name) {
  const char* const colon = std::strchr(name, ':');
  return colon != nullptr ? colon + 1 : name;
}

// What a group or an element says about itself and what is in it.
struct Meaning {
  Affine map;
  std::string_view kind = "solid";
  std::string surface;
  std::string touch;
  std::string zone;
  std::string solid_when;
  std::string path;
};

constexpr std::array<std::string_view, 8> kKinds{
    "solid", "from-above", "from-below", "from-left", "from-right", "scenery", "start", "zone"};

// What a kind blocks: its name is that of a level file, with a dash.
Blocks blocks_of(std::string_view kind) {
  std::string name(kind);
  std::replace(name.begin(), name.end(), '-', ' ');
  const auto* known = std::find(kBlocksNames.begin(), kBlocksNames.end(), name);
  return known == kBlocksNames.end() ? Blocks::everything
                                     : static_cast<Blocks>(known - kBlocksNames.begin());
}

// The words of a text that blanks part.
std::vector<std::string> words_in(const char* text) {
  std::vector<std::string> words;
  std::string word;
  for (; *text != 0; ++text) {
    if (std::isspace(static_cast<unsigned char>(*text)) == 0) {
      word += *text;
    } else if (!word.empty()) {
      words.push_back(std::move(word));
      word.clear();
    }
  }
  if (!word.empty()) words.push_back(std::move(word));
  return words;
}

bool is_hidden(const pugi::xml_node& node) {
  std::string style = node.attribute("style").as_string();
  style.erase(std::remove_if(style.begin(), style.end(),
                             [](unsigned char c) { return std::isspace(c) != 0; }),
              style.end());
  return style.find("display:none") != std::string::npos ||
         std::strcmp(node.attribute("display").as_string(), "none") == 0;
}

// Reads a drawing; notes what is wrong with it.
class DrawingReader {
 public:
  DrawingReader(std::string_view text, const std::string& path)
      : path_(path), lines_(text), problems_(path) {
    convention_.vertical_down = true;
  }

  Result<LevelFile> read(const pugi::xml_document& document) {
    const pugi::xml_node root = document.document_element();
    if (local_name(root.name()) != "svg") {
      problems_.add(ProblemCode::wrong_format, place_of(root), "", "a text that is no drawing",
                    "SVG");
      return tl::unexpected(problems_.take());
    }
    read_head(root);
    if (!problems_.empty()) return tl::unexpected(problems_.take());
    read_children(root, Meaning{}, 0);
    names_.resolve(file_.level, problems_);
    if (starts_ == 0) {
      problems_.add(ProblemCode::contradiction, place_of(root), "", "no start",
                    "a circle of class start, its centre where the feet are put, or a rect that "
                    "they stand at the bottom of");
    }
    if (!problems_.empty()) return tl::unexpected(problems_.take());
    return std::move(file_);
  }

 private:
  toml::source_region place_of(const pugi::xml_node& node) {
    return lines_.place_of(node.offset_debug() - 1);  // of the bracket before its name
  }

  // How an element is called in messages: <rect id="r1">.
  static std::string name_of(const pugi::xml_node& node) {
    const std::string id = shown(std::string_view(node.attribute("id").as_string()));
    const std::string element = shown(local_name(node.name()));
    return id.empty() ? "<" + element + ">" : fmt::format("<{} id=\"{}\">", element, id);
  }

  void refuse(const pugi::xml_node& node, std::string found, std::string expected,
              std::string suggestion = {}) {
    problems_.add(ProblemCode::out_of_range, place_of(node), name_of(node), std::move(found),
                  std::move(expected), std::move(suggestion));
  }

  void read_head(const pugi::xml_node& root) {
    const std::string_view format = root.attribute("data-format").as_string();
    if (format != kLevelFormat) {
      problems_.add(
          ProblemCode::wrong_format, place_of(root), "<svg>",
          format.empty() ? "no data-format" : fmt::format("data-format=\"{}\"", shown(format)),
          fmt::format("data-format=\"{}\"", kLevelFormat));
    }
    const pugi::xml_attribute unit = root.attribute("data-one-unit");
    const std::string expected = set_convention(convention_, "one_unit", unit.as_string());
    if (!expected.empty()) {
      problems_.add(
          ProblemCode::out_of_range, place_of(root), "<svg>",
          unit ? fmt::format("data-one-unit=\"{}\"", shown(std::string_view(unit.value())))
               : "no data-one-unit",
          "data-one-unit=\"32 px\", or how many lengths of the drawing make one world unit");
    }
    file_.level.name = title_of(root);
  }

  static std::string title_of(const pugi::xml_node& node) {
    for (const pugi::xml_node& child : node.children()) {
      if (local_name(child.name()) != "title") continue;
      // Lines and indents of the file are no part of a name.
      return fmt::format("{}", fmt::join(words_in(child.text().as_string()), " "));
    }
    return "";
  }

  // The name of a solid: its title, or the label that an editor gave it.
  static std::string solid_name(const pugi::xml_node& node) {
    const std::string title = title_of(node);
    return title.empty() ? label_of(node) : title;
  }

  static std::string label_of(const pugi::xml_node& node) {
    for (const pugi::xml_attribute& attribute : node.attributes()) {
      if (std::strchr(attribute.name(), ':') != nullptr &&
          local_name(attribute.name()) == "label") {
        return attribute.value();
      }
    }
    return "";
  }

  // The kind that an element is of by its classes, or a group by its label.
  std::optional<std::string_view> kind_of(const pugi::xml_node& node) {
    std::vector<std::string> words = words_in(node.attribute("class").as_string());
    if (local_name(node.name()) == "g") words.push_back(label_of(node));
    const std::vector<std::string_view> kinds(kKinds.begin(), kKinds.end());
    std::optional<std::string_view> kind;
    for (const std::string& word : words) {
      const auto* known = std::find(kKinds.begin(), kKinds.end(), word);
      if (known == kKinds.end()) {
        // Classes of one's own are for looks; one that is nearly one of ours is a slip.
        const std::string_view nearest = nearest_name(word, kinds);
        if (!nearest.empty()) {
          refuse(node, fmt::format("the class \"{}\"", shown(std::string_view(word))),
                 fmt::format("one of {}, or a word not so close to them", fmt::join(kinds, ", ")),
                 std::string(nearest));
        }
      } else if (kind && *kind != *known) {
        refuse(node, fmt::format("the classes {} and {}", *kind, *known), "one of the two");
      } else {
        kind = *known;
      }
    }
    return kind;
  }

  Meaning meaning_of(const pugi::xml_node& node, const Meaning& around) {
    Meaning meaning = around;
    if (const auto kind = kind_of(node)) meaning.kind = *kind;
    if (const pugi::xml_attribute transform = node.attribute("transform")) {
      const auto scanned = scan_transform(transform.value());
      if (!scanned.fault.empty()) {
        refuse(node, fmt::format("the transform {}", scanned.fault),
               "matrix(), translate(), scale(), rotate(), skewX() or skewY() with their numbers");
      }
      meaning.map = around.map.after(scanned.value);
    }
    if (const auto surface = node.attribute("data-surface")) meaning.surface = surface.value();
    if (const auto touch = node.attribute("data-touch")) meaning.touch = touch.value();
    if (const auto zone = node.attribute("data-zone")) meaning.zone = zone.value();
    if (const auto when = node.attribute("data-solid-when")) meaning.solid_when = when.value();
    if (const auto path = node.attribute("data-path")) meaning.path = path.value();
    return meaning;
  }

  void read_children(const pugi::xml_node& parent, const Meaning& around, int depth) {
    for (const pugi::xml_node& node : parent.children()) {
      if (node.type() == pugi::node_element && !is_hidden(node)) read_node(node, around, depth);
    }
  }

  void read_node(const pugi::xml_node& node, const Meaning& around, int depth) {
    const std::string_view element = local_name(node.name());
    constexpr std::array<std::string_view, 7> kShapes{"rect", "polygon", "polyline", "line",
                                                      "path", "circle",  "ellipse"};
    const bool is_shape = std::find(kShapes.begin(), kShapes.end(), element) != kShapes.end();
    const bool is_group = element == "g" || element == "a";
    // Text, images, definitions and an editor's notes are no terrain.
    if (!is_shape && !is_group && element != "use" && element != "svg") return;
    const Meaning meaning = meaning_of(node, around);
    if (meaning.kind == "scenery") return;
    if (is_group && depth == kMostGroups) {
      refuse(node, "groups too deep", fmt::format("at most {} within one another", kMostGroups));
    } else if (is_group) {
      read_children(node, meaning, depth + 1);
    } else if (!is_shape) {
      refuse(node, element == "use" ? "a clone" : "a drawing within the drawing",
             "shapes of their own, or the class scenery");
    } else if (meaning.kind == "start") {
      read_start(node, meaning);
    } else if (meaning.kind == "zone") {
      read_drawn_zone(node, meaning);
    } else {
      read_solid(node, meaning);
    }
  }

  [[nodiscard]] Vec in_world(Vec drawn) const {
    return from_convention(convention_, drawn, Dimension::length, 1);
  }

  bool is_near(const pugi::xml_node& node, Vec place) {
    if (std::abs(place.x) <= kFarthest && std::abs(place.y) <= kFarthest) return true;
    const double most = kFarthest * convention_.lengths_per_unit;
    refuse(node, "a place too far out",
           fmt::format("coordinates of -{0:g} to {0:g} {1}", most, convention_.length_name));
    return false;
  }

  // A number of an element; 0 if it has none, as SVG means it.
  std::optional<double> length_of(const pugi::xml_node& node, const char* name) {
    const pugi::xml_attribute attribute = node.attribute(name);
    if (!attribute) return 0;
    const auto length = scan_length(attribute.value());
    if (!length) {
      refuse(node, fmt::format("{}=\"{}\"", name, shown(std::string_view(attribute.value()))),
             "a number, in the drawing's own lengths");
    }
    return length;
  }

  // ---- shapes -----------------------------------------------------------------------------------

  // The outline of a shape in the drawing's own coordinates.
  std::optional<DrawnWay> way_of(const pugi::xml_node& node) {
    const std::string_view element = local_name(node.name());
    if (element == "rect") return rect_of(node);
    if (element == "circle" || element == "ellipse") return round_of(node);
    if (element == "line") return line_of(node);
    if (element == "path") {
      auto way = scan_path(node.attribute("d").as_string());
      if (way.fault.empty()) return closed_by_itself(std::move(way.value));
      const bool curved = way.fault.find("curve") != std::string::npos;
      refuse(node, way.fault,
             curved ? "straight lines: turn its curves into short ones"
                    : "one outline of straight lines: M, L, H, V and Z");
      return std::nullopt;
    }
    auto points = scan_points(node.attribute("points").as_string());
    if (!points.fault.empty()) {
      refuse(node, points.fault, "points=\"x,y x,y ...\"");
      return std::nullopt;
    }
    DrawnWay way{std::move(points.value), element == "polygon"};
    return way.is_closed ? way : closed_by_itself(std::move(way));
  }

  // A way that ends where it began is closed.
  static DrawnWay closed_by_itself(DrawnWay way) {
    if (way.points.size() > 3 && way.points.front() == way.points.back()) {
      way.points.pop_back();
      way.is_closed = true;
    }
    return way;
  }

  std::optional<DrawnWay> rect_of(const pugi::xml_node& node) {
    const auto x = length_of(node, "x");
    const auto y = length_of(node, "y");
    const auto width = length_of(node, "width");
    const auto height = length_of(node, "height");
    const auto rx = length_of(node, "rx");
    const auto ry = length_of(node, "ry");
    if (!x || !y || !width || !height || !rx || !ry) return std::nullopt;
    if (!(*width > 0 && *height > 0)) {
      refuse(node, fmt::format("width {:g}, height {:g}", *width, *height), "both more than 0");
      return std::nullopt;
    }
    if (*rx != 0 || *ry != 0) {
      refuse(node, "rounded corners",
             "a rect without rx and ry, or a path of short straight lines");
      return std::nullopt;
    }
    return DrawnWay{{{*x, *y}, {*x + *width, *y}, {*x + *width, *y + *height}, {*x, *y + *height}},
                    true};
  }

  // A circle or an ellipse as a polygon with its corners on it.
  std::optional<DrawnWay> round_of(const pugi::xml_node& node) {
    const bool is_circle = local_name(node.name()) == "circle";
    const auto x = length_of(node, "cx");
    const auto y = length_of(node, "cy");
    const auto rx = length_of(node, is_circle ? "r" : "rx");
    const auto ry = length_of(node, is_circle ? "r" : "ry");
    if (!x || !y || !rx || !ry) return std::nullopt;
    if (!(*rx > 0 && *ry > 0)) {
      refuse(node, "no radius", "a radius of more than 0");
      return std::nullopt;
    }
    std::vector<Vec> corners = circle_corners();
    for (Vec& corner : corners) corner = {*x + *rx * corner.x, *y + *ry * corner.y};
    return DrawnWay{std::move(corners), true};
  }

  std::optional<DrawnWay> line_of(const pugi::xml_node& node) {
    const auto x1 = length_of(node, "x1");
    const auto y1 = length_of(node, "y1");
    const auto x2 = length_of(node, "x2");
    const auto y2 = length_of(node, "y2");
    if (!x1 || !y1 || !x2 || !y2) return std::nullopt;
    return DrawnWay{{{*x1, *y1}, {*x2, *y2}}, false};
  }

  // ---- what they are ----------------------------------------------------------------------------

  void read_start(const pugi::xml_node& node, const Meaning& meaning) {
    const std::string_view element = local_name(node.name());
    const auto way = way_of(node);
    if (!way) return;
    if (element != "circle" && element != "ellipse" && element != "rect") {
      refuse(node, "a start that is no circle and no rect",
             "a circle, its centre where the feet are put, or a rect that they stand at the bottom "
             "of");
      return;
    }
    if (++starts_ > 1) {
      refuse(node, "a second start", "one");
      return;
    }
    std::vector<Vec> corners;
    for (const Vec& point : way->points) corners.push_back(in_world(meaning.map(point)));
    const Box bounds = bounds_of(corners.data(), corners.size());
    const bool centred = element != "rect";
    file_.level.start = {(bounds.lo.x + bounds.hi.x) / 2,
                         centred ? (bounds.lo.y + bounds.hi.y) / 2 : bounds.lo.y};
    const auto place = place_of(node).begin;
    file_.start = {static_cast<int>(place.line), static_cast<int>(place.column)};
    (void)is_near(node, file_.level.start);
  }

  void read_solid(const pugi::xml_node& node, const Meaning& meaning) {
    const auto way = way_of(node);
    if (!way) return;
    Solid solid;
    solid.name = solid_name(node);
    solid.blocks = blocks_of(meaning.kind);
    solid.is_line = !way->is_closed;
    for (const Vec& point : way->points) {
      solid.corners.push_back(in_world(meaning.map(point)));
      if (!is_near(node, solid.corners.back())) return;
    }
    const bool is_box = local_name(node.name()) == "rect" && meaning.map.keeps_boxes();
    if (is_box) {
      solid.box = bounds_of(solid);
      solid.corners.clear();
      if (!(solid.box.lo.x < solid.box.hi.x && solid.box.lo.y < solid.box.hi.y)) {
        refuse(node, "a rect without an inside", "a transform that leaves it one");
        return;
      }
    } else {
      check_corners(solid, place_of(node), name_of(node), convention_, problems_);
    }
    read_deed(node, "data-surface", meaning.surface, [&](const toml::node& keys, auto& found) {
      read_surface(keys, convention_, solid.traits, found);
    });
    read_deed(node, "data-touch", meaning.touch, [&](const toml::node& keys, auto& found) {
      read_touch(keys, convention_, solid.traits.has_touch, solid.traits.touch, found);
    });
    read_deed(node, "data-path", meaning.path, [&](const toml::node& keys, auto& found) {
      solid.path = read_path(keys, convention_, found);
    });
    ZoneNames names;
    read_deed(node, "data-solid-when", meaning.solid_when,
              [&](const toml::node& keys, auto& found) {
                read_condition(keys, convention_, file_.level.solids.size(), solid.solid_when,
                               names, found);
              });
    names_.add(names, place_of(node));
    const auto place = place_of(node).begin;
    file_.level.solids.push_back(std::move(solid));
    file_.solids.push_back({static_cast<int>(place.line), static_cast<int>(place.column)});
  }

  // A closed shape that is no solid; what it does stands in an attribute.
  void read_drawn_zone(const pugi::xml_node& node, const Meaning& meaning) {
    const auto way = way_of(node);
    if (!way) return;
    if (!way->is_closed) {
      refuse(node, "a zone without an inside", "a closed shape");
      return;
    }
    Solid outline;
    for (const Vec& point : way->points) {
      outline.corners.push_back(in_world(meaning.map(point)));
      if (!is_near(node, outline.corners.back())) return;
    }
    check_corners(outline, place_of(node), name_of(node), convention_, problems_);
    Zone zone;
    ZonePlaces places;
    zone.name = solid_name(node);
    zone.corners = std::move(outline.corners);
    read_deed(node, "data-zone", meaning.zone, [&](const toml::node& keys, auto& found) {
      const toml::table& table = *keys.as_table();
      for (const char* shape : {"box", "polygon", "circle"}) {
        if (!table.contains(shape)) continue;
        found.add(ProblemCode::contradiction, keys.source(), shape, "a shape", "none: it is drawn");
        return;
      }
      read_zone(table, convention_, zone, places, found);
    });
    const auto place = place_of(node).begin;
    places.zone = {static_cast<int>(place.line), static_cast<int>(place.column)};
    places.overrides.assign(zone.overrides.size(), places.zone);
    file_.level.zones.push_back(std::move(zone));
    file_.zones.push_back(std::move(places));
  }

  // The keys of a surface, a touch or a zone, as a level file has them, in an attribute.
  template <class Read>
  void read_deed(const pugi::xml_node& node, const char* attribute, const std::string& text,
                 const Read& read) {
    if (text.empty()) return;
    const auto table = parse_toml(fmt::format("it = {{ {} }}", text), path_, kLevelFormat);
    const toml::node* deed = table ? table->get("it") : nullptr;
    if (deed == nullptr || table->size() != 1 || !deed->is_table()) {
      refuse(node, fmt::format("{}=\"{}\"", attribute, shown(std::string_view(text))),
             "keys as in a level file: \"grip = 0.4, conveyor = 2\"");
      return;
    }
    ProblemList found(path_);
    read(*deed, found);
    for (Problem& problem : found.take()) {
      problems_.add(problem.code, place_of(node),
                    problem.key.empty() ? name_of(node) : name_of(node) + " " + problem.key,
                    std::move(problem.found), std::move(problem.expected),
                    std::move(problem.suggestion));
    }
  }

  const std::string& path_;
  LineCounter lines_;
  ProblemList problems_;
  Convention convention_;
  LevelFile file_;
  ZoneNames names_;
  int starts_ = 0;
};

}  // namespace

Result<LevelFile> parse_drawing(std::string_view text, const std::string& path) {
  text = without_mark(text);
  if (const auto bad = find_bad_byte(text)) {
    const auto where = LineCounter(text).place_of(static_cast<std::ptrdiff_t>(*bad)).begin;
    return tl::unexpected(std::vector<Problem>{
        {ProblemCode::bad_syntax, path, static_cast<int>(where.line),
         static_cast<int>(where.column), "", "bytes that are not UTF-8", "a text in UTF-8", ""}});
  }
  pugi::xml_document document;
  const pugi::xml_parse_result parsed =
      document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_utf8);
  if (!parsed) {
    const auto where = LineCounter(text).place_of(parsed.offset).begin;
    return tl::unexpected(
        std::vector<Problem>{{ProblemCode::bad_syntax, path, static_cast<int>(where.line),
                              static_cast<int>(where.column), "", "text that XML does not allow",
                              fmt::format("SVG ({})", parsed.description()), ""}});
  }
  return DrawingReader(text, path).read(document);
}

}  // namespace bushbaby::detail

#else  // where there is no library for XML

#include "level_reading.h"

namespace bushbaby::detail {

Result<LevelFile> parse_drawing(std::string_view, const std::string& path) {
  return tl::unexpected(
      std::vector<Problem>{{ProblemCode::cannot_read, path, 0, 0, "", "a drawing",
                            "a level in TOML: this was built without drawings", ""}});
}

}  // namespace bushbaby::detail

#endif
