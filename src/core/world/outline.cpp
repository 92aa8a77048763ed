#include "bushbaby/core/world/outline.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <utility>

#include "core/shape/arithmetic.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

// Positive if the way from a over b to c turns left: twice the area between them.
double turn_at(Vec a, Vec b, Vec c) noexcept {
  const Vec ab = subtract(b, a);
  const Vec bc = subtract(c, b);
  return ab.x * bc.y - ab.y * bc.x;
}

// ---- faults -------------------------------------------------------------------------------------

int side_of(Vec a, Vec b, Vec place) noexcept {
  const double turn = turn_at(a, b, place);
  return turn > 0 ? 1 : (turn < 0 ? -1 : 0);
}

// Whether a place on the line through two others lies between them.
bool is_between(Vec a, Vec b, Vec place) noexcept {
  return place.x >= smaller(a.x, b.x) && place.x <= larger(a.x, b.x) &&
         place.y >= smaller(a.y, b.y) && place.y <= larger(a.y, b.y);
}

bool have_common_place(Vec a, Vec b, Vec c, Vec d) noexcept {
  const int c_side = side_of(a, b, c);
  const int d_side = side_of(a, b, d);
  const int a_side = side_of(c, d, a);
  const int b_side = side_of(c, d, b);
  if (c_side * d_side < 0 && a_side * b_side < 0) return true;
  return (c_side == 0 && is_between(a, b, c)) || (d_side == 0 && is_between(a, b, d)) ||
         (a_side == 0 && is_between(c, d, a)) || (b_side == 0 && is_between(c, d, b));
}

// Whether an edge, after the corner that it has in common with the one before, goes back over it.
bool turns_back(Vec a, Vec b, Vec c) noexcept {
  return side_of(a, b, c) == 0 && dot(subtract(b, a), subtract(c, b)) < 0;
}

// ---- ears ---------------------------------------------------------------------------------------

using Loop = std::vector<std::size_t>;  // numbers of corners, counter-clockwise

bool lies_in(Vec place, Vec a, Vec b, Vec c) noexcept {
  return turn_at(a, b, place) >= 0 && turn_at(b, c, place) >= 0 && turn_at(c, a, place) >= 0;
}

// Cuts an outline into triangles.
class EarClipper {
 public:
  explicit EarClipper(const std::vector<Vec>& corners) : corners_(corners), left_(corners.size()) {
    std::iota(left_.begin(), left_.end(), 0);
  }

  std::vector<Loop> clip() {
    std::vector<Loop> triangles;
    while (left_.size() > 2) {
      const std::size_t at = next_ear();
      if (turn(at) > 0) triangles.push_back({before(at), left_[at], after(at)});
      left_.erase(left_.begin() + static_cast<std::ptrdiff_t>(at));
    }
    return triangles;
  }

 private:
  [[nodiscard]] std::size_t before(std::size_t at) const {
    return left_[at == 0 ? left_.size() - 1 : at - 1];
  }
  [[nodiscard]] std::size_t after(std::size_t at) const {
    return left_[at + 1 == left_.size() ? 0 : at + 1];
  }
  [[nodiscard]] double turn(std::size_t at) const {
    return turn_at(corners_[before(at)], corners_[left_[at]], corners_[after(at)]);
  }

  // A corner on a straight edge cuts off nothing, and can go at once.
  [[nodiscard]] bool is_ear(std::size_t at) const {
    const double here = turn(at);
    if (!(here > 0)) return here == 0;
    const Vec a = corners_[before(at)];
    const Vec b = corners_[left_[at]];
    const Vec c = corners_[after(at)];
    for (std::size_t i = 0; i < left_.size(); ++i) {
      const Vec place = corners_[left_[i]];
      if (place == a || place == b || place == c || turn(i) > 0) continue;
      if (lies_in(place, a, b, c)) return false;
    }
    return true;
  }

  // Every simple outline has ears; where rounding hides them, the sharpest corner is taken for one.
  [[nodiscard]] std::size_t next_ear() const {
    std::size_t sharpest = 0;
    for (std::size_t at = 0; at < left_.size(); ++at) {
      if (is_ear(at)) return at;
      if (turn(at) > turn(sharpest)) sharpest = at;
    }
    return sharpest;
  }

  const std::vector<Vec>& corners_;
  Loop left_;
};

// ---- joining ------------------------------------------------------------------------------------

// Joins convex loops across their common edges, as long as what comes of it is convex.
class Joiner {
 public:
  Joiner(const std::vector<Vec>& corners, std::vector<Loop> loops)
      : corners_(corners), loops_(std::move(loops)) {
    for (std::size_t i = 0; i < loops_.size(); ++i) own(i);
  }

  std::vector<Loop> join() {
    const std::map<Edge, std::size_t> edges = owners_;
    for (const auto& [edge, owner] : edges) {
      if (edge.first < edge.second) join_across(edge);
    }
    std::vector<Loop> joined;
    for (Loop& loop : loops_) {
      if (!loop.empty()) joined.push_back(std::move(loop));
    }
    return joined;
  }

