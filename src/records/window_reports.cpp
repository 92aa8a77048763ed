#include "bushbaby/records/window_reports.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/records/overlay_reports.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

std::string tick_text(int tick) { return tick == 0 ? "0" : fmt::format("{:+}", tick); }

// A line for a stretch.
std::string stretch_text(const WindowStretch& stretch, bool from_ever, bool for_ever,
                         double tick_rate) {
  const int ticks = stretch.last - stretch.first + 1;
  const std::string first = tick_text(stretch.first);
  const std::string last = tick_text(stretch.last);
  std::string where = ticks == 1 ? first : fmt::format("{} to {}", first, last);
  if (from_ever) where = for_ever ? "at any time" : "up to " + last;
  if (for_ever && !from_ever) where = "from " + first;
  std::string text = fmt::format("{:<12} {}", where, words_of(stretch));
  if (from_ever || for_ever) return text;
  return fmt::format("{}: {} tick{}, {:.4g} ms", text, ticks, ticks == 1 ? "" : "s",
                     1000 * ticks / tick_rate);
}

std::string strip_text(const WindowStrip& strip) {
  if (!strip.why_not.empty()) return fmt::format("    {}\n", strip.why_not);
  const std::vector<WindowStretch> stretches = stretches_of(strip);
  std::string text;
  for (std::size_t i = 0; i < stretches.size(); ++i) {
    text += fmt::format(
        "    {}\n", stretch_text(stretches[i], i == 0 && strip.open_before,
                                 i + 1 == stretches.size() && strip.open_after, strip.tick_rate));
  }
  return text;
}

// The ladder of heights in a few words: how few ticks give the lowest, how many the highest.
std::string heights_text(const WindowsOf& variant, const Units& units) {
  if (variant.heights.empty()) return "    it makes no jump that lands\n";
  const double low = *std::min_element(variant.heights.begin(), variant.heights.end());
  const double high = *std::max_element(variant.heights.begin(), variant.heights.end());
  constexpr double kSame = 1e-9;
  const auto first_at = [&](double height) {
    const auto at = std::find_if(variant.heights.begin(), variant.heights.end(),
                                 [&](double h) { return h >= height - kSame; });
    return (at - variant.heights.begin() + 1) * variant.height_step;
  };
  const auto last_low = std::find_if(variant.heights.begin(), variant.heights.end(),
                                     [&](double h) { return h > low + kSame; });
  const auto low_ticks = (last_low - variant.heights.begin()) * variant.height_step;
  double step = 0;
  for (std::size_t i = 1; i < variant.heights.size(); ++i) {
    step = std::max(step, variant.heights[i] - variant.heights[i - 1]);
  }
  if (high - low < kSame) {
    return fmt::format("    {} however long it is held\n", units.text(Dimension::length, low, 4));
  }
  return fmt::format("    {} held up to {} ticks, {} from {} on; the largest step is {}\n",
                     units.text(Dimension::length, low, 4), low_ticks,
                     units.text(Dimension::length, high, 4), first_at(high),
                     units.text(Dimension::length, step, 4));
}

}  // namespace

WindowsOf measure_all_windows(Subject& subject, std::string name) {
  WindowsOf windows{std::move(name), measure_windows(subject)};
  for (const DrillReport& report : run_drills(subject, {"hold_ladder"})) {
    for (const Series& series : report.series) {
      if (series.name != "hold_ladder.height") continue;
      windows.heights = series.values;
      windows.height_step = series.step;
    }
  }
  return windows;
}

std::string words_of(const WindowStretch& stretch) {
  const bool waits = stretch.longest_wait > 0;
  std::string what = [&] {
    switch (stretch.jump) {
      case Chance::ground: return waits ? "for the ground" : "jumps from the ground";
      case Chance::coyote: return waits ? "for the ground" : "jumps in coyote time";
      case Chance::wall: return waits ? "for the wall" : "jumps off the wall";
      case Chance::air: return waits ? "for a jump in the air" : "jumps in the air";
      case Chance::other: return waits ? "for a leap" : "leaps";
      case Chance::nothing: break;
    }
    return "nothing comes of it";
  }();
  if (!waits) return what;
  return fmt::format("waits {}, {} tick{} at most", what, stretch.longest_wait,
                     stretch.longest_wait == 1 ? "" : "s");
}

std::string windows_table(const std::vector<WindowsOf>& variants, const Units& units) {
  std::string text;
  const bool one = variants.size() == 1;
  const WindowsOf& first = variants.front();
  for (std::size_t i = 0; i < first.strips.size(); ++i) {
    const WindowStrip& strip = first.strips[i];
    text += fmt::format("{}{}: a press of jump comes so many ticks {}\n", i == 0 ? "" : "\n",
                        strip.name, strip.moment);
    for (std::size_t v = 0; v < variants.size(); ++v) {
      text += fmt::format("  {}{}\n", one ? "" : letter_of(v) + " ", variants[v].name);
      text += strip_text(variants[v].strips[i]);
    }
  }
  text += "\nheight: a standing jump, the button held for so many ticks\n";
  for (std::size_t v = 0; v < variants.size(); ++v) {
    text += fmt::format("  {}{}\n", one ? "" : letter_of(v) + " ", variants[v].name);
    text += heights_text(variants[v], units);
  }
  return text;
}

std::string windows_json(const std::vector<WindowsOf>& variants, const Units& units) {
  Json all = Json::array();
  for (const WindowsOf& variant : variants) {
    Json strips = Json::object();
    for (const WindowStrip& strip : variant.strips) {
      Json presses = Json::array();
      for (std::size_t i = 0; i < strip.presses.size(); ++i) {
        const PressOutcome& press = strip.presses[i];
        presses.push_back({{"tick", strip.first + static_cast<int>(i)},
                           {"jump", name_of(press.jump)},
                           {"waited", press.waited}});
      }
      strips[std::string(strip.name)] = {{"from", strip.moment}, {"presses", presses}};
      if (!strip.why_not.empty()) strips[std::string(strip.name)]["why_not"] = strip.why_not;
    }
    Json heights = Json::array();
    for (const double height : variant.heights) {
      heights.push_back(units.told(Dimension::length, height));
    }
    const double rate = variant.strips.empty() ? 0 : variant.strips.front().tick_rate;
    all.push_back({{"name", variant.name},
                   {"tick_rate", rate},
                   {"windows", strips},
                   {"heights", heights},
                   {"height_step", variant.height_step}});
  }
  const Json json{{"variants", all},
                  {"units",
                   {{"tick", "ticks"},
                    {"waited", "ticks"},
                    {"heights", units.name(Dimension::length)},
                    {"height_step", "ticks"},
                    {"tick_rate", "Hz"}}}};
  return json_text(json);
}

}  // namespace bushbaby
