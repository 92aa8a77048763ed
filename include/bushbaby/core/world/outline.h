// Outlines as people draw them: what is wrong with one, and the convex parts of one.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

/// What can be wrong with an outline.
enum class OutlineFault {
  too_few_corners,  ///< fewer than three
  no_length,        ///< the edge `first` has its ends at the same place
  crossing,         ///< the edges `first` and `second` cross, or touch where they are no neighbours
};

struct FaultyOutline {
  OutlineFault fault;
  /// Edges count from 0; the edge i goes from the corner i to the next one.
  std::size_t first = 0;
  std::size_t second = 0;
};

/// Whether something is wrong with a closed outline: that it is not simple. Its corners must be
/// finite. Compares every edge with every other.
[[nodiscard]] std::optional<FaultyOutline> find_fault(const std::vector<Vec>& outline);

/// The area within a simple outline, u²; negative if it goes round clockwise.
[[nodiscard]] double area_of(const std::vector<Vec>& outline) noexcept;

/// Whether a closed outline is convex and goes round counter-clockwise.
[[nodiscard]] bool is_convex(const std::vector<Vec>& outline) noexcept;

/// 64 corners of a circle of radius 1 about the origin, counter-clockwise.
[[nodiscard]] std::vector<Vec> circle_corners();

/// A simple outline, either way round, in convex parts of at most `kMostCorners` corners,
/// counter-clockwise. One that is such a part already comes back as it is; of one that is not
/// simple some parts come back, but not all of it. By clipping ears and joining the triangles
/// across their common edges as long as what comes of it is convex (Hertel and Mehlhorn, 1983).
[[nodiscard]] std::vector<std::vector<Vec>> convex_parts(std::vector<Vec> outline);

}  // namespace bushbaby
