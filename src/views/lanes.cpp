#include "lanes.h"

namespace bushbaby::detail {
namespace {

constexpr double kTextSize = 11.5;  // px
constexpr double kNameSize = 12.5;

}  // namespace

Panel lane_panel(const Box& place, const Axis& x, const std::vector<Lane>& lanes) {
  Panel panel;
  panel.place = place;
  panel.x = x;
  panel.y = {0, static_cast<double>(lanes.size()), {}};
  const double px = (place.hi.x - place.lo.x) / (x.hi - x.lo);
  double row = panel.y.hi - 1;
  for (const Lane& lane : lanes) {
    panel.labels.push_back(
        {lane.name, {x.lo, row + 0.5}, Side::left, kNameSize, true, false, lane.ink});
    panel.lines.push_back(
        {{{x.lo, row + 0.08}, {x.hi, row + 0.08}}, Ink::faint, 1, Stroke::solid, false});
    for (const Bar& bar : lane.bars) {
      const double top = bar.low ? 0.24 : 0.9;
      panel.areas.push_back({outline_of({{bar.from, row + 0.1}, {bar.to, row + top}}), bar.ink});
      const bool fits = text_width(bar.text, kTextSize) + 4 < (bar.to - bar.from) * px;
      if (bar.text.empty() || !fits) continue;
      panel.labels.push_back(
          {bar.text, {(bar.from + bar.to) / 2, row + 0.5}, Side::over, kTextSize, true});
    }
    --row;
  }
  return panel;
}

Panel key_panel(const Box& place, const std::vector<KeyEntry>& entries) {
  constexpr double kSwatch = 14;  // px
  constexpr double kApart = 14;
  constexpr double kHalf = 6;
  Panel panel;
  panel.place = place;
  panel.x = {0, place.hi.x - place.lo.x, {}};
  panel.y = {0, place.hi.y - place.lo.y, {}};
  const double middle = panel.y.hi / 2 - 1;
  double x = 0;
  for (const KeyEntry& entry : entries) {
    const double top = entry.low ? middle - kHalf / 2 : middle + kHalf;
    panel.areas.push_back({outline_of({{x, middle - kHalf}, {x + kSwatch, top}}), entry.ink});
    panel.labels.push_back({entry.text, {x + kSwatch, middle}, Side::right, kNameSize, true});
    x += kSwatch + kApart + text_width(entry.text, kNameSize);
  }
  return panel;
}

}  // namespace bushbaby::detail
