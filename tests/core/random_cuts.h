// Levels that are cut into pieces by random lines.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <optional>
#include <random>
#include <vector>

#include "bushbaby/core/world/level.h"
#include "bushbaby/core/world/outline.h"

namespace bushbaby::test {

using Outline = std::vector<Vec>;

class Random {
 public:
  explicit Random(std::uint64_t seed) : random_(seed) {}

  double between(double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random_);
  }
  bool one_in(std::uint64_t n) { return random_() % n == 0; }
  std::uint64_t below(std::uint64_t n) { return random_() % n; }
  template <class T>
  void shuffle(std::vector<T>& list) {
    std::shuffle(list.begin(), list.end(), random_);
  }

 private:
  std::mt19937_64 random_;
};

inline void cut(Random& random, const Box& box, int times, std::vector<Box>& pieces) {
  const bool by_x = random.one_in(2);
  const double lo = by_x ? box.lo.x : box.lo.y;
  const double hi = by_x ? box.hi.x : box.hi.y;
  double at = random.between(lo, hi);
  if (random.one_in(2)) at = std::floor(at * 4) / 4;
  if (times == 0 || random.one_in(4) || !(at > lo && at < hi)) {
    pieces.push_back(box);
    return;
  }
  Box one = box;
  Box other = box;
  (by_x ? one.hi.x : one.hi.y) = at;
  (by_x ? other.lo.x : other.lo.y) = at;
  cut(random, one, times - 1, pieces);
  cut(random, other, times - 1, pieces);
}

// What of a convex outline lies on either side of a line through a place.
inline std::array<Outline, 2> halves(const Outline& outline, Vec place, Vec normal) {
  const auto side = [&](Vec corner) {
    return (corner.x - place.x) * normal.x + (corner.y - place.y) * normal.y;
  };
  std::array<Outline, 2> parts;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec from = outline[i];
    const Vec to = outline[(i + 1) % outline.size()];
    if (side(from) >= 0) parts[0].push_back(from);
    if (side(from) <= 0) parts[1].push_back(from);
    if (side(from) * side(to) >= 0) continue;
    const Vec between = from + (to - from) * (side(from) / (side(from) - side(to)));
    for (Outline& part : parts) part.push_back(between);
  }
  return parts;
}

inline void cut(Random& random, const Outline& outline, int times, std::vector<Outline>& pieces) {
  Vec place{0, 0};
  for (const Vec corner : outline) place += corner / static_cast<double>(outline.size());
  if (random.one_in(3)) place = outline[random.below(outline.size())];
  const double angle = random.between(0, 6.28);
  const Vec normal = random.one_in(2)   ? Vec{std::cos(angle), std::sin(angle)}
                     : random.one_in(2) ? Vec{1, 0}
                                        : Vec{0, 1};
  const auto parts = halves(outline, place, normal);
  const auto is_good = [](const Outline& part) {
    return part.size() >= 3 && part.size() <= kMostCorners && area_of(part) > 1e-3;
  };
  if (times == 0 || random.one_in(4) || !is_good(parts[0]) || !is_good(parts[1])) {
    pieces.push_back(outline);
    return;
  }
  for (const Outline& part : parts) cut(random, part, times - 1, pieces);
}

inline Outline hills(Random& random) {
  Outline edge{{-9, random.between(-1, 1)}};
  while (edge.back().x < 9) {
    const double level = random.one_in(3) ? edge.back().y : random.between(-1, 1.5);
    edge.emplace_back(edge.back().x + random.between(0.3, 3), level);
  }
  edge.emplace_back(edge.back().x, -4);
  edge.emplace_back(-9, -4);
  std::reverse(edge.begin(), edge.end());
  return edge;
}

// A convex outline, a box, or a star; nothing if it came out bad.
inline std::optional<Outline> random_outline(Random& random) {
  const Vec at{random.between(-7, 6), random.between(1, 8)};
  const Vec size{random.between(0.2, 2), random.between(0.2, 2)};
  if (random.one_in(4)) {
    return Outline{at, at + Vec{size.x, 0}, at + size, at + Vec{0, size.y}};
  }
  const bool is_star = random.one_in(3);
  std::vector<double> angles(3 + random.below(5));
  for (double& angle : angles) angle = random.between(0, 6.283);
  std::sort(angles.begin(), angles.end());
  Outline outline;
  for (const double angle : angles) {
    const double share = is_star ? random.between(0.3, 1) : 1;
    outline.push_back(at + Vec{size.x * share * std::cos(angle), size.y * share * std::sin(angle)});
  }
  if (find_fault(outline) || area_of(outline) < 0.05) return std::nullopt;
  return outline;
}

inline Level level_of(const std::vector<Outline>& outlines) {
  Level level;
  for (const Outline& outline : outlines) {
    level.solids.emplace_back();
    level.solids.back().corners = outline;
  }
  return level;
}

// Hills and what floats over them, whole, and cut into pieces in any order.
struct CutScene {
  std::vector<Outline> whole;
  std::vector<Outline> pieces;
};
inline CutScene cut_scene(Random& random) {
  CutScene scene{{hills(random)}, {}};
  for (std::uint64_t left = 1 + random.below(6); left > 0; --left) {
    if (const auto outline = random_outline(random)) scene.whole.push_back(*outline);
  }
  for (const Outline& outline : scene.whole) {
    for (const Outline& part : convex_parts(outline)) cut(random, part, 3, scene.pieces);
  }
  random.shuffle(scene.pieces);
  return scene;
}

}  // namespace bushbaby::test
