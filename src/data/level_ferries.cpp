// Solids of level files that travel.
#include <array>

#include <fmt/format.h>

#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr std::array<FlagField<Ferry>, 2> kFerryFlags{
    {{"round", &Ferry::round}, {"gentle", &Ferry::gentle}}};

class FerryReader : private FieldReader {
 public:
  using FieldReader::FieldReader;

  std::optional<Ferry> read(const toml::node& node) {
    const toml::table* table = as_table(node, "ferry");
    if (table == nullptr) return std::nullopt;
    const std::size_t faults = problems_.size();
    Ferry ferry;
    double takes = 0;
    for (const auto& [key, value] : *table) {
      const std::string name = "ferry." + std::string(key.str());
      if (read_flag(kFerryFlags, key.str(), value, name, ferry)) continue;
      if (key.str() == "stops") {
        read_stops(value, ferry);
      } else if (key.str() == "speed") {
        set_number(value, name, {0, kMostAmount, true}, Dimension::speed, ferry.speed);
      } else if (key.str() == "takes") {
        set_number(value, name, {0, kMostAmount, true}, Dimension::time, takes);
      } else if (key.str() == "waits") {
        read_waits(value, ferry);
      } else if (key.str() == "starts_at") {
        set_number(value, name, {0, kMostAmount}, Dimension::time, ferry.starts_at);
      } else {
        problems_.unknown(key, std::string(key.str()),
                          {"stops", "round", "speed", "takes", "waits", "gentle", "starts_at"});
      }
    }
    if (table->contains("speed") == table->contains("takes")) {
      problems_.add(ProblemCode::contradiction, node.source(), "ferry",
                    table->contains("speed") ? "speed and takes" : "neither speed nor takes",
                    "one of speed (on its way) and takes (seconds to the last stop, or round)");
    }
    if (problems_.size() != faults) return std::nullopt;
    if (takes > 0) ferry.speed = length_of(ferry) / takes;
    if (const auto fault = find_fault(ferry)) {
      tell(*fault, ferry, *table);
      return std::nullopt;
    }
    return ferry;
  }

 private:
  [[nodiscard]] std::string stops_text() const {
    return fmt::format("[[x, y], ...] in {} from where the solid is drawn",
                       convention_.length_name);
  }

  void read_stops(const toml::node& node, Ferry& ferry) {
    const toml::array* list = node.as_array();
    if (list == nullptr) {
      problems_.add(ProblemCode::wrong_type, node.source(), "ferry.stops", shown(node),
                    stops_text());
      return;
    }
    if (list->size() > kMostOutlineCorners) {
      problems_.add(ProblemCode::out_of_range, node.source(), "ferry.stops",
                    fmt::format("{} stops", list->size()),
                    fmt::format("at most {}", kMostOutlineCorners));
      return;
    }
    for (const toml::node& item : *list) {
      const auto stop = read_numbers(item, 2, "ferry.stops", stops_text(), Dimension::length,
                                     convention_, problems_);
      if (!stop) return;
      ferry.stops.push_back(
          from_convention(convention_, Vec{(*stop)[0], (*stop)[1]}, Dimension::length, 1));
    }
  }

  // One time, or a list of them.
  void read_waits(const toml::node& node, Ferry& ferry) {
    const auto read_one = [&](const toml::node& item) {
      set_number(item, "ferry.waits", {0, kMostAmount}, Dimension::time,
                 ferry.waits.emplace_back());
    };
    if (const toml::array* list = node.as_array()) {
      for (const toml::node& item : *list) read_one(item);
    } else {
      read_one(node);
    }
  }

  void tell(FerryFault fault, const Ferry& ferry, const toml::table& table) {
    const auto add_fault = [&](const char* key, std::string found, std::string expected) {
      const toml::node* node = table.get(key);
      problems_.add(ProblemCode::out_of_range, (node != nullptr ? *node : table).source(),
                    fmt::format("ferry.{}", key), std::move(found), std::move(expected));
    };
    const std::size_t stops = ferry.stops.size();
    switch (fault) {
      case FerryFault::no_stops: add_fault("stops", "no stops", stops_text()); return;
      case FerryFault::stop_twice:
        add_fault("stops", "a stop twice in a row",
                  "stops apart from each other: where the solid is drawn is the first");
        return;
      case FerryFault::wrong_waits:
        add_fault("waits", fmt::format("{} times", ferry.waits.size()),
                  fmt::format("one for every stop{}, or one for each of the {}: where the solid is "
                              "drawn is the first",
                              ferry.round ? "" : ", two for either end", stops + 1));
        return;
      case FerryFault::bad_place:
      case FerryFault::bad_speed:
      case FerryFault::bad_wait: break;
    }
    add_fault("speed", "a way that takes no time, or too much",
              "a speed or a time with which it takes no more than 1e12 s");
  }
};

}  // namespace

std::optional<Ferry> read_ferry(const toml::node& node, const Convention& convention,
                                ProblemList& problems) {
  return FerryReader(convention, problems).read(node);
}

}  // namespace bushbaby::detail
