// JSON as it is printed.
#pragma once

#include <optional>
#include <string>

#include <nlohmann/json.hpp>

#include "bushbaby/data/units.h"

namespace bushbaby::detail {

using Json = nlohmann::ordered_json;

// Indented, with a line's end. Names come from files and paths, which need not be UTF-8; JSON must
// be, so that what is not becomes the sign for that.
inline std::string json_text(const Json& json) {
  return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

// A quantity in the units, or null.
inline Json reported_json(const std::optional<double>& value, Dimension dimension,
                          const Units& units) {
  return value ? Json(units.shown(dimension, *value)) : Json();
}

// A place in the units: [x, y].
inline Json place_json(Vec place, const Units& units) {
  const Vec reported = units.shown(Dimension::length, place);
  return Json::array({reported.x, reported.y});
}

}  // namespace bushbaby::detail
