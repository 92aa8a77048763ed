#include "terrain.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/records/zone_words.h"

#include "words.h"

namespace bushbaby::detail {
namespace {

// An edge of a solid on the sheet, px, from its left end; what it bears stands on its outer side.
struct Edge {
  Vec from;
  Vec to;
  Vec along;  // unit vectors
  Vec out;

  [[nodiscard]] double length() const { return std::hypot(to.x - from.x, to.y - from.y); }
  // The place so far along it, and so far out.
  [[nodiscard]] Vec at(double way, double away) const { return from + along * way + out * away; }
};

Edge edge_between(Vec from, Vec to, Vec outside) {
  Edge edge{from, to, {1, 0}, outside};
  const double length = edge.length();
  if (length > 0) edge.along = (to - from) / length;
  return edge;
}

void add_line(Panel& panel, const std::vector<Vec>& px, Ink ink, double width,
              Stroke stroke = Stroke::solid) {
  Polyline line{{}, ink, width, stroke, true};
  for (const Vec& at : px) line.points.push_back(panel.off_sheet(at));
  panel.lines.push_back(std::move(line));
}

// A zigzag over the edge: it throws back.
void add_bounce(Panel& panel, const Edge& edge) {
  constexpr double kPitch = 6;
  constexpr double kRise = 5;
  std::vector<Vec> points;
  for (int i = 0; i * kPitch <= edge.length(); ++i) {
    points.push_back(edge.at(i * kPitch, i % 2 == 0 ? 1 : kRise));
  }
  add_line(panel, points, Ink::terrain_edge, 1.6);
}

// Chevrons over the edge, the way it carries.
void add_conveyor(Panel& panel, const Edge& edge, bool right) {
  constexpr double kPitch = 16;
  const double way = right ? 1 : -1;
  for (double x = kPitch / 2; x < edge.length(); x += kPitch) {
    add_line(panel, {edge.at(x - 3 * way, 8), edge.at(x + 2 * way, 5), edge.at(x - 3 * way, 2)},
             Ink::terrain_edge, 1.6);
  }
}

// Bristles on the edge: nobody jumps from it.
void add_bristles(Panel& panel, const Edge& edge) {
  constexpr double kPitch = 6;
  for (double x = kPitch / 2; x < edge.length(); x += kPitch) {
    add_line(panel, {edge.at(x, 0), edge.at(x, 5)}, Ink::terrain_edge, 1.4);
  }
}

// An edge that faces up.
void add_top(Panel& panel, const SurfaceTraits& traits, const Edge& edge) {
  const std::vector<Vec> line{edge.from, edge.to};
  if (!traits.ground) {
    add_line(panel, line, Ink::terrain_edge, 3, Stroke::dotted);
  } else if (traits.grip < 1) {
    // Slippery: a gloss between two thin lines.
    const double length = edge.length();
    add_line(panel, {edge.at(0, -2.5), edge.at(length, -2.5)}, Ink::paper, 3);
    add_line(panel, {edge.at(0, -5), edge.at(length, -5)}, Ink::terrain_edge, 1);
    add_line(panel, line, Ink::terrain_edge, 1.5);
  } else {
    add_line(panel, line, Ink::terrain_edge, 3);
  }
  if (traits.bounces()) add_bounce(panel, edge);
  if (traits.conveyor != 0) add_conveyor(panel, edge, traits.conveyor > 0);
  if (!traits.jump) add_bristles(panel, edge);
}

// What a surface does, in words; empty for plain ground.
std::string deeds_of(const Solid& solid, const Units& units) {
  const SurfaceTraits& traits = solid.traits;
  const auto speed = [&units](double value) { return units.text(Dimension::speed, value, 3); };
  std::vector<std::string> deeds;
  if (traits.grip != 1) deeds.push_back(fmt::format("grip {:.3g}", traits.grip));
  if (traits.conveyor != 0) {
    deeds.push_back(fmt::format("carries {} {}", speed(std::abs(traits.conveyor)),
                                traits.conveyor > 0 ? "right" : "left"));
  }
  if (traits.bounce_speed > 0) {
    deeds.push_back(fmt::format("bounces at {}", speed(traits.bounce_speed)));
  } else if (traits.bounce > 0) {
    deeds.push_back(fmt::format("bounces back {:.3g}", traits.bounce));
  }
  if (traits.inherit_horizontal != 1 || traits.inherit_vertical != 1) {
    deeds.push_back(fmt::format("inherits {:.3g} horizontal, {:.3g} vertical",
                                traits.inherit_horizontal, traits.inherit_vertical));
  }
  if (!traits.ground) deeds.emplace_back("no ground");
  if (!traits.jump) deeds.emplace_back("no jumping");
  if (!traits.cling) deeds.emplace_back("cannot be grabbed");
  if (traits.has_touch) {
    if (traits.touch.pushes) deeds.emplace_back("pushes");
    if (traits.touch.stun > 0) deeds.emplace_back("stuns");
    if (traits.touch.no_jump > 0) deeds.emplace_back("forbids jumps");
    if (traits.touch.slow > 0) deeds.emplace_back("slows");
    if (traits.touch.no_cling > 0) deeds.emplace_back("no wall grabs");
    if (traits.touch.slow_fall > 0) deeds.emplace_back("slows the fall");
  }
  return fmt::format("{}", fmt::join(deeds, ", "));
}

// What a part of a solid covers on the sheet, px.
struct Seen {
  Vec lo;
  Vec hi;
};

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

// ---- outlines -----------------------------------------------------------------------------------

// A direction in which something counts as inside, with the bound there.
struct HalfPlane {
  Vec normal;
  double bound;

