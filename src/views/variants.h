// How variants are distinguished in all pictures.
#pragma once

#include <string>
#include <string_view>

#include "bushbaby/lab/overlay.h"
#include "bushbaby/records/overlay_reports.h"
#include "bushbaby/views/picture.h"

#include "words.h"

namespace bushbaby::detail {

inline Ink ink_of_variant(std::size_t variant) {
  return static_cast<Ink>(static_cast<int>(Ink::first_line) + static_cast<int>(variant % 8));
}

inline Stroke stroke_of_variant(std::size_t variant) {
  constexpr Stroke kStrokes[] = {Stroke::solid, Stroke::dashed, Stroke::dotted,
                                 Stroke::dash_dotted};
  return kStrokes[variant % 4];
}

// "B fall.factor=2.2"
inline std::string title_of_variant(std::size_t variant, std::string_view name,
                                    std::size_t longest = 32) {
  return letter_of(variant) + " " + short_name(name, longest);
}

inline Ink ink_of(Chance chance) {
  switch (chance) {
    case Chance::coyote: return Ink::grace;
    case Chance::wall: return Ink::terrain;
    case Chance::air: return Ink::zone;
    case Chance::other: return Ink::measured_soft;
    case Chance::ground:
    case Chance::nothing: break;
  }
  return Ink::faint;
}

inline std::string_view key_of(Chance chance) {
  return chance == Chance::coyote ? "in coyote time" : name_of(chance);
}

}  // namespace bushbaby::detail
