#include "bushbaby/views/picture.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace bushbaby {

std::string_view colour_of(Ink ink) noexcept {
  switch (ink) {
    case Ink::paper: return "#d3e2d8";
    case Ink::text: return "#20243a";
    case Ink::faint: return "#a9bfb1";
    case Ink::measured: return "#873c00";
    case Ink::measured_soft: return "#e3a76b";
    case Ink::target: return "#255c1c";
    case Ink::target_soft: return "#aed296";
    case Ink::missed: return "#a01226";
    case Ink::terrain: return "#a89d90";
    case Ink::terrain_edge: return "#4c4036";
    case Ink::zone: return "#d6cfe0";
    case Ink::zone_edge: return "#4d3f76";
    case Ink::pressed: return "#aaa5d9";
    case Ink::grace: return "#90c6c6";
    case Ink::first_line: return "#873c00";
    case Ink::second_line: return "#1f3a96";
    case Ink::third_line: return "#8a1560";
    case Ink::fourth_line: return "#045858";
    case Ink::fifth_line: return "#4c4d00";
    case Ink::sixth_line: return "#6430b4";
    case Ink::seventh_line: return "#5e3a1c";
    case Ink::eighth_line: return "#26262e";
    case Ink::body: break;
  }
  return "#4a466f";
}

Vec Panel::on_sheet(Vec at) const noexcept {
  const Vec size = place.hi - place.lo;
  return {place.lo.x + (at.x - x.lo) / (x.hi - x.lo) * size.x,
          place.lo.y + (at.y - y.lo) / (y.hi - y.lo) * size.y};
}

Vec Panel::off_sheet(Vec px) const noexcept {
  const Vec size = place.hi - place.lo;
  return {x.lo + (px.x - place.lo.x) / size.x * (x.hi - x.lo),
          y.lo + (px.y - place.lo.y) / size.y * (y.hi - y.lo)};
}

Panel equal_scale_panel(const Box& room, const Box& data, bool centred) {
  const Vec px = room.hi - room.lo;
  const Vec size = data.hi - data.lo;
  const double scale = std::min(px.x / size.x, px.y / size.y);
  const Vec more{px.x / scale - size.x, px.y / scale - size.y};
  const double before = centred ? 0.5 : 0;
  Panel panel;
  panel.place = room;
  panel.x = {data.lo.x - more.x * before, data.hi.x + more.x * (1 - before), {}};
  panel.y = {data.lo.y - more.y * before, data.hi.y + more.y * (1 - before), {}};
  return panel;
}

Box beside_numbers(Box room, double lo, double hi) {
  constexpr double kSize = 16;                  // px, of the numbers
  const double has = text_width("100", kSize);  // rooms are made for such numbers
  double widest = has;
  for (const double end : {lo, hi}) {
    widest = std::max(widest, text_width(fmt::format("{:.0f}", end), kSize));
  }
  room.lo.x += widest - has;
  return room;
}

void rescale(Panel& panel, Vec factor) {
  const auto scale = [factor](Vec& at) { at = {at.x * factor.x, at.y * factor.y}; };
  for (double* end : {&panel.x.lo, &panel.x.hi}) *end *= factor.x;
  for (double* end : {&panel.y.lo, &panel.y.hi}) *end *= factor.y;
  for (Area& area : panel.areas) std::for_each(area.outline.begin(), area.outline.end(), scale);
  for (Polyline& line : panel.lines) std::for_each(line.points.begin(), line.points.end(), scale);
  for (Dots& dots : panel.dots) std::for_each(dots.at.begin(), dots.at.end(), scale);
  for (Mark& mark : panel.marks) scale(mark.at);
  for (Label& label : panel.labels) scale(label.at);
}

double round_step(double least) noexcept {
  const double power = std::pow(10, std::floor(std::log10(least)));
  for (const double factor : {1.0, 2.0, 5.0}) {
    if (factor * power >= least) return factor * power;
  }
  return 10 * power;
}

std::vector<Vec> outline_of(const Box& box) {
  return {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}, box.lo};
}

Polyline body_outline(Vec feet, double width, double height, double radius, Vec up) {
  const Box box{{-width / 2, 0}, {width / 2, height}};
  Polyline line{outline_of(box), Ink::body, 1.2, Stroke::solid, true};
  if (radius > 0) {
    constexpr int kSteps = 8;  // of a quarter circle
    const double half_pi = std::acos(0.0);
    line.points.clear();
    for (int i = 0; i <= 4 * kSteps + 3; ++i) {
      const int corner = i / (kSteps + 1);
      const double angle = half_pi * (corner + static_cast<double>(i % (kSteps + 1)) / kSteps);
      const Vec centre{corner == 0 || corner == 3 ? box.hi.x - radius : box.lo.x + radius,
                       corner < 2 ? box.hi.y - radius : box.lo.y + radius};
      line.points.push_back(centre + Vec{std::cos(angle), std::sin(angle)} * radius);
    }
    line.points.push_back(line.points.front());
  }
  for (Vec& point : line.points) {
    point = feet + Vec{point.x * up.y + point.y * up.x, point.y * up.y - point.x * up.x};
  }
  return line;
}

}  // namespace bushbaby
