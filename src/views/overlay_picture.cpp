#include "bushbaby/views/overlay_picture.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/lab/explain.h"

#include "lanes.h"
#include "terrain.h"
#include "variants.h"

namespace bushbaby {
namespace {

using detail::Bar;
using detail::Lane;

using detail::stroke_of_variant;

Ink ink_of(std::size_t variant) { return detail::ink_of_variant(variant); }

std::string called(const OverlayPicture& overlay, std::size_t variant) {
  return detail::title_of_variant(variant, overlay.variants[variant].name);
}

// A variant with what is shown of it.
struct Shown {
  const Variant* variant;
  std::vector<Arc> arcs;
  std::size_t samples;  // that are shown: of a run that ended early, not all of the wait
};

double time_of(const Variant& variant, const Sample& sample) {
  return static_cast<double>(sample.tick - variant.trace.samples.front().tick) /
         variant.trace.tick_rate;
}

// The end of a run that waited in vain shows nothing but the wait.
std::size_t samples_shown(const Variant& variant) {
  const Trace& trace = variant.trace;
  constexpr double kAfter = 0.25;  // s behind the last event
  if (!variant.stall || trace.events.empty()) return trace.samples.size();
  const auto last = trace.events.back().tick - trace.samples.front().tick +
                    static_cast<std::int64_t>(kAfter * trace.tick_rate);
  return std::min(trace.samples.size(), static_cast<std::size_t>(std::max<std::int64_t>(last, 1)));
}

std::vector<Shown> shown_of(const OverlayPicture& overlay) {
  std::vector<Shown> all;
  for (const Variant& variant : overlay.variants) {
    all.push_back({&variant, find_arcs(variant.trace), samples_shown(variant)});
  }
  return all;
}

double longest_of(const std::vector<Shown>& all) {
  double longest = 0;
  for (const Shown& one : all) {
    longest = std::max(longest, time_of(*one.variant, one.variant->trace.samples[one.samples - 1]));
  }
  return std::max(longest, 1e-6);
}

// ---- the trails ---------------------------------------------------------------------------------

// Where a place at a time stands in the panel of trails.
struct Plane {
  bool over_time = false;

  [[nodiscard]] Vec at(double time, Vec feet) const { return over_time ? Vec{time, feet.y} : feet; }
};

double body_of(const OverlayPicture& overlay) {
  return std::max(overlay.variants.front().traits.body_width, 1e-9);
}

// Whether an arc went as the first variant's of that number did.
bool is_as_first(const std::vector<Shown>& all, std::size_t variant, std::size_t arc, double body) {
  if (variant == 0) return false;
  const std::vector<Arc>& first = all.front().arcs;
  if (arc >= first.size()) return false;
  const Arc& a = first[arc];
  const Arc& b = all[variant].arcs[arc];
  const auto near = [body](Vec p, Vec q) { return std::hypot(p.x - q.x, p.y - q.y) < 0.02 * body; };
  return near(a.take_off, b.take_off) && near(a.apex, b.apex) && near(a.landing, b.landing) &&
         std::abs(a.landing_time - b.landing_time) < 1e-6;
}

constexpr std::size_t kMostArcs = 20;  // whose numbers are written

// Things that belong to places of the trails: each place gets one body, one mark of a kind, and one
// label with what the variants have there.
class Sights {
 public:
  Sights(Panel& panel, Vec near) : panel_(panel), near_(near) {}

  void add_body(const Shown& one, std::size_t v, Vec feet, Vec up) {
    const SubjectTraits& traits = one.variant->traits;
    if (traits.body_height <= 0 || !is_new(bodies_, feet, 0.3)) return;
    panel_.lines.push_back(
        body_outline(feet, traits.body_width, traits.body_height, traits.body_radius, up));
    panel_.lines.back().ink = ink_of(v);
  }

  void add_mark(Sign sign, std::size_t v, Vec at) {
    if (is_new(marks_[sign], at, 0.3)) panel_.marks.push_back({at, sign, ink_of(v)});
  }

  // A number of a variant at a place.
  void add_number(Side side, std::size_t v, Vec at, std::string text) {
    for (Number& number : numbers_) {
      if (number.side != side || !is_near(number.at, at, 0.6)) continue;
      if (number.owners.back() == v) continue;
      number.owners.push_back(v);
      number.texts.push_back(std::move(text));
      return;
    }
    numbers_.push_back({side, at, {v}, {std::move(text)}});
  }

