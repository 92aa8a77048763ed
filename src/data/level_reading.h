// What the readers of level files share: lists of numbers, outlines, and surfaces.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "bushbaby/core/world/level.h"
#include "bushbaby/data/convention.h"
#include "bushbaby/data/level_file.h"

#include "toml_text.h"

namespace bushbaby::detail {

// Farther out than this, the flush gap drowns in rounding. World units.
inline constexpr double kFarthest = 1e7;

// Of whatever unit: larger is a slip, and would not stay finite.
inline constexpr double kMostAmount = 1e6;

// More corners than these are no outline that somebody drew: every edge is compared with every
// other.
inline constexpr std::size_t kMostOutlineCorners = 1000;

// Reads a list of exactly `count` lengths or speeds; notes what is wrong with it.
std::optional<std::vector<double>> read_numbers(const toml::node& node, std::size_t count,
                                                const std::string& key, const std::string& expected,
                                                Dimension dimension, const Convention& convention,
                                                ProblemList& problems);

// A number, or a flag, of something that a table describes.
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

// Reads numbers and flags of tables; notes what is wrong with them.
class FieldReader {
 public:
  FieldReader(const Convention& convention, ProblemList& problems)
      : convention_(convention), problems_(problems) {}

  const toml::table* as_table(const toml::node& node, const std::string& key);
  void set_number(const toml::node& node, const std::string& name, const Range& range,
                  Dimension dimension, double& target);
  void set_flag(const toml::node& node, const std::string& name, bool& target);

  // Whether quantities of that dimension mean something in a level, which has no tick rate.
  bool has_rate(const toml::node& node, const std::string& name, Dimension dimension);

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

 protected:
  const Convention& convention_;
  ProblemList& problems_;
};

// The choice among names that a text makes; notes if it makes none.
std::optional<std::size_t> read_choice(const toml::node& node, const std::string& key,
                                       const std::vector<std::string_view>& names,
                                       ProblemList& problems);

std::optional<std::string> read_text(const toml::node& node, const std::string& key,
                                     ProblemList& problems);

// Notes what is wrong with a solid's outline or line; `where` is its place.
void check_corners(const Solid& solid, const toml::source_region& where, const std::string& key,
                   const Convention& convention, ProblemList& problems);

// What a solid stops, in words: "everything", "from above", …
inline constexpr std::array<std::string_view, 5> kBlocksNames{
    "everything", "from above", "from below", "from left", "from right"};

// Read the tables of one solid's surface and touch; note what is wrong with them.
void read_surface(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                  ProblemList& problems);
void read_touch(const toml::node& node, const Convention& convention, bool& has_touch, Touch& touch,
                ProblemList& problems);

// The place where something begins.
inline FilePlace place_of(const toml::source_region& where) {
  return {static_cast<int>(where.begin.line), static_cast<int>(where.begin.column)};
}

// A box, in world units; its sides keep their names whichever way y grows.
void read_box(const toml::node& node, const std::string& key, const Convention& convention,
              Box& box, ProblemList& problems);

// The corners of a polygon or a line, in world units.
void read_corners(const toml::node& node, const std::string& key, const Convention& convention,
                  Solid& solid, ProblemList& problems);

// A circle as a polygon, in world units.
void read_circle(const toml::node& node, const std::string& key, const Convention& convention,
                 std::vector<Vec>& corners, ProblemList& problems);

// Reads the keys of one zone, or notes what is wrong with them; its shape may be among them.
void read_zone(const toml::table& table, const Convention& convention, Zone& zone,
               ZonePlaces& places, ProblemList& problems);

// Notes it if a zone's table does not have one shape.
void check_zone_shape(const toml::table& table, ProblemList& problems);

// Zones that conditions name, which may stand behind them in a file.
class ZoneNames {
 public:
  struct Named {
    std::size_t solid;  // whose condition
    std::size_t node;   // the statement in it
    std::string name;
    toml::source_region where;
  };
  void add(Named named) { named_.push_back(std::move(named)); }
  // Adds those of another list, as if they all stood there.
  void add(const ZoneNames& others, const toml::source_region& where) {
    for (Named named : others.named_) {
      named.where = where;
      add(std::move(named));
    }
  }
  // Puts ids in their place, or notes that there is no such zone.
  void resolve(Level& level, ProblemList& problems) const;

 private:
  std::vector<Named> named_;
};

// Reads when a solid is solid; `solid` is its index in the level.
void read_condition(const toml::node& node, const Convention& convention, std::size_t solid,
                    Condition& condition, ZoneNames& names, ProblemList& problems);

// Reads how a solid travels; nothing if something is wrong with it, which is noted.
std::optional<PlatformPath> read_path(const toml::node& node, const Convention& convention,
                                      ProblemList& problems);

// Reads a level drawn as SVG.
Result<LevelFile> parse_drawing(std::string_view text, const std::string& path);

}  // namespace bushbaby::detail
