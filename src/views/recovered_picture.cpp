#include "bushbaby/views/recovered_picture.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace bushbaby {
namespace {

constexpr Box kCurves{{78, 84}, {800, 690}};
constexpr Box kMisses{{900, 84}, {1250, 690}};

// Height of a curve at a time, straight between its points.
double height_at(const std::vector<Vec>& curve, double time) {
  if (curve.empty() || time <= curve.front().x) return 0;
  for (std::size_t i = 1; i < curve.size(); ++i) {
    if (time > curve[i].x) continue;
    const double s = (time - curve[i - 1].x) / (curve[i].x - curve[i - 1].x);
    return curve[i - 1].y + s * (curve[i].y - curve[i - 1].y);
  }
  return curve.back().y;
}

Box extent_of(const Recovered& recovered) {
  Box all{{0, 0}, {0, 0}};
  for (const RecoveredFlight& flight : recovered.flights) {
    for (const Vec& at : flight.recorded) {
      all.lo = {std::min(all.lo.x, at.x), std::min(all.lo.y, at.y)};
      all.hi = {std::max(all.hi.x, at.x), std::max(all.hi.y, at.y)};
    }
  }
  return all;
}

Axis time_axis(const Box& all, const Units& units) {
  return {all.lo.x - 0.02 * all.hi.x, 1.03 * all.hi.x,
          "time since take-off, " + units.name(Dimension::time)};
}

Panel curves_panel(const Recovered& recovered, const Units& units) {
  const Box all = extent_of(recovered);
  const double room = 0.08 * (all.hi.y - all.lo.y);
  Panel panel;
  panel.place = beside_numbers(kCurves, units.shown(Dimension::length, all.lo.y),
                               units.shown(Dimension::length, all.hi.y + room));
  panel.title = "recorded (dots) and recovered (lines)";
  panel.x = time_axis(all, units);
  panel.y = {all.lo.y - room, all.hi.y + 2 * room,
             "height above take-off, " + units.name(Dimension::length)};
  const RecoveredFlight* highest = nullptr;
  for (const RecoveredFlight& flight : recovered.flights) {
    panel.lines.push_back(
        {flight.curve, Ink::text, 1.5, flight.jumps ? Stroke::solid : Stroke::dashed, true});
    panel.dots.push_back({flight.recorded, Ink::measured});
    if (flight.curve.empty() || !flight.jumps) continue;
    const auto top_of = [](const RecoveredFlight& one) {
      return *std::max_element(one.curve.begin(), one.curve.end(),
                               [](const Vec& a, const Vec& b) { return a.y < b.y; });
    };
    if (highest == nullptr || top_of(flight).y > top_of(*highest).y) highest = &flight;
  }
  if (highest != nullptr && recovered.height) {
    const auto top = std::max_element(highest->curve.begin(), highest->curve.end(),
                                      [](const Vec& a, const Vec& b) { return a.y < b.y; });
    panel.marks.push_back({*top, Sign::apex, Ink::text});
    panel.labels.push_back(
        {fmt::format("{} at {}", units.text(Dimension::length, recovered.height->value, 4),
                     units.text(Dimension::time, recovered.apex_time->value, 3)),
         *top, Side::above, 15});
  }
  rescale(panel, {units.shown(Dimension::time, 1.0), units.shown(Dimension::length, 1.0)});
  return panel;
}

Panel misses_panel(const Recovered& recovered, const Units& units) {
  const Box all = extent_of(recovered);
  Panel panel;
  double most = 3 * recovered.noise;
  for (const RecoveredFlight& flight : recovered.flights) {
    std::vector<Vec> misses;
    for (const Vec& at : flight.recorded) {
      misses.emplace_back(at.x, at.y - height_at(flight.curve, at.x));
      most = std::max(most, std::abs(misses.back().y));
    }
    panel.dots.push_back({std::move(misses), Ink::measured});
  }
  if (!(most > 0)) most = 1e-9;
  const double band = 1.96 * recovered.noise;
  panel.areas.push_back({{{all.lo.x, -band}, {all.hi.x, -band}, {all.hi.x, band}, {all.lo.x, band}},
                         Ink::target_soft,
                         0.5});
  panel.lines.push_back({{{all.lo.x, 0}, {all.hi.x, 0}}, Ink::faint, 1, Stroke::solid, false});
  panel.labels.push_back({"95 of 100", {all.hi.x, band}, Side::above, 13});
  panel.place = beside_numbers(kMisses, -units.shown(Dimension::length, most),
                               units.shown(Dimension::length, most));
  panel.title = "residuals";
  panel.x = time_axis(all, units);
  panel.y = {-1.15 * most, 1.15 * most,
             "recorded minus recovered, " + units.name(Dimension::length)};
  rescale(panel, {units.shown(Dimension::time, 1.0), units.shown(Dimension::length, 1.0)});
  return panel;
}

}  // namespace

Picture draw(const Recovered& recovered, const std::string& title, const Units& units) {
  Picture picture;
  const auto jumps = std::count_if(recovered.flights.begin(), recovered.flights.end(),
                                   [](const RecoveredFlight& flight) { return flight.jumps; });
  picture.finding =
      fmt::format("{}: {} jump{} recovered to within {}", title, jumps, jumps == 1 ? "" : "s",
                  units.text(Dimension::length, recovered.noise, 2));
  picture.about =
      "Left, every recorded flight as dots over the curve that the recovered constants give, "
      "height "
      "over time since take-off; falls dashed. Right, the residuals; 95 of "
      "100 dots lie in the band.";
  picture.panels.push_back(curves_panel(recovered, units));
  picture.panels.push_back(misses_panel(recovered, units));
  return picture;
}

}  // namespace bushbaby
