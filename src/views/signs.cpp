#include "signs.h"

#include <cmath>

namespace bushbaby::detail {
namespace {

using Strokes = std::vector<std::vector<Vec>>;

// A piece of a circle around (0, `lift`), angles in degrees.
std::vector<Vec> bow(double from, double to, double radius, double lift) {
  constexpr int kPieces = 10;
  constexpr double kDegree = 3.14159265358979323846 / 180;
  std::vector<Vec> points;
  for (int i = 0; i <= kPieces; ++i) {
    const double angle = (from + (to - from) * i / kPieces) * kDegree;
    points.emplace_back(radius * std::cos(angle), lift + radius * std::sin(angle));
  }
  return points;
}

// In units of the sign's radius, to the right.
Strokes unit_strokes(Sign sign) {
  switch (sign) {
    case Sign::take_off: return {{{-1, -0.6}, {0, 0.7}, {1, -0.6}}};
    case Sign::apex: return {bow(15, 165, 1, -0.5)};
    case Sign::landing: return {bow(195, 345, 1, 0.5)};
    case Sign::cut: return {{{-0.6, -1}, {0.6, 1}}};
    case Sign::wall: return {{{-0.5, 1}, {0.5, 1}, {0.5, -1}, {-0.5, -1}}};
    case Sign::head: return {{{-1, 0.6}, {1, 0.6}}, {{0, 0.6}, {0, -0.8}}};
    case Sign::dash:
      return {{{-0.9, 0.8}, {-0.1, 0}, {-0.9, -0.8}}, {{0.1, 0.8}, {0.9, 0}, {0.1, -0.8}}};
    case Sign::fast_fall:
      return {{{-0.8, 0.9}, {0, 0.1}, {0.8, 0.9}}, {{-0.8, -0.1}, {0, -0.9}, {0.8, -0.1}}};
    case Sign::climb:
      return {{{-0.8, 0.8}, {0.8, 0.8}}, {{-0.8, 0}, {0.8, 0}}, {{-0.8, -0.8}, {0.8, -0.8}}};
    case Sign::sprint: return {{{-1, -0.8}, {-0.2, 0.8}}, {{0.2, -0.8}, {1, 0.8}}};
    case Sign::bounce: return {{{-1, -0.8}, {-0.5, 0.8}, {0, -0.4}, {0.5, 0.8}, {1, -0.8}}};
    case Sign::push:
      return {{{-0.3, 0}, {1, 0}}, {{-0.3, 0.4}, {0.5, 1}}, {{-0.3, -0.4}, {0.5, -1}}};
    case Sign::farthest:
      return {bow(10, 80, 1, 0), bow(100, 170, 1, 0), bow(190, 260, 1, 0), bow(280, 350, 1, 0)};
    case Sign::met:
      return {{{0, 1.1},
               {0.5, 0.6},
               {0.65, 0},
               {0.5, -0.6},
               {0, -1.1},
               {-0.5, -0.6},
               {-0.65, 0},
               {-0.5, 0.6},
               {0, 1.1}}};
    case Sign::missed: break;
  }
  return {{{0, 1.2}, {1, -0.9}, {0, -0.4}, {-1, -0.9}, {0, 1.2}}};
}

}  // namespace

std::vector<std::vector<Vec>> strokes_of(Sign sign, bool mirrored) {
  Strokes strokes = unit_strokes(sign);
  for (auto& stroke : strokes) {
    for (Vec& at : stroke) at = {(mirrored ? -at.x : at.x) * kSignRadius, at.y * kSignRadius};
  }
  return strokes;
}

bool is_filled(Sign sign) { return sign == Sign::met || sign == Sign::missed; }

}  // namespace bushbaby::detail
