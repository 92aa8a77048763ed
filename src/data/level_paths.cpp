// Solids of level files that travel.
#include <array>

#include <fmt/format.h>

#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr std::array<FlagField<PlatformPath>, 2> kPathFlags{
    {{"loop", &PlatformPath::loop}, {"ease", &PlatformPath::ease}}};

class PathReader : private FieldReader {
 public:
  using FieldReader::FieldReader;

  std::optional<PlatformPath> read(const toml::node& node) {
    const toml::table* table = as_table(node, "path");
    if (table == nullptr) return std::nullopt;
    const std::size_t faults = problems_.size();
    PlatformPath path;
    double duration = 0;
    for (const auto& [key, value] : *table) {
      const std::string name = "path." + std::string(key.str());
      if (read_flag(kPathFlags, key.str(), value, name, path)) continue;
      if (key.str() == "stops") {
        read_stops(value, path);
      } else if (key.str() == "speed") {
        set_number(value, name, {0, kMostAmount, true}, Dimension::speed, path.speed);
      } else if (key.str() == "duration") {
        set_number(value, name, {0, kMostAmount, true}, Dimension::time, duration);
      } else if (key.str() == "waits") {
        read_waits(value, path);
      } else if (key.str() == "offset") {
        set_number(value, name, {0, kMostAmount}, Dimension::time, path.offset);
      } else {
        problems_.unknown(key, std::string(key.str()),
                          {"stops", "loop", "speed", "duration", "waits", "ease", "offset"});
      }
    }
    if (table->contains("speed") == table->contains("duration")) {
      problems_.add(ProblemCode::contradiction, node.source(), "path",
                    table->contains("speed") ? "speed and duration" : "neither speed nor duration",
                    "one of speed (on its way) and duration (seconds to the last stop, or round)");
    }
    if (problems_.size() != faults) return std::nullopt;
    if (duration > 0) path.speed = length_of(path) / duration;
    if (const auto fault = find_fault(path)) {
      report(*fault, path, *table);
      return std::nullopt;
    }
    return path;
  }

 private:
  [[nodiscard]] std::string stops_text() const {
    return fmt::format("[[x, y], ...] in {} from where the solid is drawn",
                       convention_.length_name);
  }

  void read_stops(const toml::node& node, PlatformPath& path) {
    const toml::array* list = node.as_array();
    if (list == nullptr) {
      problems_.add(ProblemCode::wrong_type, node.source(), "path.stops", shown(node),
                    stops_text());
      return;
    }
    if (list->size() > kMostOutlineCorners) {
      problems_.add(ProblemCode::out_of_range, node.source(), "path.stops",
                    fmt::format("{} stops", list->size()),
                    fmt::format("at most {}", kMostOutlineCorners));
      return;
    }
    for (const toml::node& item : *list) {
      const auto stop = read_numbers(item, 2, "path.stops", stops_text(), Dimension::length,
                                     convention_, problems_);
      if (!stop) return;
      path.stops.push_back(
          from_convention(convention_, Vec{(*stop)[0], (*stop)[1]}, Dimension::length, 1));
    }
  }

  // One time, or a list of them.
  void read_waits(const toml::node& node, PlatformPath& path) {
    const auto read_one = [&](const toml::node& item) {
      set_number(item, "path.waits", {0, kMostAmount}, Dimension::time, path.waits.emplace_back());
    };
    if (const toml::array* list = node.as_array()) {
      for (const toml::node& item : *list) read_one(item);
    } else {
      read_one(node);
    }
  }

  void report(PathFault fault, const PlatformPath& path, const toml::table& table) {
    const auto add_fault = [&](const char* key, std::string found, std::string expected) {
      const toml::node* node = table.get(key);
      problems_.add(ProblemCode::out_of_range, (node != nullptr ? *node : table).source(),
                    fmt::format("path.{}", key), std::move(found), std::move(expected));
    };
    const std::size_t stops = path.stops.size();
    switch (fault) {
      case PathFault::no_stops: add_fault("stops", "no stops", stops_text()); return;
      case PathFault::stop_twice:
        add_fault("stops", "a stop twice in a row",
                  "stops apart from each other: where the solid is drawn is the first");
        return;
      case PathFault::wrong_waits:
        add_fault("waits", fmt::format("{} times", path.waits.size()),
                  fmt::format("one for every stop{}, or one for each of the {}: where the solid is "
                              "drawn is the first",
                              path.loop ? "" : ", two for either end", stops + 1));
        return;
      case PathFault::bad_place:
      case PathFault::bad_speed:
      case PathFault::bad_wait: break;
    }
    add_fault("speed", "a way that takes no time, or too much",
              "a speed or a time with which it takes no more than 1e12 s");
  }
};

}  // namespace

std::optional<PlatformPath> read_path(const toml::node& node, const Convention& convention,
                                      ProblemList& problems) {
  return PathReader(convention, problems).read(node);
}

}  // namespace bushbaby::detail