  [[nodiscard]] double beyond(Vec at) const { return at.x * normal.x + at.y * normal.y - bound; }
};

std::array<HalfPlane, 4> sides_of(const Panel& panel) {
  return {
      {{{-1, 0}, -panel.x.lo}, {{1, 0}, panel.x.hi}, {{0, -1}, -panel.y.lo}, {{0, 1}, panel.y.hi}}};
}

// What of a closed outline lies in the panel (Sutherland and Hodgman, 1974).
std::vector<Vec> clipped(std::vector<Vec> outline, const Panel& panel) {
  for (const HalfPlane& side : sides_of(panel)) {
    std::vector<Vec> kept;
    for (std::size_t i = 0; i < outline.size(); ++i) {
      const Vec a = outline[i];
      const Vec b = outline[(i + 1) % outline.size()];
      const double from = side.beyond(a);
      const double to = side.beyond(b);
      if (from <= 0) kept.push_back(a);
      if ((from <= 0) != (to <= 0)) kept.push_back(a + (b - a) * (from / (from - to)));
    }
    outline = std::move(kept);
  }
  return outline;
}

// What of a straight line lies in the panel; false if nothing does.
bool clip(Vec& a, Vec& b, const Panel& panel) {
  for (const HalfPlane& side : sides_of(panel)) {
    const double from = side.beyond(a);
    const double to = side.beyond(b);
    if (from > 0 && to > 0) return false;
    const Vec at = a + (b - a) * (from == to ? 0 : from / (from - to));
    if (from > 0) a = at;
    if (to > 0) b = at;
  }
  return true;
}

// Draws the edges of one solid.
class EdgeDrawer {
 public:
  EdgeDrawer(Panel& panel, const Solid& solid) : panel_(panel), solid_(solid) {}

  // An edge whose outer side is on the right of the way from a to b.
  void add(Vec a, Vec b) {
    if (!clip(a, b, panel_)) return;
    Vec from = panel_.on_sheet(a);
    Vec to = panel_.on_sheet(b);
    const double length = std::hypot(to.x - from.x, to.y - from.y);
    if (!(length > 0)) return;
    const Vec out{(to.y - from.y) / length, (from.x - to.x) / length};
    if (from.x > to.x) std::swap(from, to);
    add_edge(edge_between(from, to, out));
  }

