// The camera: which part of the level is seen.
#pragma once

#include "bushbaby/core/shape/shapes.h"

namespace bushbaby::live {

class Camera {
 public:
  /// The room of the screen that the level has, px.
  void set_room(double width, double height) noexcept;

  /// Follows a place, u, N seconds later: within a quiet zone about the middle it stays where
  /// it is.
  void follow(Vec place, double seconds) noexcept;
  /// At once.
  void look_at(Vec place) noexcept { middle_ = place; }
  /// Nearer by a factor, at a place of the room that stays where it is.
  void zoom(double factor, Vec px) noexcept;
  /// Shows all of a box until something is zoomed.
  void fit(const Box& box) noexcept;
  [[nodiscard]] bool fits() const noexcept { return fits_; }

  [[nodiscard]] double scale() const noexcept { return scale_; }  ///< px for a unit
  /// What is seen, u.
  [[nodiscard]] Box seen() const noexcept;
  /// From the level to the room, y up, and back.
  [[nodiscard]] Vec to_px(Vec place) const noexcept;
  [[nodiscard]] Vec to_place(Vec px) const noexcept;

 private:
  double width_ = 800;
  double height_ = 600;
  double scale_ = 44;
  Vec middle_{0, 0};
  bool fits_ = false;
  Box fitted_;
};

}  // namespace bushbaby::live
