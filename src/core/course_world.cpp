#include <algorithm>
#include <array>

#include "bushbaby/core/course.h"

#include "casts.h"

namespace bushbaby {
namespace {

constexpr std::uint32_t kLeafSize = 4;
// Halving 2^31 boxes down to leaves of 4 is 29 levels; one entry a level waits on the stack.
constexpr std::size_t kMostWaiting = 64;

Box bounds_of(const Box& a, const Box& b) noexcept {
  return {{smaller(a.lo.x, b.lo.x), smaller(a.lo.y, b.lo.y)},
          {larger(a.hi.x, b.hi.x), larger(a.hi.y, b.hi.y)}};
}

std::vector<Box> boxes_of(const Course& course) {
  std::vector<Box> boxes;
  boxes.reserve(course.solids.size());
  for (const Solid& solid : course.solids) boxes.push_back(solid.box);
  return boxes;
}

bool reaches(const Box& box, Vec point) noexcept {
  return point.x >= box.lo.x && point.x <= box.hi.x && point.y >= box.lo.y && point.y <= box.hi.y;
}

}  // namespace

CourseWorld::CourseWorld(const Course& course) : CourseWorld(boxes_of(course)) {}

CourseWorld::CourseWorld(const std::vector<Box>& solids) {
  entries_.reserve(solids.size());
  for (const Box& box : solids) entries_.push_back({box, static_cast<SurfaceId>(entries_.size())});
  if (entries_.empty()) return;
  nodes_.reserve(entries_.size());
  nodes_.emplace_back();
  split(0, 0, static_cast<std::uint32_t>(entries_.size()));
}

// Splits at the median along the longer side of the centres' bounds: balanced whatever the layout.
void CourseWorld::split(std::uint32_t node, std::uint32_t first, std::uint32_t count) {
  const auto centre = [](const Entry& entry) {
    return Vec{(entry.box.lo.x + entry.box.hi.x) / 2, (entry.box.lo.y + entry.box.hi.y) / 2};
  };
  Box bounds = entries_[first].box;
  Box centres{centre(entries_[first]), centre(entries_[first])};
  for (std::uint32_t i = first + 1; i < first + count; ++i) {
    bounds = bounds_of(bounds, entries_[i].box);
    centres = bounds_of(centres, {centre(entries_[i]), centre(entries_[i])});
  }
  nodes_[node].bounds = bounds;
  if (count <= kLeafSize) {
    nodes_[node].first = first;
    nodes_[node].count = count;
    return;
  }
  const bool along_x = centres.hi.x - centres.lo.x >= centres.hi.y - centres.lo.y;
  const auto before = [&](const Entry& a, const Entry& b) {
    const double ca = along_x ? centre(a).x : centre(a).y;
    const double cb = along_x ? centre(b).x : centre(b).y;
    return ca != cb ? ca < cb : a.surface < b.surface;
  };
  const std::uint32_t half = count / 2;
  const auto begin = entries_.begin() + first;
  std::nth_element(begin, begin + half, begin + count, before);
  const auto children = static_cast<std::uint32_t>(nodes_.size());
  nodes_.emplace_back();
  nodes_.emplace_back();
  nodes_[node].first = children;
  split(children, first, half);
  split(children + 1, first + half, count - half);
}

Contact CourseWorld::cast(const Sweep& sweep) const noexcept {
  Contact best;
  if (nodes_.empty()) return best;
  const Ray ray = ray_of(sweep);
  const Box& shape = sweep.shape;
  // Where the ray enters a node's bounds; more than 1 if it does not, or later than the best hit.
  constexpr double kNever = 2;
  const auto enters = [&](const Node& node) {
    const Within within = ray_within(ray, places_inside(node.bounds, shape));
    const bool reached =
        within.enter <= within.exit && within.exit >= 0 && within.enter <= best.fraction;
    return reached ? within.enter : kNever;
  };
  struct Waiting {
    std::uint32_t node;
    double enter;
  };
  std::array<Waiting, kMostWaiting> stack;
  std::size_t waiting = 0;
  const auto wait = [&](std::uint32_t node, double enter) {
    if (enter != kNever) stack[waiting++] = {node, enter};
  };
  wait(0, enters(nodes_[0]));
  while (waiting > 0) {
    const Waiting next = stack[--waiting];
    if (next.enter > best.fraction) continue;
    const Node& node = nodes_[next.node];
    if (node.count > 0) {
      for (std::uint32_t i = node.first; i < node.first + node.count; ++i) {
        const Contact contact = cast_against(sweep, entries_[i].box, entries_[i].surface);
        if (comes_before(contact, best, sweep.up)) best = contact;
      }
      continue;
    }
    // The nearer child is taken up first: it often makes the farther one needless.
    const double left = enters(nodes_[node.first]);
    const double right = enters(nodes_[node.first + 1]);
    if (left <= right) {
      wait(node.first + 1, right);
      wait(node.first, left);
    } else {
      wait(node.first, left);
      wait(node.first + 1, right);
    }
  }
  return best;
}

Overlap CourseWorld::overlap(const Box& shape, Vec feet, std::int64_t /*tick*/) const noexcept {
  Overlap deepest;
  if (nodes_.empty()) return deepest;
  std::array<std::uint32_t, kMostWaiting> stack;
  std::size_t waiting = 0;
  stack[waiting++] = 0;
  while (waiting > 0) {
    const Node& node = nodes_[stack[--waiting]];
    if (!reaches(places_inside(node.bounds, shape), feet)) continue;
    if (node.count == 0) {
      stack[waiting++] = node.first;
      stack[waiting++] = node.first + 1;
      continue;
    }
    for (std::uint32_t i = node.first; i < node.first + node.count; ++i) {
      const Overlap overlap = overlap_with(shape, feet, entries_[i].box, entries_[i].surface);
      const bool deeper = overlap.depth > deepest.depth ||
                          (overlap.depth == deepest.depth && overlap.surface < deepest.surface);
      if (overlap.depth > 0 && deeper) deepest = overlap;
    }
  }
  return deepest;
}

}  // namespace bushbaby