 private:
  void add_edge(const Edge& edge) {
    constexpr double kFacesUp = 0.05;
    constexpr double kFacesDown = -0.5;
    const Vec side = side_of(solid_.blocks);
    const bool passes = side != Vec{0, 0} && !(edge.out.x * side.x + edge.out.y * side.y > 0);
    if (passes) {
      // Whatever comes from here goes through.
      if (!solid_.is_line)
        add_line(panel_, {edge.from, edge.to}, Ink::terrain_edge, 1.4, Stroke::dotted);
    } else if (solid_.traits.has_touch) {
      if (edge.out.y > kFacesDown) {
        add_line(panel_, {edge.from, edge.to}, Ink::missed, 2.5, Stroke::dashed);
      }
    } else if (edge.out.y > kFacesUp) {
      add_top(panel_, solid_.traits, edge);
    } else if (solid_.is_line || side != Vec{0, 0}) {
      add_line(panel_, {edge.from, edge.to}, Ink::terrain_edge, 3);
    }
    if (!passes && solid_.is_line && side != Vec{0, 0}) {
      add_line(panel_, {edge.at(0, -5), edge.at(edge.length(), -5)}, Ink::terrain_edge, 1.4,
               Stroke::dotted);
    }
  }

  Panel& panel_;
  const Solid& solid_;
};

// How far an outline reaches up and down where its middle is.
Seen middle_of(const std::vector<Vec>& outline, const Panel& panel) {
  Vec lo = panel.on_sheet(outline.front());
  Vec hi = lo;
  for (const Vec& corner : outline) {
    const Vec at = panel.on_sheet(corner);
    lo = {std::min(lo.x, at.x), std::min(lo.y, at.y)};
    hi = {std::max(hi.x, at.x), std::max(hi.y, at.y)};
  }
  const double middle = (lo.x + hi.x) / 2;
  Seen seen{{lo.x, hi.y}, {hi.x, lo.y}};
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec a = panel.on_sheet(outline[i]);
    const Vec b = panel.on_sheet(outline[(i + 1) % outline.size()]);
    if ((a.x < middle) == (b.x < middle) || a.x == b.x) continue;
    const double y = a.y + (b.y - a.y) * (middle - a.x) / (b.x - a.x);
    seen.lo.y = std::min(seen.lo.y, y);
    seen.hi.y = std::max(seen.hi.y, y);
  }
  if (seen.lo.y > seen.hi.y) seen = {lo, hi};
  return seen;
}

void add_line_solid(Panel& panel, const Solid& solid) {
  const Vec side = side_of(solid.blocks);
  EdgeDrawer edges(panel, solid);
  for (std::size_t i = 0; i + 1 < solid.corners.size(); ++i) {
    Vec a = solid.corners[i];
    Vec b = solid.corners[i + 1];
    // Its outer side is the one that stops, or the upper one.
    const Vec right{b.y - a.y, a.x - b.x};
    const double faces = side != Vec{0, 0} ? right.x * side.x + right.y * side.y : right.y;
    if (faces < 0) std::swap(a, b);
    edges.add(a, b);
  }
}

// Where the level is, with the start and some room to fall past it.
Box neighbourhood_of(const Level& level, double body_height) {
  const double room = 3 * body_height;
  Box all{level.start, level.start};
  for (const Solid& solid : level.solids) {
    const Box bounds = bounds_of(solid);
    all.lo = {std::min(all.lo.x, bounds.lo.x), std::min(all.lo.y, bounds.lo.y)};
    all.hi = {std::max(all.hi.x, bounds.hi.x), std::max(all.hi.y, bounds.hi.y)};
  }
  return {{all.lo.x - room, all.lo.y - room}, {all.hi.x + room, all.hi.y + room}};
}

}  // namespace

Box view_of(const Level& level, const std::vector<const Trace*>& traces, Vec body) {
  const Box limits = neighbourhood_of(level, body.y);
  Box view{traces.front()->samples.front().feet, traces.front()->samples.front().feet};
  for (const Trace* trace : traces) {
    for (const Sample& sample : trace->samples) {
      const Vec feet{std::clamp(sample.feet.x, limits.lo.x, limits.hi.x),
                     std::clamp(sample.feet.y, limits.lo.y, limits.hi.y)};
      view.lo = {std::min(view.lo.x, feet.x), std::min(view.lo.y, feet.y)};
      view.hi = {std::max(view.hi.x, feet.x), std::max(view.hi.y, feet.y)};
    }
  }
  const double air = std::max(body.x, body.y);
  return {{view.lo.x - air, view.lo.y - 1.2 * air}, {view.hi.x + air, view.hi.y + body.y + air}};
}