  // Writes them: "A, B 3.25 u", or "A lands after 0.6 s, B 0.5 s".
  void write_numbers(std::string_view below) {
    for (const Number& number : numbers_) {
      std::string text;
      bool first = true;
      for (std::size_t i = 0; i < number.owners.size(); ++i) {
        text += (i > 0 ? ", " : "") + letter_of(number.owners[i]);
        const bool last = i + 1 == number.owners.size() || number.texts[i + 1] != number.texts[i];
        if (!last) continue;
        if (first && number.side == Side::below) text += fmt::format(" {}", below);
        first = false;
        text += " " + number.texts[i];
      }
      const Ink ink = number.owners.size() == 1 ? ink_of(number.owners.front()) : Ink::text;
      panel_.labels.push_back({text, number.at, number.side, 13, false, false, ink});
    }
  }

 private:
  struct Number {
    Side side;
    Vec at;
    std::vector<std::size_t> owners;
    std::vector<std::string> texts;
  };

  [[nodiscard]] bool is_near(Vec a, Vec b, double share) const {
    return std::abs(a.x - b.x) < share * near_.x && std::abs(a.y - b.y) < share * near_.y;
  }
  bool is_new(std::vector<Vec>& places, Vec at, double share) const {
    for (const Vec& place : places) {
      if (is_near(place, at, share)) return false;
    }
    places.push_back(at);
    return true;
  }

