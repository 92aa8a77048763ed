#include "bushbaby/views/level_map.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include <fmt/format.h>

#include "terrain.h"
#include "words.h"

namespace bushbaby {
namespace {

struct MarkedEvent {
  Sign sign;
  std::string_view name;
  bool shows_body;
};

std::optional<MarkedEvent> marked(const Event& event) {
  switch (event.kind) {
    case EventKind::jumped:
      switch (static_cast<JumpKind>(event.detail)) {
        case JumpKind::air: return MarkedEvent{Sign::take_off, "air jump", true};
        case JumpKind::wall: return MarkedEvent{Sign::take_off, "wall jump", true};
        case JumpKind::charged: return MarkedEvent{Sign::take_off, "charged jump", true};
        case JumpKind::stroke: return MarkedEvent{Sign::take_off, "stroke", true};
        case JumpKind::exit_jump: return MarkedEvent{Sign::take_off, "exit jump", true};
        case JumpKind::ground: break;
      }
      return MarkedEvent{Sign::take_off, "jump", true};
    case EventKind::apex: return MarkedEvent{Sign::apex, "apex", true};
    case EventKind::landed: return MarkedEvent{Sign::landing, "landing", true};
    case EventKind::cut: return MarkedEvent{Sign::cut, "cut", false};
    case EventKind::wall_touched: return MarkedEvent{Sign::wall, "wall", true};
    case EventKind::bumped_head: return MarkedEvent{Sign::head, "bumped head", true};
    case EventKind::dash_started: return MarkedEvent{Sign::dash, "dash", false};
    case EventKind::fast_fell: return MarkedEvent{Sign::fast_fall, "fast fall", false};
    case EventKind::climb_started: return MarkedEvent{Sign::climb, "climb", true};
    case EventKind::sprint_started: return MarkedEvent{Sign::sprint, "sprint", false};
    case EventKind::bounced: return MarkedEvent{Sign::bounce, "bounce", true};
    case EventKind::pushed: return MarkedEvent{Sign::push, "pushed", true};
    default: return std::nullopt;
  }
}

// The sample at the end of an event's tick.
const Sample& sample_at(const Trace& trace, const Event& event) {
  const auto at =
      std::lower_bound(trace.samples.begin(), trace.samples.end(), event.tick,
                       [](const Sample& s, std::int64_t tick) { return s.tick < tick; });
  return at == trace.samples.end() ? trace.samples.back() : *at;
}

// Signs with a direction point the way that counts: to the wall, or where it goes.
bool is_mirrored(const Trace& trace, const Event& event) {
  if (event.kind == EventKind::wall_touched) return event.detail == 0;
  const bool goes = event.kind == EventKind::dash_started || event.kind == EventKind::pushed;
  return goes && sample_at(trace, event).velocity.x < 0;
}

// ---- what is shown ------------------------------------------------------------------------------

void add_trail(Panel& panel, const std::vector<Vec>& trail) {
  constexpr std::size_t kMostDots = 4000;  // more would run into one another
  panel.lines.push_back({trail, Ink::measured_soft, 2.5, Stroke::solid, true});
  if (trail.size() <= kMostDots) panel.dots.push_back({trail, Ink::measured});
}

// Something that is marked, at its time and place.
struct Happening {
  MarkedEvent what;
  double time;  // s
  Vec feet;
  bool mirrored;
  Vec up;
};

// Whether an apex is there because something else happened: a bump, a hold, another jump.
bool is_by_the_way(const Event& apex, const std::vector<Event>& events) {
  constexpr std::int64_t kNear = 3;  // ticks
  return std::any_of(events.begin(), events.end(), [&apex](const Event& other) {
    const auto what = marked(other);
    const bool counts = what && what->shows_body && other.kind != EventKind::apex;
    return counts && std::abs(other.tick - apex.tick) <= kNear;
  });
}

// More than these would lie on one another.
constexpr std::size_t kMostMarks = 300;
constexpr std::size_t kMostNames = 60;

// All events that have a mark, as far as there is room for them; the panel's title says so if there
// are more.
std::vector<Happening> happenings_of(const RunMap& map, Panel& panel) {
  std::vector<Happening> all;
  const std::vector<Event>& events = map.trace.events;
  for (const Event& event : events) {
    const auto what = marked(event);
    if (!what || (event.kind == EventKind::apex && is_by_the_way(event, events))) continue;
    if (all.size() == kMostMarks) {
      panel.title = fmt::format("the first {} events are marked", kMostMarks);
      break;
    }
    all.push_back({*what, time_of(event, map.trace.tick_rate), event.place,
                   is_mirrored(map.trace, event), sample_at(map.trace, event).up});
  }
  return all;
}

// The body where it starts, ends, and where something happens to it; once where places are next to
// one another.
void add_bodies(Panel& panel, const RunMap& map, const std::vector<Happening>& happenings) {
  const std::vector<Sample>& samples = map.trace.samples;
  struct Body {
    Vec feet;
    Vec up;
  };
  std::vector<Body> places{{samples.front().feet, samples.front().up},
                           {samples.back().feet, samples.back().up}};
  for (const Happening& happening : happenings) {
    const auto is_near = [&](const Body& body) {
      const Vec way = body.feet - happening.feet;
      return std::abs(way.x) + std::abs(way.y) < 0.3 * map.body_width;
    };
    if (!happening.what.shows_body) continue;
    if (std::none_of(places.begin(), places.end(), is_near)) {
      places.push_back({happening.feet, happening.up});
    }
  }
  for (const Body& body : places) {
    panel.lines.push_back(
        body_outline(body.feet, map.body_width, map.body_height, map.body_radius, body.up));
  }
}

// A mark for each, and the name of each kind once; `place_of` says where in the panel.
template <class Place>
void add_marks(Panel& panel, const std::vector<Happening>& happenings, const Place& place_of) {
  std::set<std::string_view> named;
  for (const Happening& happening : happenings) {
    const MarkedEvent& what = happening.what;
    const Vec at = place_of(happening);
    panel.marks.push_back({at, what.sign, Ink::text, happening.mirrored});
    if (named.insert(what.name).second) {
      panel.labels.push_back({std::string(what.name), at, Side::right, 12.5});
    }
  }
}

std::string arc_text(std::size_t number, const Arc& arc, const Units& units) {
  return fmt::format("{}: {}", number, units.text(Dimension::length, arc.height(), 3));
}

// What places of the level are multiplied by to be reported.
Vec reported_places(const Units& units) { return units.shown(Dimension::length, Vec{1, 1}); }

void add_arc_labels(Panel& panel, const std::vector<Arc>& arcs, const Units& units) {
  for (std::size_t i = 0; i < std::min(arcs.size(), kMostNames); ++i) {
    if (!arcs[i].from_jump) continue;
    panel.labels.push_back({arc_text(i + 1, arcs[i], units), arcs[i].apex, Side::above, 15});
  }
}

// The whole run, or terrain, trail and bodies alone.
Panel map_panel(const RunMap& map, const std::vector<Arc>& arcs, const Box& room, bool whole) {
  const Box view = detail::view_of(map.level, {&map.trace}, {map.body_width, map.body_height});
  const double reported = reported_places(map.units).y;
  Panel panel = equal_scale_panel(beside_numbers(room, view.lo.y * reported, view.hi.y * reported),
                                  view, true);
  const std::string length = map.units.name(Dimension::length);
  panel.x.title = "x, " + length;
  panel.y.title = "y, " + length + (map.units.convention.vertical_down ? ", down" : "");
  for (const Zone& zone : map.level.zones) detail::add_zone(panel, zone, map.units);
  for (const Solid& solid : map.level.solids) detail::add_solid(panel, solid, map.units);
  std::vector<Label> names;  // of solids: they take the room that the run leaves
  names.swap(panel.labels);
  std::vector<Vec> trail;
  for (const Sample& sample : map.trace.samples) trail.push_back(sample.feet);
  const std::vector<Happening> happenings = happenings_of(map, panel);
  add_bodies(panel, map, happenings);
  add_trail(panel, trail);
  if (whole) {
    add_arc_labels(panel, arcs, map.units);
    panel.labels.push_back({"start", trail.front(), Side::left, 12.5});
    panel.labels.push_back({"end", trail.back(), Side::right, 12.5});
    if (map.missed) {
      panel.marks.push_back({*map.missed, Sign::missed, Ink::missed});
      panel.labels.insert(panel.labels.begin(),
                          {detail::short_name(map.missed_text, 70), *map.missed, Side::below, 15,
                           false, false, Ink::missed});
    }
    add_marks(panel, happenings, [](const Happening& happening) { return happening.feet; });
  }
  const std::size_t named = std::min(names.size(), kMostNames);
  panel.labels.insert(panel.labels.end(), names.begin(),
                      names.begin() + static_cast<std::ptrdiff_t>(named));
  rescale(panel, reported_places(map.units));
  return panel;
}

// Height of the feet over time, for a run whose map is next to a vertical line.
Panel height_panel(const RunMap& map, const std::vector<Arc>& arcs, const Box& room) {
  std::vector<Vec> trail;
  for (const Sample& sample : map.trace.samples) {
    trail.emplace_back(map.trace.time_of(sample), sample.feet.y);
  }
  const auto [lowest, highest] = std::minmax_element(
      trail.begin(), trail.end(), [](const Vec& a, const Vec& b) { return a.y < b.y; });
  const double span = std::max(highest->y - lowest->y, map.body_height);
  Panel panel;
  const double reported = reported_places(map.units).y;
  panel.place = beside_numbers(room, lowest->y * reported, highest->y * reported);
  panel.title = "height of the feet over time";
  panel.x = {0, std::max(trail.back().x, 1 / map.trace.tick_rate) * 1.04,
             "time, " + map.units.name(Dimension::time)};
  panel.y = {lowest->y - 0.08 * span, lowest->y + 1.2 * span,
             "height of the feet, " + map.units.name(Dimension::length)};
  for (std::size_t i = 0; i < std::min(arcs.size(), kMostNames); ++i) {
    if (!arcs[i].from_jump) continue;
    panel.labels.push_back({arc_text(i + 1, arcs[i], map.units),
                            {arcs[i].apex_time, arcs[i].apex.y},
                            Side::above,
                            15});
  }
  add_trail(panel, trail);
  add_marks(panel, happenings_of(map, panel), [](const Happening& happening) {
    return Vec{happening.time, happening.feet.y};
  });
  rescale(panel, {map.units.shown(Dimension::time, 1.0), reported_places(map.units).y});
  return panel;
}

// Whether up and down of the trail lie over one another.
bool stays_in_place(const RunMap& map) {
  double left = map.trace.samples.front().feet.x;
  double right = left;
  for (const Sample& sample : map.trace.samples) {
    left = std::min(left, sample.feet.x);
    right = std::max(right, sample.feet.x);
  }
  return right - left < map.body_width;
}

std::string finding(const RunMap& map, const std::vector<Arc>& arcs) {
  const Sample& last = map.trace.samples.back();
  double longest = 0;
  double highest = 0;
  for (const Arc& arc : arcs) {
    longest = std::max(longest, arc.landed ? arc.distance() : 0);
    highest = std::max(highest, arc.height());
  }
  std::string text =
      fmt::format("{} on {}: {} {} in {}", detail::character_name(map.character),
                  map.level.name.empty() ? "a level" : detail::short_name(map.level.name),
                  arcs.size(), arcs.size() == 1 ? "arc" : "arcs",
                  map.units.text(Dimension::time, map.trace.time_of(last), 4));
  if (!arcs.empty()) text += "; highest " + map.units.text(Dimension::length, highest, 4);
  if (longest > map.body_width) {
    text += ", longest " + map.units.text(Dimension::length, longest, 4);
  }
  return text;
}

}  // namespace

Picture draw(const RunMap& map) {
  const std::vector<Arc> arcs = find_arcs(map.trace);
  Picture picture;
  picture.finding = finding(map, arcs);
  picture.about =
      "A map of the level at equal scale with the trail of the feet, a dot a tick, the body drawn "
      "at events, and the height of every jump.";
  constexpr Box kWhole{{76, 76}, {1256, 716}};
  if (!stays_in_place(map)) {
    picture.panels.push_back(map_panel(map, arcs, kWhole, true));
    return picture;
  }
  constexpr Box kMapRoom{{76, 76}, {560, 690}};
  constexpr Box kHeightRoom{{650, 76}, {1256, 690}};
  picture.panels.push_back(map_panel(map, arcs, kMapRoom, false));
  picture.panels.push_back(height_panel(map, arcs, kHeightRoom));
  return picture;
}

}  // namespace bushbaby
