#include "camera.h"

#include <algorithm>
#include <cmath>

namespace bushbaby::live {

void Camera::set_room(double width, double height) noexcept {
  width_ = std::max(width, 1.0);
  height_ = std::max(height, 1.0);
  if (fits_) fit(fitted_);
}

void Camera::follow(Vec place, double seconds) noexcept {
  if (fits_) return;
  constexpr double kQuiet = 0.16;  // of the room, each way from the middle
  constexpr double kEdge = 0.4;    // the body never comes nearer to the edge than what is left
  constexpr double kRate = 5;      // 1/s
  const auto axis = [&](double& middle, double at, double room) {
    const double away = at - middle;
    const double quiet = room * kQuiet / scale_;
    const double excess = std::abs(away) - quiet;
    if (excess <= 0) return;
    const double sign = away < 0 ? -1 : 1;
    middle += sign * excess * (1 - std::exp(-kRate * seconds));
    const double most = room * kEdge / scale_;
    if (std::abs(at - middle) > most) middle = at - sign * most;
  };
  axis(middle_.x, place.x, width_);
  axis(middle_.y, place.y, height_);
}

void Camera::zoom(double factor, Vec px) noexcept {
  const Vec before = to_place(px);
  constexpr double kLeast = 2;
  constexpr double kMost = 2000;
  scale_ = std::clamp(scale_ * factor, kLeast, kMost);
  middle_ = middle_ + (before - to_place(px));
  fits_ = false;
}

void Camera::fit(const Box& box) noexcept {
  constexpr double kAir = 0.94;
  const double across = std::max(box.hi.x - box.lo.x, 1.0);
  const double up = std::max(box.hi.y - box.lo.y, 1.0);
  scale_ = kAir * std::min(width_ / across, height_ / up);
  middle_ = (box.lo + box.hi) * 0.5;
  fitted_ = box;
  fits_ = true;
}

Box Camera::seen() const noexcept {
  const Vec half{width_ / 2 / scale_, height_ / 2 / scale_};
  return {middle_ - half, middle_ + half};
}

Vec Camera::to_px(Vec place) const noexcept {
  return {(place.x - middle_.x) * scale_ + width_ / 2,
          (place.y - middle_.y) * scale_ + height_ / 2};
}

Vec Camera::to_place(Vec px) const noexcept {
  return {(px.x - width_ / 2) / scale_ + middle_.x, (px.y - height_ / 2) / scale_ + middle_.y};
}

}  // namespace bushbaby::live