 private:
  using Edge = std::pair<std::size_t, std::size_t>;

  void own(std::size_t loop) {
    const Loop& corners = loops_[loop];
    for (std::size_t i = 0; i < corners.size(); ++i) {
      owners_[{corners[i], corners[(i + 1) % corners.size()]}] = loop;
    }
  }

  // The corners of a loop from one to another of them, both included.
  static Loop way(const Loop& loop, std::size_t from, std::size_t to) {
    Loop way;
    auto at = static_cast<std::size_t>(std::find(loop.begin(), loop.end(), from) - loop.begin());
    for (; loop[at % loop.size()] != to; ++at) way.push_back(loop[at % loop.size()]);
    way.push_back(to);
    return way;
  }

  [[nodiscard]] bool is_convex_loop(const Loop& loop) const {
    std::vector<Vec> outline;
    for (const std::size_t corner : loop) outline.push_back(corners_[corner]);
    return is_convex(outline);
  }

  void join_across(const Edge& edge) {
    const auto there = owners_.find(edge);
    const auto back = owners_.find({edge.second, edge.first});
    if (there == owners_.end() || back == owners_.end() || there->second == back->second) return;
    const std::size_t kept = there->second;
    const std::size_t gone = back->second;
    Loop joined = way(loops_[kept], edge.second, edge.first);
    const Loop other = way(loops_[gone], edge.first, edge.second);
    joined.insert(joined.end(), other.begin() + 1, other.end() - 1);
    if (joined.size() > kMostCorners || !is_convex_loop(joined)) return;
    loops_[kept] = std::move(joined);
    loops_[gone].clear();
    own(kept);
  }

  const std::vector<Vec>& corners_;
  std::vector<Loop> loops_;
  std::map<Edge, std::size_t> owners_;
};

}  // namespace

double area_of(const std::vector<Vec>& outline) noexcept {
  double twice = 0;
  for (std::size_t i = 1; i + 1 < outline.size(); ++i) {
    const Vec a = subtract(outline[i], outline[0]);
    const Vec b = subtract(outline[i + 1], outline[0]);
    twice = twice + (a.x * b.y - a.y * b.x);
  }
  return twice / 2;
}

std::optional<FaultyOutline> find_fault(const std::vector<Vec>& outline) {
  const std::size_t count = outline.size();
  if (count < 3) return FaultyOutline{OutlineFault::too_few_corners};
  const auto corner = [&](std::size_t i) { return outline[i % count]; };
  for (std::size_t i = 0; i < count; ++i) {
    if (corner(i) == corner(i + 1)) return FaultyOutline{OutlineFault::no_length, i, i};
  }
  for (std::size_t i = 0; i < count; ++i) {
    for (std::size_t k = i + 1; k < count; ++k) {
      const bool follows = k == i + 1;
      const bool closes = i == 0 && k == count - 1;
      bool meets = false;
      if (follows) {
        meets = turns_back(corner(i), corner(k), corner(k + 1));
      } else if (closes) {
        meets = turns_back(corner(k), corner(0), corner(1));
      } else {
        meets = have_common_place(corner(i), corner(i + 1), corner(k), corner(k + 1));
      }
      if (meets) return FaultyOutline{OutlineFault::crossing, i, k};
    }
  }
  return std::nullopt;
}

bool is_convex(const std::vector<Vec>& outline) noexcept {
  const std::size_t count = outline.size();
  if (count < 3) return false;
  for (std::size_t i = 0; i < count; ++i) {
    if (!(turn_at(outline[i], outline[(i + 1) % count], outline[(i + 2) % count]) >= 0)) {
      return false;
    }
  }
  // A star turns left at every corner, and goes round more than once.
  for (std::size_t i = 1; i + 1 < count; ++i) {
    if (!(turn_at(outline[0], outline[i], outline[i + 1]) >= 0)) return false;
  }
  return area_of(outline) > 0;
}

std::vector<std::vector<Vec>> convex_parts(std::vector<Vec> outline) {
  if (area_of(outline) < 0) std::reverse(outline.begin(), outline.end());
  if (outline.size() <= kMostCorners && is_convex(outline)) return {std::move(outline)};
  std::vector<std::vector<Vec>> parts;
  for (const Loop& loop : Joiner(outline, EarClipper(outline).clip()).join()) {
    std::vector<Vec>& part = parts.emplace_back();
    for (const std::size_t corner : loop) part.push_back(outline[corner]);
  }
  return parts;
}

std::vector<Vec> circle_corners() {
  // By halving the angle between corners, from a square to 64 of them.
  constexpr std::size_t kCorners = 64;
  std::vector<Vec> corners{{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
  while (corners.size() < kCorners) {
    std::vector<Vec> finer;
    for (std::size_t i = 0; i < corners.size(); ++i) {
      const Vec middle = add(corners[i], corners[(i + 1) % corners.size()]);
      finer.push_back(corners[i]);
      finer.push_back(scale(middle, 1 / std::sqrt(dot(middle, middle))));
    }
    corners = std::move(finer);
  }
  return corners;
}

}  // namespace bushbaby
