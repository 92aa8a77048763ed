#include "printing.h"

#include <cmath>

#include "bushbaby/core/world/outline.h"

#include "views/signs.h"

namespace bushbaby::live {
namespace {

// Lengths of dashes and gaps, px.
std::vector<float> pattern_of(Stroke stroke) {
  switch (stroke) {
    case Stroke::dashed: return {8, 5};
    case Stroke::dotted: return {2, 4};
    case Stroke::dash_dotted: return {9, 4, 2, 4};
    case Stroke::solid: break;
  }
  return {};
}

}  // namespace

void draw_line(ImDrawList& list, const std::vector<ImVec2>& points, ImU32 ink, float width,
               Stroke stroke) {
  if (points.size() < 2) return;
  const std::vector<float> pattern = pattern_of(stroke);
  if (pattern.empty()) {
    list.AddPolyline(points.data(), static_cast<int>(points.size()), ink, 0, width);
    return;
  }
  std::size_t part = 0;
  float left = pattern[0];
  std::vector<ImVec2> dash{points.front()};
  const auto flush = [&] {
    if (dash.size() > 1) {
      list.AddPolyline(dash.data(), static_cast<int>(dash.size()), ink, 0, width);
    }
    dash.clear();
  };
  for (std::size_t i = 1; i < points.size(); ++i) {
    ImVec2 from = points[i - 1];
    const ImVec2 to = points[i];
    float way = std::hypot(to.x - from.x, to.y - from.y);
    constexpr float kFar = 20000;  // px: nobody sees dashes of that
    if (!(way < kFar)) way = 0;
    while (way > left) {
      const float share = left / way;
      from = {from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share};
      if (part % 2 == 0) dash.push_back(from);
      way -= left;
      if (part % 2 == 0) flush();
      part = (part + 1) % pattern.size();
      left = pattern[part];
      if (part % 2 == 0) dash = {from};
    }
    left -= way;
    if (part % 2 == 0) dash.push_back(to);
  }
  flush();
}

void fill(ImDrawList& list, const Sheet& sheet, const std::vector<Vec>& outline, ImU32 ink) {
  const std::vector<std::vector<Vec>> parts = convex_parts(outline);
  // Soft edges of neighbouring parts would show as seams.
  const ImDrawListFlags before = list.Flags;
  if (parts.size() > 1) list.Flags &= ~ImDrawListFlags_AntiAliasedFill;
  for (const std::vector<Vec>& part : parts) {
    std::vector<ImVec2> points;
    points.reserve(part.size());
    // The list takes them clockwise, as the screen's y goes down.
    for (auto corner = part.rbegin(); corner != part.rend(); ++corner) {
      points.push_back(sheet.at(*corner));
    }
    list.AddConvexPolyFilled(points.data(), static_cast<int>(points.size()), ink);
  }
  list.Flags = before;
}

void draw_sign(ImDrawList& list, ImVec2 at, Sign sign, bool mirrored, ImU32 ink, float scale) {
  for (const std::vector<Vec>& stroke : detail::strokes_of(sign, mirrored)) {
    std::vector<ImVec2> points;
    points.reserve(stroke.size());
    for (const Vec& px : stroke) {
      points.emplace_back(at.x + static_cast<float>(px.x) * scale,
                          at.y - static_cast<float>(px.y) * scale);
    }
    if (detail::is_filled(sign)) {
      list.AddConvexPolyFilled(points.data(), static_cast<int>(points.size()), ink);
    } else {
      draw_line(list, points, ink, 1.8F * scale);
    }
  }
}

void draw_text(ImDrawList& list, ImFont* font, ImVec2 at, float across, float down, ImU32 ink,
               std::string_view text) {
  const char* begin = text.data();
  const char* end = begin + text.size();
  constexpr float kNoEnd = 1e9F;
  const ImVec2 size = font->CalcTextSizeA(font->FontSize, kNoEnd, 0, begin, end);
  const ImVec2 place{std::floor(at.x + (across - 1) * size.x / 2),
                     std::floor(at.y + (down - 1) * size.y / 2)};
  list.AddText(font, font->FontSize, place, ink, begin, end);
}

void draw_panel(ImDrawList& list, const Sheet& sheet, const Panel& panel, const Fonts& fonts,
                float scale) {
  const auto on_sheet = [&panel](const std::vector<Vec>& points) {
    std::vector<Vec> px;
    px.reserve(points.size());
    for (const Vec& point : points) px.push_back(panel.on_sheet(point));
    return px;
  };
  for (const Area& area : panel.areas) {
    fill(list, sheet, on_sheet(area.outline), colour(area.ink, area.strength));
  }
  for (const Polyline& line : panel.lines) {
    std::vector<ImVec2> points;
    points.reserve(line.points.size());
    for (const Vec& px : on_sheet(line.points)) points.push_back(sheet.at(px));
    draw_line(list, points, colour(line.ink), static_cast<float>(line.width) * scale, line.stroke);
  }
  for (const Dots& dots : panel.dots) {
    for (const Vec& px : on_sheet(dots.at)) {
      list.AddCircleFilled(sheet.at(px), 1.8F * scale, colour(dots.ink), 8);
    }
  }
  for (const Mark& mark : panel.marks) {
    draw_sign(list, sheet.at(panel.on_sheet(mark.at)), mark.sign, mark.mirrored, colour(mark.ink),
              scale);
  }
  for (const Label& label : panel.labels) {
    const ImVec2 at = sheet.at(panel.on_sheet(label.at));
    const float away = 4 * scale;
    float across = 0;
    float down = 0;
    ImVec2 place = at;
    switch (label.side) {
      case Side::above:
        down = -1;
        place.y -= away;
        break;
      case Side::below:
        down = 1;
        place.y += away;
        break;
      case Side::right:
        across = 1;
        place.x += away;
        break;
      case Side::left:
        across = -1;
        place.x -= away;
        break;
      case Side::over: break;
    }
    draw_text(list, fonts.small, place, across, down, colour(label.ink), label.text);
  }
}

}  // namespace bushbaby::live
