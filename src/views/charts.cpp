#include "bushbaby/views/charts.h"

#include <algorithm>
#include <vector>

#include <fmt/format.h>

#include "sheet.h"

namespace bushbaby {
namespace {

using detail::Align;
using detail::label;

// What is plotted across: time since take-off, or way from it.
enum class Across { time, distance };

struct Curve {
  std::string block;  // name of its data
  std::string name;   // "held"
  const RecordedJump* jump;
  bool dashed;
};

Vec place_on(const Arc& arc, Across across, double time, Vec feet) {
  const double x = across == Across::time ? time - arc.take_off_time : feet.x - arc.take_off.x;
  return {x, feet.y - arc.take_off.y};
}

std::string curve_rows(const RecordedJump& jump, Across across) {
  std::string rows;
  for (const ArcPoint& point : points_of(jump.trace, jump.arc)) {
    const Vec at = place_on(jump.arc, across, point.time, point.feet);
    rows += fmt::format("{} {}\n", at.x, at.y);
  }
  return rows;
}

std::string tick_rows(const RecordedJump& jump, Across across) {
  std::string rows;
  const double end = jump.arc.landing_time;
  for (const Sample& sample : jump.trace.samples) {
    const double time = jump.trace.time_of(sample);
    if (time < jump.arc.take_off_time || time > end) continue;
    const Vec at = place_on(jump.arc, across, time, sample.feet);
    rows += fmt::format("{} {}\n", at.x, at.y);
  }
  return rows;
}

std::string mark_rows(const Arc& arc, Across across) {
  const Vec apex = place_on(arc, across, arc.apex_time, arc.apex);
  const Vec landing = place_on(arc, across, arc.landing_time, arc.landing);
  return fmt::format("{} {}\n{} {}\n", apex.x, apex.y, landing.x, landing.y);
}

std::string apex_text(const Curve& curve, Across across) {
  const Arc& arc = curve.jump->arc;
  if (across == Across::time) {
    return fmt::format("{}: apex {:.3f} u at {:.3f} s", curve.name, arc.height(), arc.rise_time());
  }
  return fmt::format("{}: apex {:.3f} u, {:.3f} u out", curve.name, arc.height(),
                     arc.apex.x - arc.take_off.x);
}

std::string landing_text(const Arc& arc, Across across) {
  return across == Across::time ? fmt::format("lands {:.3f} s", arc.air_time())
                                : fmt::format("lands {:.3f} u", arc.distance());
}

// One panel: the curves of one kind, with their marks and labels.
std::string panel(const std::vector<Curve>& curves, Across across, std::string_view title) {
  std::string text;
  std::string plot;
  double widest = 0;
  double highest = 0;
  for (const Curve& curve : curves) {
    const RecordedJump& jump = *curve.jump;
    const Arc& arc = jump.arc;
    text += detail::data_block(curve.block, curve_rows(jump, across));
    text += detail::data_block(curve.block + "_ticks", tick_rows(jump, across));
    text += detail::data_block(curve.block + "_marks", mark_rows(arc, across));
    const Vec apex = place_on(arc, across, arc.apex_time, arc.apex);
    const Vec landing = place_on(arc, across, arc.landing_time, arc.landing);
    widest = std::max(widest, landing.x);
    highest = std::max(highest, apex.y);
    text +=
        label(apex_text(curve, across), apex, curve.dashed ? Align::left : Align::centre, {0, 0.9});
    text += label(landing_text(arc, across), landing, Align::right,
                  {across == Across::time ? -1.2 : -2.4, 0.8});
    plot += fmt::format(
        "{}${} using 1:2 with lines lw 3 dt {} lc rgb '{}', "
        "${}_ticks using 1:2 with points pt 7 ps 0.55 lc rgb '{}', "
        "${}_marks using 1:2 with points pt 6 ps 1.6 lw 2 lc rgb '{}'",
        plot.empty() ? "plot " : ", ", curve.block, curve.dashed ? "(8,5)" : "1",
        detail::colour::kAmberSoft, curve.block, detail::colour::kAmber, curve.block,
        detail::colour::kInk);
  }
  text += fmt::format("set title {}\nset ylabel 'height of the feet over take-off, u'\n",
                      detail::quoted(title));
  text += fmt::format("set xlabel '{}'\nset size {}\n",
                      across == Across::time ? "time since take-off, s" : "way from take-off, u",
                      across == Across::time ? "noratio" : "ratio -1");
  text += fmt::format("set xrange [0:{}]\nset yrange [0:{}]\n", widest * 1.06, highest * 1.18);
  return text + plot + "\nunset label\n";
}

std::string finding(const JumpChart& chart) {
  std::string text = chart.character.empty() ? "the character" : chart.character;
  if (chart.held) {
    text += fmt::format(": full jump {:.3f} u in {:.3f} s", chart.held->arc.height(),
                        chart.held->arc.air_time());
  }
  if (chart.tapped) text += fmt::format(", tap {:.3f} u", chart.tapped->arc.height());
  if (chart.running) {
    text += fmt::format(", running leap {:.3f} u long", chart.running->arc.distance());
  }
  return fmt::format("{}   ({}; a dot a tick)", text, chart.loop);
}

std::vector<Curve> curves_of(const std::optional<RecordedJump>& held, const char* held_name,
                             const std::optional<RecordedJump>& tapped, const char* tapped_name) {
  std::vector<Curve> curves;
  if (held) curves.push_back({held_name, "held", &*held, false});
  if (tapped) curves.push_back({tapped_name, "tapped", &*tapped, true});
  return curves;
}

}  // namespace

JumpChart record_jump_chart(Subject& subject, std::string loop) {
  JumpChart chart;
  chart.character = subject.traits().name;
  chart.loop = std::move(loop);
  chart.held = record_standing_jump(subject, kHeldThroughout);
  chart.tapped = record_standing_jump(subject, 1);
  chart.running = record_running_jump(subject, kHeldThroughout);
  chart.running_tap = record_running_jump(subject, 1);
  return chart;
}

Drawing draw(const JumpChart& chart) {
  std::string script = detail::sheet_head();
  script += "set multiplot layout 1,2 margins 0.06,0.98,0.1,0.86 spacing 0.08\n";
  script += detail::heading(finding(chart));
  const auto standing = curves_of(chart.held, "held", chart.tapped, "tapped");
  const auto running = curves_of(chart.running, "leap", chart.running_tap, "hop");
  if (!standing.empty()) script += panel(standing, Across::time, "standing jump");
  if (!running.empty()) {
    script += panel(running, Across::distance, "running jump, equal scale");
  }
  return {script + "unset multiplot\n"};
}

}  // namespace bushbaby
