#include "bushbaby/views/charts.h"

#include <algorithm>
#include <vector>

#include <fmt/format.h>

#include "words.h"

namespace bushbaby {
namespace {

// What is plotted across: time since take-off, or way from it.
enum class Across { time, distance };

struct NamedJump {
  std::string name;
  const RecordedJump* jump;
  Stroke stroke;
};

Vec place_on(const Arc& arc, Across across, double time, Vec feet) {
  const double x = across == Across::time ? time - arc.take_off_time : feet.x - arc.take_off.x;
  return {x, feet.y - arc.take_off.y};
}

std::vector<Vec> line_of(const RecordedJump& jump, Across across) {
  std::vector<Vec> line;
  for (const ArcPoint& point : points_of(jump.trace, jump.arc)) {
    line.push_back(place_on(jump.arc, across, point.time, point.feet));
  }
  return line;
}

std::vector<Vec> ticks_of(const RecordedJump& jump, Across across) {
  std::vector<Vec> ticks;
  for (const Sample& sample : jump.trace.samples) {
    const double time = jump.trace.time_of(sample);
    if (time < jump.arc.take_off_time || time > jump.arc.landing_time) continue;
    ticks.push_back(place_on(jump.arc, across, time, sample.feet));
  }
  return ticks;
}

std::string length_text(const Units& units, double length) {
  return units.text(Dimension::length, length, 4);
}

std::string time_text(const Units& units, double time) {
  return units.text(Dimension::time, time, 4);
}

std::string apex_text(const NamedJump& curve, Across across, const Units& units) {
  const Arc& arc = curve.jump->arc;
  const std::string height = length_text(units, arc.height());
  if (across == Across::time) {
    return fmt::format("{}: {} at {}", curve.name, height, time_text(units, arc.rise_time()));
  }
  return fmt::format("{}: {}, {} out", curve.name, height,
                     length_text(units, arc.apex.x - arc.take_off.x));
}

std::string landing_text(const Arc& arc, Across across, const Units& units) {
  return across == Across::time ? fmt::format("lands after {}", time_text(units, arc.air_time()))
                                : fmt::format("lands {} out", length_text(units, arc.distance()));
}

void add_curve(Panel& panel, const NamedJump& curve, Across across, const Units& units) {
  const Arc& arc = curve.jump->arc;
  panel.lines.push_back({line_of(*curve.jump, across), Ink::measured_soft, 3, curve.stroke, true});
  panel.dots.push_back({ticks_of(*curve.jump, across), Ink::measured});
  const Vec apex = place_on(arc, across, arc.apex_time, arc.apex);
  const Vec landing = place_on(arc, across, arc.landing_time, arc.landing);
  panel.marks.push_back({apex, Sign::apex, Ink::text});
  panel.marks.push_back({landing, Sign::landing, Ink::text});
  panel.labels.push_back({apex_text(curve, across, units), apex, Side::above, 15});
  panel.labels.push_back({landing_text(arc, across, units), landing, Side::left, 14});
}

// The place of everything that the curves show, from the take-off on.
Box extent_of(const std::vector<NamedJump>& curves, Across across) {
  Box all{{0, 0}, {0, 0}};
  for (const NamedJump& curve : curves) {
    for (const Vec& at : line_of(*curve.jump, across)) {
      all.hi = {std::max(all.hi.x, at.x), std::max(all.hi.y, at.y)};
    }
  }
  return all;
}

constexpr Box kLeft{{78, 84}, {600, 690}};
constexpr Box kRight{{690, 84}, {1250, 690}};

// Heights are reported as magnitudes, whichever way y points.
double reported(const Units& units, Dimension dimension) { return units.shown(dimension, 1.0); }

Panel standing_panel(const std::vector<NamedJump>& curves, const Units& units) {
  const Box all = extent_of(curves, Across::time);
  Panel panel;
  panel.place = beside_numbers(kLeft, 0, units.shown(Dimension::length, 1.16 * all.hi.y));
  panel.title = "standing, height over time";
  panel.x = {-0.02 * all.hi.x, 1.06 * all.hi.x,
             "time since take-off, " + units.name(Dimension::time)};
  panel.y = {-0.04 * all.hi.y, 1.16 * all.hi.y,
             "height above take-off, " + units.name(Dimension::length)};
  for (const NamedJump& curve : curves) add_curve(panel, curve, Across::time, units);
  rescale(panel, {reported(units, Dimension::time), reported(units, Dimension::length)});
  return panel;
}

Panel running_panel(const std::vector<NamedJump>& curves, const JumpChart& chart) {
  Box all = extent_of(curves, Across::distance);
  const double side = 0.8 * std::max(chart.body_width, 0.1 * all.hi.x);
  all.lo = {-side, -0.04 * all.hi.y};
  all.hi = {all.hi.x + side, all.hi.y + std::max(chart.body_height, 0.15 * all.hi.y) * 1.15};
  const Units& units = chart.units;
  Panel panel =
      equal_scale_panel(beside_numbers(kRight, 0, units.shown(Dimension::length, all.hi.y)), all);
  panel.title = "at full run, equal scale";
  panel.x.title = "distance from take-off, " + units.name(Dimension::length);
  panel.y.title = "height above take-off, " + units.name(Dimension::length);
  for (const NamedJump& curve : curves) {
    const Arc& arc = curve.jump->arc;
    for (const Vec feet : {arc.take_off, arc.apex, arc.landing}) {
      panel.lines.push_back(body_outline(feet - arc.take_off, chart.body_width, chart.body_height,
                                         chart.body_radius));
    }
    add_curve(panel, curve, Across::distance, units);
  }
  rescale(panel, Vec{1, 1} * reported(units, Dimension::length));
  return panel;
}

std::string finding(const JumpChart& chart) {
  std::string text = detail::character_name(chart.character) + ": ";
  std::vector<std::string> parts;
  if (chart.full) {
    parts.push_back(fmt::format("full jump {} in {}",
                                length_text(chart.units, chart.full->arc.height()),
                                time_text(chart.units, chart.full->arc.air_time())));
  }
  if (chart.hop) parts.push_back("hop " + length_text(chart.units, chart.hop->arc.height()));
  if (chart.running) {
    parts.push_back(fmt::format("running jump {} long",
                                length_text(chart.units, chart.running->arc.distance())));
  }
  if (parts.empty()) return text + "no jump to show";
  return fmt::format("{}{}   ({})", text, fmt::join(parts, ", "), chart.loop);
}

std::vector<NamedJump> curves_of(const std::optional<RecordedJump>& full,
                                 const std::optional<RecordedJump>& hop) {
  std::vector<NamedJump> curves;
  if (full) curves.push_back({"held", &*full, Stroke::solid});
  if (hop) curves.push_back({"hop", &*hop, Stroke::dashed});
  return curves;
}

}  // namespace

JumpChart record_jump_chart(Subject& subject, std::string loop, const Units& units) {
  const SubjectTraits traits = subject.traits();
  JumpChart chart;
  chart.character = traits.name;
  chart.loop = std::move(loop);
  chart.units = units;
  chart.body_width = traits.body_width;
  chart.body_height = traits.body_height;
  chart.body_radius = traits.body_radius;
  chart.full = record_standing_jump(subject, kHeldThroughout);
  chart.hop = record_standing_jump(subject, 1);
  chart.running = record_running_jump(subject, kHeldThroughout);
  chart.running_hop = record_running_jump(subject, 1);
  return chart;
}

Picture draw(const JumpChart& chart) {
  Picture picture;
  picture.finding = finding(chart);
  picture.about =
      "Left, height over time of a standing jump, held and released after a tick; right, height "
      "over "
      "distance at full run, with the body at take-off, apex and landing. A dot a tick.";
  const auto standing = curves_of(chart.full, chart.hop);
  const auto running = curves_of(chart.running, chart.running_hop);
  if (!standing.empty()) picture.panels.push_back(standing_panel(standing, chart.units));
  if (!running.empty()) picture.panels.push_back(running_panel(running, chart));
  return picture;
}

}  // namespace bushbaby