void add_zone(Panel& panel, const Zone& zone, const Units& units) {
  Solid shape;
  shape.box = zone.box;
  shape.corners = zone.corners;
  const std::vector<Vec> outline = corners_of(shape);
  const std::vector<Vec> seen = clipped(outline, panel);
  if (seen.size() < 3) return;
  panel.areas.push_back({seen, Ink::zone});
  for (std::size_t i = 0; i < outline.size(); ++i) {
    Vec a = outline[i];
    Vec b = outline[(i + 1) % outline.size()];
    if (!clip(a, b, panel)) continue;
    panel.lines.push_back({{a, b}, Ink::zone_edge, 1.2, Stroke::dotted, false});
  }
  constexpr std::size_t kMostDeeds = 2;  // more would be a paragraph
  std::vector<std::string> deeds = deeds_of(zone, units);
  if (deeds.size() > kMostDeeds) {
    deeds.resize(kMostDeeds);
    deeds.emplace_back("…");
  }
  std::string text = short_name(zone.name);
  if (!deeds.empty()) {
    text += fmt::format("{}{}", text.empty() ? "" : ": ", fmt::join(deeds, ", "));
  }
  if (!text.empty()) panel.labels.push_back(name_label(panel, middle_of(seen, panel), text));
}

void add_way(Panel& panel, const Solid& solid) {
  const Box bounds = bounds_of(solid);
  const Vec middle = (bounds.lo + bounds.hi) * 0.5;
  std::vector<Vec> way{{0, 0}};
  way.insert(way.end(), solid.path->stops.begin(), solid.path->stops.end());
  if (solid.path->loop) way.push_back(way.front());
  const auto add = [&](Vec a, Vec b, Ink ink, double width, Stroke stroke) {
    if (clip(a, b, panel)) panel.lines.push_back({{a, b}, ink, width, stroke, false});
  };
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    add(middle + way[i], middle + way[i + 1], Ink::terrain_edge, 1.4, Stroke::dashed);
  }
  const std::vector<Vec> outline = corners_of(solid);
  const std::size_t edges = is_thin(solid) ? outline.size() - 1 : outline.size();
  for (std::size_t stop = 1; stop <= solid.path->stops.size(); ++stop) {
    const bool turns = stop == solid.path->stops.size() && !solid.path->loop;
    if (!turns && !(wait_at(*solid.path, stop) > 0)) continue;
    const Vec place = solid.path->stops[stop - 1];
    for (std::size_t i = 0; i < edges; ++i) {
      add(outline[i] + place, outline[(i + 1) % outline.size()] + place, Ink::terrain_edge, 1.2,
          Stroke::dotted);
    }
  }
}

void add_solid(Panel& panel, const Solid& solid, const Units& units) {
  std::vector<Vec> seen;
  if (solid.path) add_way(panel, solid);
  if (is_thin(solid)) {
    for (std::size_t i = 0; i + 1 < solid.corners.size(); ++i) {
      Vec a = solid.corners[i];
      Vec b = solid.corners[i + 1];
      if (clip(a, b, panel)) seen.insert(seen.end(), {a, b});
    }
    if (seen.empty()) return;
    add_line_solid(panel, solid);
  } else {
    const std::vector<Vec> outline = corners_of(solid);
    seen = clipped(outline, panel);
    if (seen.size() < 3) return;
    const bool always = solid.blocks == Blocks::everything && solid.solid_when.nodes.empty();
    panel.areas.push_back({seen, always ? Ink::terrain : Ink::paper});
    EdgeDrawer edges(panel, solid);
    for (std::size_t i = 0; i < outline.size(); ++i) {
      edges.add(outline[i], outline[(i + 1) % outline.size()]);
    }
  }
  std::string deeds = deeds_of(solid, units);
  if (!solid.solid_when.nodes.empty())
    deeds += deeds.empty() ? "sometimes solid" : ", sometimes solid";
  if (solid.path) {
    deeds += deeds.empty() ? "" : ", ";
    deeds += fmt::format("goes {} at {}", solid.path->loop ? "loop" : "back and forth",
                         units.text(Dimension::speed, solid.path->speed, 3));
  }
  std::string text = short_name(solid.name);
  if (!deeds.empty()) text += (text.empty() ? "" : ": ") + deeds;
  if (!text.empty()) panel.labels.push_back(name_label(panel, middle_of(seen, panel), text));
}

}  // namespace bushbaby::detail
