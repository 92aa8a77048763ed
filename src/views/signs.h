// The shapes of marks.
#pragma once

#include <vector>

#include "bushbaby/views/picture.h"

namespace bushbaby::detail {

inline constexpr double kSignRadius = 7;  // px

// The strokes of a sign around its place, px.
std::vector<std::vector<Vec>> strokes_of(Sign sign, bool mirrored);

// Whether a sign is one filled outline rather than strokes.
bool is_filled(Sign sign);

// What a mark covers.
inline Box box_of_sign(Vec at) {
  const Vec reach{kSignRadius + 1, kSignRadius + 1};
  return {at - reach, at + reach};
}

}  // namespace bushbaby::detail
