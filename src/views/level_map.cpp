#include "bushbaby/views/level_map.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "sheet.h"

namespace bushbaby {
namespace {

using detail::Align;
using detail::label;

struct Mark {
  EventKind kind;
  std::string_view name;
  int point_type;
};

// Shapes differ, so that the marks read without colour.
constexpr std::array<Mark, 10> kMarks{{{EventKind::jumped, "jumped", 9},
                                       {EventKind::apex, "apex", 6},
                                       {EventKind::cut, "cut", 2},
                                       {EventKind::landed, "landed", 11},
                                       {EventKind::wall_touched, "wall touched", 5},
                                       {EventKind::bumped_head, "bumped head", 13},
                                       {EventKind::dash_started, "dash", 1},
                                       {EventKind::fast_fell, "fast fall", 10},
                                       {EventKind::bounced, "bounced", 8},
                                       {EventKind::pushed, "pushed", 3}}};

// Where the level is, with the start and some room to fall past it.
Box neighbourhood_of(const Level& level) {
  constexpr double kRoom = 4;
  Box all{level.start, level.start};
  for (const Solid& solid : level.solids) {
    all.lo = {std::min(all.lo.x, solid.box.lo.x), std::min(all.lo.y, solid.box.lo.y)};
    all.hi = {std::max(all.hi.x, solid.box.hi.x), std::max(all.hi.y, solid.box.hi.y)};
  }
  return {{all.lo.x - kRoom, all.lo.y - kRoom}, {all.hi.x + kRoom, all.hi.y + kRoom}};
}

// The part of the level that is shown: the trail with the body and some air around it, widened to
// the shape of the sheet. A trail that leaves the level is followed only a little way.
Box view_of(const RunMap& map) {
  const Box limits = neighbourhood_of(map.level);
  Box view{map.trace.samples.front().feet, map.trace.samples.front().feet};
  for (const Sample& sample : map.trace.samples) {
    const Vec feet{std::clamp(sample.feet.x, limits.lo.x, limits.hi.x),
                   std::clamp(sample.feet.y, limits.lo.y, limits.hi.y)};
    view.lo = {std::min(view.lo.x, feet.x), std::min(view.lo.y, feet.y)};
    view.hi = {std::max(view.hi.x, feet.x), std::max(view.hi.y, feet.y)};
  }
  const double air = std::max(map.body_width, map.body_height);
  view.lo.x -= air;
  view.hi.x += air;
  view.lo.y -= 1.2 * air;
  view.hi.y += map.body_height + air;
  constexpr double kShape = 1.98;  // width over height of the plotted area
  const double width = view.hi.x - view.lo.x;
  const double height = view.hi.y - view.lo.y;
  if (width < height * kShape) {
    const double more = (height * kShape - width) / 2;
    view.lo.x -= more;
    view.hi.x += more;
  } else {
    const double more = width / kShape - height;
    view.lo.y -= more * 0.35;
    view.hi.y += more * 0.65;
  }
  return view;
}

// A solid's name: under its top edge if there is room, upright in one that is tall and narrow, and
// beneath one that is thin.
std::string name_of_solid(const std::string& name, const Box& seen, const Box& view) {
  const Vec size{seen.hi.x - seen.lo.x, seen.hi.y - seen.lo.y};
  const Vec all{view.hi.x - view.lo.x, view.hi.y - view.lo.y};
  const Vec middle{(seen.lo.x + seen.hi.x) / 2, (seen.lo.y + seen.hi.y) / 2};
  if (size.x > all.x * 0.08 && size.y > all.y * 0.035) {
    return label(name, {middle.x, seen.hi.y}, Align::centre, {0, -0.8});
  }
  const bool fits_upright = size.x > all.x * 0.015 && size.y > all.y * 0.15;
  if (fits_upright) return label(name, middle, Align::centre, {0, 0}, true);
  return label(name, {middle.x, seen.lo.y}, Align::centre, {0, -0.8});
}

std::string terrain(const Level& level, const Box& view) {
  std::string text;
  std::string tops;
  for (const Solid& solid : level.solids) {
    const Box seen{{std::max(solid.box.lo.x, view.lo.x), std::max(solid.box.lo.y, view.lo.y)},
                   {std::min(solid.box.hi.x, view.hi.x), std::min(solid.box.hi.y, view.hi.y)}};
    if (!(seen.lo.x < seen.hi.x && seen.lo.y < seen.hi.y)) continue;
    text += fmt::format(
        "set object rectangle from {},{} to {},{} fc rgb '{}' fs solid 1 noborder behind\n",
        seen.lo.x, seen.lo.y, seen.hi.x, seen.hi.y, detail::colour::kBark);
    if (solid.box.hi.y <= view.hi.y) {
      tops += fmt::format("{} {}\n{} {}\n\n", seen.lo.x, seen.hi.y, seen.hi.x, seen.hi.y);
    }
    if (!solid.name.empty()) text += name_of_solid(solid.name, seen, view);
  }
  return text + detail::data_block("tops", tops.empty() ? "NaN NaN\n" : tops);
}

// The body's outline where it starts and where it ends.
std::string outlines(const RunMap& map) {
  std::string rows;
  const auto outline = [&](Vec feet) {
    const double left = feet.x - map.body_width / 2;
    const double right = feet.x + map.body_width / 2;
    const double top = feet.y + map.body_height;
    rows +=
        fmt::format("{0} {2}\n{1} {2}\n{1} {3}\n{0} {3}\n{0} {2}\n\n", left, right, feet.y, top);
  };
  outline(map.trace.samples.front().feet);
  outline(map.trace.samples.back().feet);
  return detail::data_block("bodies", rows);
}

std::string finding(const RunMap& map, const std::vector<Arc>& arcs) {
  const Sample& last = map.trace.samples.back();
  double longest = 0;
  double highest = 0;
  for (const Arc& arc : arcs) {
    longest = std::max(longest, arc.landed ? arc.distance() : 0);
    highest = std::max(highest, arc.height());
  }
  std::string text = fmt::format(
      "{} on \"{}\": {} {} in {:.2f} s", map.character.empty() ? "the character" : map.character,
      map.level.name, arcs.size(), arcs.size() == 1 ? "arc" : "arcs", map.trace.time_of(last));
  if (!arcs.empty()) {
    text += fmt::format("; highest {:.3f} u, longest {:.3f} u", highest, longest);
  }
  return text;
}

}  // namespace

Drawing draw(const RunMap& map) {
  const Box view = view_of(map);
  const std::vector<Arc> arcs = find_arcs(map.trace);
  std::string script = detail::sheet_head();
  script += detail::heading(finding(map, arcs));
  script += "set xlabel 'x, u'\nset ylabel 'y, u'\nset size ratio -1\n";
  script +=
      "set lmargin at screen 0.055\nset rmargin at screen 0.985\n"
      "set tmargin at screen 0.83\nset bmargin at screen 0.1\n";
  script += fmt::format(
      "set key on at screen 0.5,0.885 center center horizontal Left reverse samplen 1 "
      "width -1 tc rgb '{}'\n",
      detail::colour::kInk);
  script += fmt::format("set xrange [{}:{}]\nset yrange [{}:{}]\n", view.lo.x, view.hi.x, view.lo.y,
                        view.hi.y);
  script += terrain(map.level, view);
  script += outlines(map);
  std::string trail;
  for (const Sample& sample : map.trace.samples) {
    trail += fmt::format("{} {}\n", sample.feet.x, sample.feet.y);
  }
  script += detail::data_block("trail", trail);
  int number = 0;
  for (const Arc& arc : arcs) {
    ++number;
    if (arc.from_jump) {
      script += label(fmt::format("{}: {:.2f} u", number, arc.height()), arc.apex, Align::centre,
                      {0, 0.9});
    }
  }
  std::string plot = fmt::format(
      "plot $tops using 1:2 with lines lw 3 lc rgb '{}' notitle, "
      "$bodies using 1:2 with lines lw 1.2 dt (4,3) lc rgb '{}' title 'body at start and end', "
      "$trail using 1:2 with lines lw 2.5 lc rgb '{}' title 'trail of the feet', "
      "$trail using 1:2 with points pt 7 ps 0.4 lc rgb '{}' title 'a dot a tick'",
      detail::colour::kBarkDark, detail::colour::kInk, detail::colour::kAmberSoft,
      detail::colour::kAmber);
  for (const Mark& mark : kMarks) {
    std::string rows;
    for (const Event& event : map.trace.events) {
      if (event.kind == mark.kind) rows += fmt::format("{} {}\n", event.place.x, event.place.y);
    }
    if (rows.empty()) continue;
    const std::string block = fmt::format("mark{}", static_cast<int>(mark.kind));
    script += detail::data_block(block, rows);
    plot += fmt::format(", ${} using 1:2 with points pt {} ps 1.5 lw 2 lc rgb '{}' title '{}'",
                        block, mark.point_type, detail::colour::kInk, mark.name);
  }
  return {script + plot + "\n"};
}

}  // namespace bushbaby
