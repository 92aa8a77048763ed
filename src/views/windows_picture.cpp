#include "bushbaby/views/windows_picture.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "lanes.h"
#include "variants.h"

namespace bushbaby {
namespace {

using detail::ink_of_variant;
using detail::Lane;

Ink ink_of(const PressOutcome& press) {
  return press.waited > 0 ? Ink::pressed : detail::ink_of(press.jump);
}

Ink ink_of(const ReleaseOutcome& release) {
  if (release.waited > 0) return Ink::pressed;
  return release.effect == ReleaseEffect::jumps ? Ink::faint : Ink::measured_soft;
}

// The cells of one strip of one variant, filled up to the ends of the axis where it goes on.
Lane lane_of(const WindowStrip& strip, std::string name, Ink ink, const Axis& x) {
  Lane lane{std::move(name), ink, {}};
  constexpr double kHalf = 0.46;  // of a cell: a seam stays free
  const auto last = static_cast<int>(strip.presses.size()) - 1;
  for (double tick = std::ceil(x.lo); tick < x.hi && last >= 0; ++tick) {
    const int at = static_cast<int>(tick) - strip.first;
    if ((at < 0 && !strip.open_before) || (at > last && !strip.open_after)) continue;
    const PressOutcome& press = strip.presses[static_cast<std::size_t>(std::clamp(at, 0, last))];
    const bool nothing = press.jump == Chance::nothing;
    lane.bars.push_back({tick - kHalf, tick + kHalf, nothing ? Ink::body : ink_of(press),
                         press.waited > 0 ? std::to_string(press.waited) : std::string(), nothing});
  }
  return lane;
}

// One strip of all variants. A strip whose presses all do nothing is omitted.
Panel strip_panel(const WindowsPicture& windows, std::size_t index, Box place, bool with_names) {
  const WindowStrip& first = windows.variants.front().strips[index];
  Axis x{0, 1, {}};
  for (const WindowsOf& variant : windows.variants) {
    const WindowStrip& strip = variant.strips[index];
    if (strip.presses.empty()) continue;
    x.lo = std::min(x.lo, strip.first - 0.5);
    x.hi = std::max(x.hi, strip.first + static_cast<double>(strip.presses.size()) - 0.5);
  }
  std::vector<Lane> lanes;
  for (std::size_t v = 0; v < windows.variants.size(); ++v) {
    const WindowsOf& variant = windows.variants[v];
    lanes.push_back(
        lane_of(variant.strips[index],
                with_names ? detail::title_of_variant(v, variant.name, 20) : letter_of(v),
                ink_of_variant(v), x));
  }
  Panel panel = detail::lane_panel(place, x, lanes);
  panel.x.title = " ";  // with numbers; what they count stands in the heading
  panel.lines.push_back({{{0.5, 0}, {0.5, panel.y.hi}}, Ink::text, 1.5, Stroke::solid, false});
  panel.title = fmt::format("{}: ticks {}", first.name, first.moment);
  return panel;
}

// Ticks held, with room for numbers at the ends of the lines.
Axis held_axis(const WindowsPicture& windows) {
  double longest = 1;
  for (const WindowsOf& variant : windows.variants) {
    const std::size_t releases = variant.released.releases.size();
    if (releases == 0) continue;
    longest = std::max(longest, static_cast<double>(variant.released.held_for(releases - 1)));
  }
  return {0, longest * 1.22, {}};
}

Lane lane_of(const ReleaseStrip& strip, std::string name, Ink ink) {
  Lane lane{std::move(name), ink, {}};
  const double half = 0.46 * strip.rung;
  for (std::size_t i = 0; i < strip.releases.size(); ++i) {
    const ReleaseOutcome& release = strip.releases[i];
    const bool nothing = release.effect == ReleaseEffect::nothing;
    const double held = strip.held_for(i);
    lane.bars.push_back({held - half, held + half, nothing ? Ink::body : ink_of(release),
                         release.waited > 0 ? std::to_string(release.waited) : std::string(),
                         nothing});
  }
  return lane;
}

// What releasing does, over the same ticks as the heights below it.
Panel release_panel(const WindowsPicture& windows, const Box& place) {
  std::vector<Lane> lanes;
  for (std::size_t v = 0; v < windows.variants.size(); ++v) {
    const WindowsOf& variant = windows.variants[v];
    lanes.push_back(lane_of(variant.released, detail::title_of_variant(v, variant.name, 20),
                            ink_of_variant(v)));
  }
  Panel panel = detail::lane_panel(place, held_axis(windows), lanes);
  panel.title = "release: after how many ticks held";
  return panel;
}

// "A, B" if the heights of all variants are the same; else nothing.
std::string letters_of_same_heights(const WindowsPicture& windows) {
  const auto& first = windows.variants.front().released.releases;
  std::string letters;
  for (std::size_t v = 0; v < windows.variants.size(); ++v) {
    const auto& other = windows.variants[v].released.releases;
    const bool same = std::equal(
        first.begin(), first.end(), other.begin(), other.end(),
        [](const ReleaseOutcome& a, const ReleaseOutcome& b) { return a.height == b.height; });
    if (!same) return {};
    letters += (v == 0 ? "" : ", ") + letter_of(v);
  }
  return letters;
}

Panel height_panel(const WindowsPicture& windows, const Box& room) {
  const Units& units = windows.units;
  double highest = 1e-9;
  for (const WindowsOf& variant : windows.variants) {
    for (const ReleaseOutcome& one : variant.released.releases)
      highest = std::max(highest, one.height);
  }
  Panel panel;
  panel.place = room;
  panel.title = "height of a standing jump over the ticks held";
  panel.x = held_axis(windows);
  panel.x.title = "ticks for which jump is held";
  panel.y = {0, highest * 1.18, "height, " + units.name(Dimension::length)};
  const std::string of_all = letters_of_same_heights(windows);
  for (std::size_t v = 0; v < (of_all.empty() ? windows.variants.size() : 1); ++v) {
    const ReleaseStrip& strip = windows.variants[v].released;
    const std::string letters = of_all.empty() ? letter_of(v) : of_all;
    const Ink ink = of_all.empty() ? ink_of_variant(v) : Ink::text;
    std::vector<Vec> line;
    for (std::size_t i = 0; i < strip.releases.size(); ++i) {
      line.emplace_back(strip.held_for(i), strip.releases[i].height);
    }
    if (line.empty()) continue;
    const auto label = [&](Vec place, Side side, double size) {
      const std::string height = units.text(Dimension::length, place.y, 4);
      panel.labels.push_back(
          {fmt::format("{} {}", letters, height), place, side, size, false, false, ink});
    };
    label(line.back(), Side::right, 14);
    label(line.front(), Side::below, 13);
    panel.dots.push_back({line, ink});
    panel.lines.push_back({std::move(line), ink, 2, detail::stroke_of_variant(v), true});
  }
  rescale(panel, {1, units.shown(Dimension::length, 1.0)});
  return panel;
}

std::vector<detail::KeyEntry> key_of(const WindowsPicture& windows) {
  std::set<Chance> seen;
  bool waits = false;
  bool cuts = false;
  bool nothing = false;
  for (const WindowsOf& variant : windows.variants) {
    for (const ReleaseOutcome& release : variant.released.releases) {
      if (release.effect == ReleaseEffect::cuts) (release.waited > 0 ? waits : cuts) = true;
      nothing = nothing || release.effect == ReleaseEffect::nothing;
    }
    for (const WindowStrip& strip : variant.strips) {
      for (const PressOutcome& press : strip.presses) {
        if (press.waited > 0) {
          waits = true;
        } else if (press.jump != Chance::nothing) {
          seen.insert(press.jump);
        } else {
          nothing = true;
        }
      }
    }
  }
  std::vector<detail::KeyEntry> entries;
  entries.reserve(seen.size() + 1);
  for (const Chance chance : seen) {
    entries.push_back({words_of(WindowStretch{0, 0, chance, 0}), detail::ink_of(chance)});
  }
  if (waits) entries.push_back({"waits N ticks", Ink::pressed});
  if (cuts) entries.push_back({"cuts the jump", Ink::measured_soft});
  if (nothing) entries.push_back({"does nothing", Ink::body, true});
  return entries;
}

// How late and how early a press may come, of one variant.
std::string windows_text(const WindowsOf& variant) {
  std::ptrdiff_t late = 0;
  int early = 0;
  for (const WindowStrip& strip : variant.strips) {
    for (const PressOutcome& press : strip.presses) {
      if (strip.name == "edge" && press.jump == Chance::coyote) ++late;
      if (strip.name == "landing") early = std::max(early, press.waited);
    }
  }
  return fmt::format("{} ticks late, {} ticks early", late, early);
}

std::string finding(const WindowsPicture& windows) {
  std::string text;
  for (std::size_t v = 0; v < windows.variants.size(); ++v) {
    const WindowsOf& variant = windows.variants[v];
    text += fmt::format("{}{}: {}", v == 0 ? "" : "; ",
                        detail::title_of_variant(v, variant.name, 24), windows_text(variant));
  }
  return text;
}

bool does_nothing(const WindowsPicture& windows, std::size_t index, Chance chance) {
  return std::all_of(windows.variants.begin(), windows.variants.end(), [&](const WindowsOf& one) {
    const auto& presses = one.strips[index].presses;
    return std::none_of(presses.begin(), presses.end(), [chance](const PressOutcome& press) {
      return chance == Chance::nothing ? press.jump != chance : press.jump == chance;
    });
  });
}

}  // namespace

Picture draw(const WindowsPicture& windows) {
  Picture picture;
  picture.finding = finding(windows);
  picture.about =
      "For an edge, a landing and a wall, a cell for each tick in which a press of jump could "
      "come, "
      "coloured by what it does; below, what releasing does after each number of ticks held, and "
      "how high the jump is then.";
  constexpr double kNames = 185;
  constexpr double kRight = 1250;
  constexpr double kTop = 686;
  constexpr double kBetween = 84;  // for numbers, and the heading of the next
  constexpr double kLeastCurve = 120;
  const std::size_t rows_of_strips = (windows.variants.front().strips.size() + 1) / 2;
  const auto rows = static_cast<double>(rows_of_strips + 1);
  const double room = (kTop - 78 - kLeastCurve - rows * kBetween) / rows;
  const double lanes =
      std::clamp(room, detail::kLaneHeight * static_cast<double>(windows.variants.size()),
                 2 * detail::kLaneHeight * static_cast<double>(windows.variants.size()));
  picture.panels.push_back(detail::key_panel({{kNames, 724}, {kRight, 746}}, key_of(windows)));
  double top = kTop;
  const std::size_t strips = windows.variants.front().strips.size();
  for (std::size_t i = 0; i < strips; ++i) {
    // Walls count only for whoever jumps off them.
    const bool of_wall = windows.variants.front().strips[i].name.substr(0, 4) == "wall";
    if (does_nothing(windows, i, of_wall ? Chance::wall : Chance::nothing)) continue;
    const bool left = picture.panels.size() % 2 == 1;
    const double lo = left ? kNames : 740;
    const double hi = left ? 690 : kRight;
    picture.panels.push_back(strip_panel(windows, i, {{lo, top - lanes}, {hi, top}}, left));
    if (!left) top -= lanes + kBetween;
  }
  if (picture.panels.size() % 2 == 0) top -= lanes + kBetween;
  picture.panels.push_back(release_panel(windows, {{kNames, top - lanes}, {kRight, top}}));
  constexpr double kHeading = 44;  // the axis is that of the heights
  top -= lanes + kHeading;
  picture.panels.push_back(height_panel(windows, {{kNames, 78}, {kRight, top}}));
  return picture;
}

}  // namespace bushbaby
