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

std::string release_text(const ReleaseStretch& stretch, bool for_ever, double tick_rate,
                         const Units& units) {
  const auto length = [&units](double value) { return units.text(Dimension::length, value, 4); };
  std::string where = stretch.first == stretch.last
                          ? std::to_string(stretch.first)
                          : fmt::format("{} to {}", stretch.first, stretch.last);
  if (for_ever) where = fmt::format("from {}", stretch.first);
  std::string text = fmt::format("{:<12} {}: ", where, words_of(stretch));
  if (stretch.is_level()) return text + length(stretch.first_height);
  text += fmt::format("{} to {}", length(stretch.first_height), length(stretch.last_height));
  text += fmt::format(", in steps of up to {}", length(stretch.largest_step));
  return fmt::format("{} ({:.4g} ms)", text, 1000 * (stretch.last - stretch.first + 1) / tick_rate);
}

std::string releases_text(const ReleaseStrip& strip, const Units& units) {
  if (strip.releases.empty()) return fmt::format("    {}\n", strip.why_not);
  std::string text;
  const std::vector<ReleaseStretch> stretches = stretches_of(strip);
  for (const ReleaseStretch& stretch : stretches) {
    const bool last = &stretch == &stretches.back();
    text += fmt::format("    {}\n", release_text(stretch, last, strip.tick_rate, units));
  }
  return text;
}

Json releases_json(const ReleaseStrip& strip, const Units& units) {
  Json releases = Json::array();
  for (std::size_t i = 0; i < strip.releases.size(); ++i) {
    const ReleaseOutcome& release = strip.releases[i];
    releases.push_back({{"held", strip.held_for(i)},
                        {"does", name_of(release.effect)},
                        {"waited", release.waited},
                        {"height", units.shown(Dimension::length, release.height)}});
  }
  Json json{{"from", "the press, on the ground"}, {"releases", releases}};
  if (!strip.why_not.empty()) json["why_not"] = strip.why_not;
  return json;
}

}  // namespace

std::string words_of(const WindowStretch& stretch) {
  const bool waits = stretch.longest_wait > 0;
  std::string what = [&] {
    switch (stretch.jump) {
      case Chance::ground: return waits ? "for the ground" : "jumps from the ground";
      case Chance::coyote: return waits ? "for the ground" : "jumps in coyote time";
      case Chance::wall: return waits ? "for the wall" : "jumps off the wall";
      case Chance::air: return waits ? "for a jump in the air" : "jumps in the air";
      case Chance::other: return waits ? "for an exit jump" : "exit jump";
      case Chance::nothing: break;
    }
    return "nothing comes of it";
  }();
  if (!waits) return what;
  return fmt::format("waits {}, {} tick{} at most", what, stretch.longest_wait,
                     stretch.longest_wait == 1 ? "" : "s");
}

std::string words_of(const ReleaseStretch& stretch) {
  const std::string_view what = [&] {
    switch (stretch.effect) {
      case ReleaseEffect::cuts: return "cuts the jump";
      case ReleaseEffect::jumps: return "jumps";
      case ReleaseEffect::nothing: break;
    }
    return "nothing comes of it";
  }();
  if (stretch.longest_wait == 0) return std::string(what);
  return fmt::format("waits for the least hold, {} tick{} at most, and {}", stretch.longest_wait,
                     stretch.longest_wait == 1 ? "" : "s", what);
}

std::string windows_table(const std::vector<WindowsOf>& variants, const Units& units) {
  std::string text;
  const bool one = variants.size() == 1;
  const WindowsOf& first = variants.front();
  for (std::size_t i = 0; i < first.strips.size(); ++i) {
    const WindowStrip& strip = first.strips[i];
    text += fmt::format("{}{}: a press of jump comes N ticks {}\n", i == 0 ? "" : "\n", strip.name,
                        strip.moment);
    for (std::size_t v = 0; v < variants.size(); ++v) {
      text += fmt::format("  {}{}\n", one ? "" : letter_of(v) + " ", variants[v].name);
      text += strip_text(variants[v].strips[i]);
    }
  }
  text += "\nrelease: jump is pressed on the ground and released after N ticks\n";
  for (std::size_t v = 0; v < variants.size(); ++v) {
    text += fmt::format("  {}{}\n", one ? "" : letter_of(v) + " ", variants[v].name);
    text += releases_text(variants[v].released, units);
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
    all.push_back({{"name", variant.name},
                   {"tick_rate", variant.released.tick_rate},
                   {"windows", strips},
                   {"release", releases_json(variant.released, units)}});
  }
  const Json json{{"variants", all},
                  {"units",
                   {{"tick", "ticks"},
                    {"waited", "ticks"},
                    {"held", "ticks"},
                    {"height", units.name(Dimension::length)},
                    {"tick_rate", "Hz"}}}};
  return json_text(json);
}

}  // namespace bushbaby
