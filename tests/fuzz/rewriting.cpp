// A tuning in whatever text, and changes to it: the new text means what was meant.
#include <cstddef>
#include <cstdint>
#include <functional>
#include <random>
#include <string>

#include "bushbaby/data/tuning_file.h"

namespace {

using bushbaby::Knob;
using bushbaby::KnobPlace;
using bushbaby::KnobValue;

KnobValue value_from(std::uint8_t kind, double number) {
  switch (kind % 8) {
    case 0: return number;
    case 1: return bushbaby::Duration{number};
    case 2: return bushbaby::Duration{number, bushbaby::Duration::Unit::ticks};
    case 3: return kind % 2 == 0;
    case 4: return std::string("up");
    case 5: return std::string("scale");
    case 6: return std::monostate{};
    default: break;
  }
  return std::string("a \"name\" \\ of\ttwo\nlines");
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  const auto file = bushbaby::parse_tuning(text, "/nowhere/t");
  if (!file) return 0;
  // What is changed follows from the text, so that all of it is a file as people write them.
  std::mt19937_64 random(std::hash<std::string>{}(text));
  for (int round = 0; round < 8; ++round) {
    bushbaby::Tuning meant = file->tuning;
    const auto places = bushbaby::places_of(meant);
    for (std::uint64_t changes = 1 + random() % 4; changes > 0; --changes) {
      const KnobPlace& place = places[random() % places.size()];
      const double number = static_cast<double>(random() % 256) / 16;
      (void)set_knob(meant, *place.knob, value_from(static_cast<std::uint8_t>(random()), number),
                     place.row);
    }
    if (random() % 4 == 0) meant.wall.exits.emplace_back();
    const auto again = bushbaby::parse_tuning(bushbaby::rewrite_tuning(*file, meant), "/nowhere/t");
    if (!again) __builtin_trap();
    if (!bushbaby::first_difference(meant, again->tuning).empty()) __builtin_trap();
  }
  return 0;
}
