#include "terrain.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "words.h"

namespace bushbaby::detail {
namespace {

// The edges of a box on the sheet, px.
struct Seen {
  Vec lo;
  Vec hi;
};

void add_line(Panel& panel, const std::vector<Vec>& px, Ink ink, double width,
              Stroke stroke = Stroke::solid) {
  Polyline line{{}, ink, width, stroke, true};
  for (const Vec& at : px) line.points.push_back(panel.off_sheet(at));
  panel.lines.push_back(std::move(line));
}

// A zigzag over the edge: it throws back.
void add_bounce(Panel& panel, const Seen& seen) {
  constexpr double kPitch = 6;
  constexpr double kRise = 5;
  std::vector<Vec> points;
  for (int i = 0; seen.lo.x + i * kPitch <= seen.hi.x; ++i) {
    points.emplace_back(seen.lo.x + i * kPitch, seen.hi.y + (i % 2 == 0 ? 1 : kRise));
  }
  add_line(panel, points, Ink::terrain_edge, 1.6);
}

// Chevrons over the edge, the way it carries.
void add_belt(Panel& panel, const Seen& seen, bool right) {
  constexpr double kPitch = 16;
  const double way = right ? 1 : -1;
  for (double x = seen.lo.x + kPitch / 2; x < seen.hi.x; x += kPitch) {
    add_line(
        panel,
        {{x - 3 * way, seen.hi.y + 8}, {x + 2 * way, seen.hi.y + 5}, {x - 3 * way, seen.hi.y + 2}},
        Ink::terrain_edge, 1.6);
  }
}

// Bristles on the edge: nobody jumps from it.
void add_bristles(Panel& panel, const Seen& seen) {
  constexpr double kPitch = 6;
  for (double x = seen.lo.x + kPitch / 2; x < seen.hi.x; x += kPitch) {
    add_line(panel, {{x, seen.hi.y}, {x, seen.hi.y + 5}}, Ink::terrain_edge, 1.4);
  }
}

void add_top(Panel& panel, const SurfaceTraits& traits, const Seen& seen) {
  const std::vector<Vec> edge{{seen.lo.x, seen.hi.y}, seen.hi};
  if (!traits.footing) {
    add_line(panel, edge, Ink::terrain_edge, 3, Stroke::dotted);
  } else if (traits.grip < 1) {
    // Slippery: a gloss between two thin lines.
    add_line(panel, {{seen.lo.x, seen.hi.y - 2.5}, {seen.hi.x, seen.hi.y - 2.5}}, Ink::paper, 3);
    add_line(panel, {{seen.lo.x, seen.hi.y - 5}, {seen.hi.x, seen.hi.y - 5}}, Ink::terrain_edge, 1);
    add_line(panel, edge, Ink::terrain_edge, 1.5);
  } else {
    add_line(panel, edge, Ink::terrain_edge, 3);
  }
  if (traits.bounces()) add_bounce(panel, seen);
  if (traits.belt != 0) add_belt(panel, seen, traits.belt > 0);
  if (!traits.jump) add_bristles(panel, seen);
}

// What a surface does, in words; empty for plain ground.
std::string deeds_of(const SurfaceTraits& traits, const Units& units) {
  const auto speed = [&units](double value) { return units.text(Dimension::speed, value, 3); };
  std::vector<std::string> deeds;
  if (traits.grip != 1) deeds.push_back(fmt::format("grip {:.3g}", traits.grip));
  if (traits.belt != 0) {
    deeds.push_back(fmt::format("carries {} {}", speed(std::abs(traits.belt)),
                                traits.belt > 0 ? "right" : "left"));
  }
  if (traits.bounce_speed > 0) {
    deeds.push_back(fmt::format("bounces at {}", speed(traits.bounce_speed)));
  } else if (traits.bounce > 0) {
    deeds.push_back(fmt::format("bounces back {:.3g}", traits.bounce));
  }
  if (!traits.footing) deeds.emplace_back("no footing");
  if (!traits.jump) deeds.emplace_back("no jump from it");
  if (!traits.cling) deeds.emplace_back("no hold");
  if (traits.has_touch) {
    if (traits.touch.pushes) deeds.emplace_back("pushes");
    if (traits.touch.stun > 0) deeds.emplace_back("stuns");
    if (traits.touch.no_jump > 0) deeds.emplace_back("forbids jumps");
    if (traits.touch.slow > 0) deeds.emplace_back("slows");
    if (traits.touch.no_cling > 0) deeds.emplace_back("keeps off walls");
    if (traits.touch.slow_fall > 0) deeds.emplace_back("slows the fall");
  }
  return fmt::format("{}", fmt::join(deeds, ", "));
}

// In the solid where there is room, else under it.
Label name_label(const Panel& panel, const Seen& seen, const std::string& text) {
  constexpr double kSize = 13;
  constexpr double kThick = 22;    // px that a lying name needs
  constexpr double kUpright = 17;  // and one that stands
  const Vec size = seen.hi - seen.lo;
  const double length = text_width(text, kSize);
  const double middle = (seen.lo.x + seen.hi.x) / 2;
  if (size.x < length && size.x > kUpright && size.y > length) {
    return {text, panel.off_sheet({middle, (seen.lo.y + seen.hi.y) / 2}), Side::over, kSize, true,
            true};
  }
  const bool inside = size.y > kThick;
  return {text, panel.off_sheet({middle, inside ? seen.hi.y : seen.lo.y}), Side::below, kSize};
}

}  // namespace

void add_solid(Panel& panel, const Solid& solid, const Units& units) {
  const Box box{{std::max(solid.box.lo.x, panel.x.lo), std::max(solid.box.lo.y, panel.y.lo)},
                {std::min(solid.box.hi.x, panel.x.hi), std::min(solid.box.hi.y, panel.y.hi)}};
  if (!(box.lo.x < box.hi.x && box.lo.y < box.hi.y)) return;
  const SurfaceTraits& traits = solid.traits;
  panel.areas.push_back({outline_of(box), Ink::terrain});
  const Seen seen{panel.on_sheet(box.lo), panel.on_sheet(box.hi)};
  const bool hurts = traits.has_touch;
  if (hurts) {
    add_line(panel, {seen.lo, {seen.lo.x, seen.hi.y}, seen.hi, {seen.hi.x, seen.lo.y}}, Ink::missed,
             2.5, Stroke::dashed);
  }
  if (solid.box.hi.y <= panel.y.hi && !hurts) add_top(panel, traits, seen);
  const std::string deeds = deeds_of(traits, units);
  std::string text = short_name(solid.name);
  if (!deeds.empty()) text += (text.empty() ? "" : ": ") + deeds;
  if (!text.empty()) panel.labels.push_back(name_label(panel, seen, text));
}

}  // namespace bushbaby::detail