  Panel& panel_;
  Vec near_;
  std::vector<Vec> bodies_;
  std::map<Sign, std::vector<Vec>> marks_;
  std::vector<Number> numbers_;
};

void add_arcs(Panel& panel, const OverlayPicture& overlay, const std::vector<Shown>& all,
              const Plane& plane) {
  const Units& units = overlay.units;
  const double body = body_of(overlay);
  const double wide = panel.x.hi - panel.x.lo;
  Sights sights(panel, plane.over_time ? Vec{0.03 * wide, body} : Vec{body, body});
  for (std::size_t i = 0; i < kMostArcs; ++i) {
    for (std::size_t v = 0; v < all.size(); ++v) {
      if (i >= all[v].arcs.size()) continue;
      const Arc& arc = all[v].arcs[i];
      if (is_as_first(all, v, i, body)) continue;
      const Vec apex = plane.at(arc.apex_time, arc.apex);
      const Vec landing = plane.at(arc.landing_time, arc.landing);
      if (!plane.over_time) {
        sights.add_body(all[v], v, arc.take_off, arc.up);
        sights.add_body(all[v], v, arc.apex, arc.up);
        if (arc.landed) sights.add_body(all[v], v, arc.landing, arc.up);
      }
      sights.add_mark(Sign::take_off, v, plane.at(arc.take_off_time, arc.take_off));
      if (arc.height() > 0) {
        sights.add_mark(Sign::apex, v, apex);
        sights.add_number(Side::above, v, apex, units.text(Dimension::length, arc.height(), 4));
      }
      if (!arc.landed) continue;
      sights.add_mark(Sign::landing, v, landing);
      sights.add_number(Side::below, v, landing, units.text(Dimension::time, arc.air_time(), 4));
    }
  }
  sights.write_numbers("lands after");
}

// The first place in which a variant is not where the first one is.
void mark_parting(Panel& panel, const std::vector<Shown>& all, std::size_t v, const Plane& plane) {
  const Trace& first = all.front().variant->trace;
  const Trace& other = all[v].variant->trace;
  if (first.tick_rate != other.tick_rate) return;
  const auto parting = find_parting(first, other, 1e-6);
  if (!parting || parting->at_start) return;
  const auto at = std::find_if(other.samples.begin(), other.samples.end(),
                               [&](const Sample& s) { return s.tick >= parting->tick - 1; });
  if (at == other.samples.end()) return;
  const Vec place = plane.at(time_of(*all[v].variant, *at), at->feet);
  panel.marks.push_back({place, Sign::farthest, Ink::text});
  panel.labels.push_back(
      {fmt::format("{} diverges at tick {}", letter_of(v), parting->tick), place, Side::below, 13});
}

void add_trails(Panel& panel, const OverlayPicture& overlay, const std::vector<Shown>& all,
                const Plane& plane) {
  std::vector<Vec> ends;
  for (std::size_t v = 0; v < all.size(); ++v) {
    const std::vector<Sample>& samples = all[v].variant->trace.samples;
    std::vector<Vec> trail;
    for (std::size_t i = 0; i < all[v].samples; ++i) {
      trail.push_back(plane.at(time_of(*all[v].variant, samples[i]), samples[i].feet));
    }
    ends.push_back(trail.back());
    constexpr std::size_t kMostDots = 600;
    if (v == 0 && trail.size() <= kMostDots) panel.dots.push_back({trail, ink_of(v)});
    panel.lines.push_back(
        {std::move(trail), ink_of(v), v == 0 ? 2.5 : 2.2, stroke_of_variant(v), true});
  }
  for (std::size_t v = 0; v < all.size(); ++v) {
    panel.labels.push_back({called(overlay, v), ends[v], Side::right, 14, false, false, ink_of(v)});
  }
  for (std::size_t v = 1; v < all.size(); ++v) mark_parting(panel, all, v, plane);
  add_arcs(panel, overlay, all, plane);
}

void add_reference(Panel& panel, const OverlayPicture& overlay, const Plane& plane) {
  if (overlay.reference == nullptr || overlay.reference->over_time != plane.over_time) return;
  std::vector<Vec> line;
  for (const CurvePoint& point : overlay.reference->points) {
    line.emplace_back(point.across, point.height);
  }
  panel.labels.push_back(
      {"reference", line[line.size() / 3], Side::left, 13, false, false, Ink::target});
  panel.lines.push_back({std::move(line), Ink::target_soft, 7, Stroke::solid, false});
}

// Height over time.
Panel height_panel(const OverlayPicture& overlay, const std::vector<Shown>& all, const Box& room,
                   double end) {
  const Units& units = overlay.units;
  double lowest = 0;
  double highest = 0;
  bool begun = false;
  for (const Shown& one : all) {
    for (std::size_t i = 0; i < one.samples; ++i) {
      const double y = one.variant->trace.samples[i].feet.y;
      lowest = begun ? std::min(lowest, y) : y;
      highest = begun ? std::max(highest, y) : y;
      begun = true;
    }
  }
  const double span = std::max(highest - lowest, 1e-6);
  Panel panel;
  panel.place = room;
  panel.title = "height of the feet over time";
  panel.x = {0, end, {}};
  panel.y = {lowest - 0.15 * span, highest + 0.2 * span,
             "height of the feet, " + units.name(Dimension::length)};
  add_reference(panel, overlay, {true});
  add_trails(panel, overlay, all, {true});
  rescale(panel, {units.shown(Dimension::time, 1.0), units.shown(Dimension::length, Vec{1, 1}).y});
  return panel;
}

// The map; of a drill, the ground alone.
Panel map_panel(const OverlayPicture& overlay, const std::vector<Shown>& all, const Box& room) {
  const Units& units = overlay.units;
  std::vector<Trace> parts;  // what is shown of them
  std::vector<const Trace*> traces;
  parts.reserve(all.size());
  Vec body{1e-6, 1e-6};
  for (const Shown& one : all) {
    const auto& samples = one.variant->trace.samples;
    parts.push_back({});
    parts.back().samples.assign(samples.begin(),
                                samples.begin() + static_cast<std::ptrdiff_t>(one.samples));
    traces.push_back(&parts.back());
    body = {std::max(body.x, one.variant->traits.body_width),
            std::max(body.y, one.variant->traits.body_height)};
  }
  const double far = 1e3 * body.y;
  Level ground;
  ground.solids.push_back({"", {{-far, -far}, {far, 0}}});
  const Level& level = overlay.level != nullptr ? *overlay.level : ground;
  const Box view = detail::view_of(level, traces, body);
  const Vec reported = units.shown(Dimension::length, Vec{1, 1});
  Panel panel = equal_scale_panel(room, view, true);
  const std::string length = units.name(Dimension::length);
  panel.x.title = "x, " + length;
  panel.y.title = "y, " + length + (units.convention.vertical_down ? ", down" : "");
  for (const Zone& zone : level.zones) detail::add_zone(panel, zone, units);
  for (const Solid& solid : level.solids) detail::add_solid(panel, solid, units);
  std::vector<Label> names;  // of solids: they take the room that the run leaves
  names.swap(panel.labels);
  add_reference(panel, overlay, {false});
  add_trails(panel, overlay, all, {false});
  constexpr std::size_t kMostNames = 40;
  for (std::size_t i = 0; i < std::min(names.size(), kMostNames); ++i) {
    panel.labels.push_back(names[i]);
  }
  rescale(panel, reported);
  return panel;
}

// ---- over time ----------------------------------------------------------------------------------

Panel speed_panel(const OverlayPicture& overlay, const std::vector<Shown>& all, const Box& place,
                  double end) {
  const Units& units = overlay.units;
  Panel panel;
  panel.place = place;
  panel.x = {0, end, {}};
  double lowest = 0;
  double highest = 0;
  for (std::size_t v = 0; v < all.size(); ++v) {
    std::vector<Vec> line;
    for (std::size_t i = 0; i < all[v].samples; ++i) {
      const Sample& sample = all[v].variant->trace.samples[i];
      const double up = sample.velocity.x * sample.up.x + sample.velocity.y * sample.up.y;
      line.emplace_back(time_of(*all[v].variant, sample), up);
      lowest = std::min(lowest, up);
      highest = std::max(highest, up);
    }
    panel.lines.push_back({std::move(line), ink_of(v), 2, stroke_of_variant(v), true});
  }
  const double span = std::max(highest - lowest, 1e-6);
  panel.y = {lowest - 0.05 * span, highest + 0.05 * span,
             "vertical speed, " + units.name(Dimension::speed)};
  rescale(panel, {units.shown(Dimension::time, 1.0), units.shown(Dimension::speed, 1.0)});
  constexpr double kNumbers = 4;  // on so low an axis
  panel.y.step = round_step((panel.y.hi - panel.y.lo) / kNumbers);
  return panel;
}

// Stretches of ticks with the same text.
template <class TextOf, class InkOf>
std::vector<Bar> bars_of(std::size_t ticks, double tick_rate, const TextOf& text_of,
                         const InkOf& ink_for, bool low = false) {
  std::vector<Bar> bars;
  for (std::size_t i = 0; i < ticks;) {
    const std::string text = text_of(i);
    std::size_t end = i + 1;
    while (end < ticks && text_of(end) == text) ++end;
    if (!text.empty()) {
      bars.push_back({static_cast<double>(i) / tick_rate, static_cast<double>(end) / tick_rate,
                      ink_for(i), text, low});
    }
    i = end;
  }
  return bars;
}

Lane held_lane(const Shown& one, std::string name, Ink ink) {
  const std::vector<Sample>& samples = one.variant->trace.samples;
  const auto text_of = [&samples](std::size_t i) {
    const std::string text = held_text(samples[i + 1].held);
    return text == "nothing" ? std::string() : text;
  };
  return {std::move(name), ink,
          bars_of(one.samples - 1, one.variant->trace.tick_rate, text_of, [&](std::size_t i) {
            return samples[i + 1].held.jump ? Ink::pressed : Ink::faint;
          })};
}

Lane chance_lane(const Shown& one, std::size_t variant) {
  const std::vector<TickNote>& notes = one.variant->notes;
  const std::size_t ticks = std::min(notes.size(), one.samples - 1);
  const double rate = one.variant->trace.tick_rate;
  Lane lane{"", ink_of(variant),
            bars_of(
                ticks, rate,
                [&notes](std::size_t i) {
                  const Chance chance = notes[i].chance;
                  return chance == Chance::nothing ? std::string() : std::string(name_of(chance));
                },
                [&notes](std::size_t i) { return detail::ink_of(notes[i].chance); })};
  const auto waits = bars_of(
      ticks, rate,
      [&notes](std::size_t i) { return notes[i].remembers ? std::string("waits") : std::string(); },
      [](std::size_t) { return Ink::text; }, true);
  for (Bar bar : waits) {
    bar.text.clear();
    lane.bars.push_back(std::move(bar));
  }
  return lane;
}

// What the colours of the lanes mean, of those that occur.
Panel chance_key(const Box& place, const std::vector<Shown>& all) {
  std::set<Chance> seen;
  bool waits = false;
  for (const Shown& one : all) {
    for (const TickNote& note : one.variant->notes) {
      if (note.chance != Chance::nothing) seen.insert(note.chance);
      waits = waits || note.remembers;
    }
  }
  std::vector<detail::KeyEntry> entries;
  entries.reserve(seen.size() + 1);
  for (const Chance chance : seen) {
    entries.push_back({std::string(detail::key_of(chance)), detail::ink_of(chance)});
  }
  if (waits) entries.push_back({"a press waits", Ink::text, true});
  return detail::key_panel(place, entries);
}

bool hold_the_same(const std::vector<Shown>& all) {
  const auto& first = all.front().variant->trace.samples;
  return std::all_of(all.begin(), all.end(), [&first](const Shown& one) {
    const auto& other = one.variant->trace.samples;
    for (std::size_t i = 0; i < std::min(first.size(), other.size()); ++i) {
      if (first[i].held != other[i].held) return false;
    }
    return one.variant->trace.tick_rate > 0;
  });
}

bool is_same(const Bar& a, const Bar& b) {
  return a.from == b.from && a.to == b.to && a.ink == b.ink && a.text == b.text && a.low == b.low;
}

// A lane that another variant has as well is shown once, with both letters.
void add_lane(std::vector<Lane>& lanes, std::size_t first, Lane lane, const std::string& letter,
              const std::string& what) {
  for (std::size_t i = first; i < lanes.size(); ++i) {
    Lane& other = lanes[i];
    if (!std::equal(lane.bars.begin(), lane.bars.end(), other.bars.begin(), other.bars.end(),
                    is_same)) {
      continue;
    }
    other.name.insert(other.name.size() - what.size() - 2, ", " + letter);
    other.ink = Ink::text;
    return;
  }
  lane.name = letter + ": " + what;
  lanes.push_back(std::move(lane));
}

std::vector<Lane> lanes_of(const std::vector<Shown>& all) {
  std::vector<Lane> lanes;
  if (hold_the_same(all) && all.front().samples > 1) {
    lanes.push_back(held_lane(all.front(), "held", Ink::text));
  } else {
    for (std::size_t v = 0; v < all.size(); ++v) {
      if (all[v].samples > 1)
        add_lane(lanes, 0, held_lane(all[v], "", ink_of(v)), letter_of(v), "held");
    }
  }
  const std::size_t chances = lanes.size();
  for (std::size_t v = 0; v < all.size(); ++v) {
    if (all[v].variant->notes.empty() || all[v].samples < 2) continue;
    add_lane(lanes, chances, chance_lane(all[v], v), letter_of(v), "a press jumps from");
  }
  return lanes;
}

// ---- the whole ----------------------------------------------------------------------------------

bool stays_in_place(const std::vector<Shown>& all, double body) {
  double left = all.front().variant->trace.samples.front().feet.x;
  double right = left;
  for (const Shown& one : all) {
    for (const Sample& sample : one.variant->trace.samples) {
      left = std::min(left, sample.feet.x);
      right = std::max(right, sample.feet.x);
    }
  }
  return right - left < body;
}

std::string finding(const OverlayPicture& overlay) {
  const std::vector<Variant>& variants = overlay.variants;
  std::vector<std::string> parts;
  constexpr std::size_t kMost = 3;
  for (std::size_t v = 1; v < std::min(variants.size(), kMost + 1); ++v) {
    const auto rows = compare_arcs({variants.front(), variants[v]}, kMostArcs);
    if (rows.empty()) {
      parts.push_back(fmt::format("{} as A", called(overlay, v)));
      continue;
    }
    const Compared& row = rows.front();
    const auto reported = [&](const std::optional<double>& value) {
      return value ? overlay.units.text(row.dimension, *value, 4) : std::string("none");
    };
    parts.push_back(fmt::format("{}: {} {}, not {}", called(overlay, v), row.what,
                                reported(row.values[1]), reported(row.values[0])));
  }
  return fmt::format("{} on {}. {}", called(overlay, 0), detail::short_name(overlay.on),
                     fmt::join(parts, "; "));
}

}  // namespace

Picture draw(const OverlayPicture& overlay) {
  const std::vector<Shown> all = shown_of(overlay);
  Picture picture;
  picture.finding = finding(overlay);
  picture.about =
      "Paths of all variants with the body where they took off, topped out and landed; below, "
      "over "
      "time, vertical speed, what is held, and what a press of the jump button would do.";
  constexpr double kLeft = 150;
  constexpr double kRight = 1256;
  constexpr double kBottom = 78;
  constexpr double kSpeedHeight = 112;
  constexpr double kGap = 26;
  constexpr double kAxisRoom = 78;
  const double end = longest_of(all);
  const std::vector<Lane> lanes = lanes_of(all);
  const double lanes_top = kBottom + detail::kLaneHeight * static_cast<double>(lanes.size());
  const Box speed_place{{kLeft, lanes_top + kGap}, {kRight, lanes_top + kGap + kSpeedHeight}};
  const bool in_place = stays_in_place(all, body_of(overlay));  // then all share the axis of time
  const Box trails_room{{kLeft, speed_place.hi.y + (in_place ? kGap : kAxisRoom)}, {kRight, 716}};
  picture.panels.push_back(in_place ? height_panel(overlay, all, trails_room, end)
                                    : map_panel(overlay, all, trails_room));
  picture.panels.push_back(speed_panel(overlay, all, speed_place, end));
  const Units& units = overlay.units;
  Panel below = detail::lane_panel({{kLeft, kBottom}, {kRight, lanes_top}},
                                   {0, end, "time, " + units.name(Dimension::time)}, lanes);
  rescale(below, {units.shown(Dimension::time, 1.0), 1});
  picture.panels.push_back(std::move(below));
  picture.panels.push_back(chance_key({{kLeft, lanes_top}, {kRight, lanes_top + kGap}}, all));
  return picture;
}

}  // namespace bushbaby
