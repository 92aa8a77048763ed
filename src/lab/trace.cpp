#include "bushbaby/lab/trace.h"

#include <algorithm>

#include "core/shape/hash.h"

namespace bushbaby {
namespace {

// The landing of an arc that is under way.
void close(Arc& arc, const Event& landing, double tick_rate) {
  arc.landed = true;
  arc.landing_time = time_of(landing, tick_rate);
  arc.landing = landing.place;
  arc.landing_speed = landing.value;
}

void find_apex(const Trace& trace, Arc& arc) {
  arc.apex = arc.take_off;
  arc.apex_time = arc.take_off_time;
  const auto sample =
      std::upper_bound(trace.samples.begin(), trace.samples.end(), arc.take_off_time,
                       [&trace](double time, const Sample& s) { return time < trace.time_of(s); });
  if (sample != trace.samples.begin()) arc.up = std::prev(sample)->up;
  for (const ArcPoint& point : points_of(trace, arc)) {
    if (arc.height_of(point.feet) > arc.height()) {
      arc.apex = point.feet;
      arc.apex_time = point.time;
    }
  }
}

// Whether an event begins a jump's arc; jumps in the air and from walls go on with the one they are
// in.
bool takes_off(const Event& event) {
  if (event.kind != EventKind::jumped) return false;
  const auto kind = static_cast<JumpKind>(event.detail);
  return kind == JumpKind::ground || kind == JumpKind::charged || kind == JumpKind::exit_jump;
}

double end_of(const Trace& trace, const Arc& arc) {
  return arc.landed ? arc.landing_time : trace.time_of(trace.samples.back());
}

}  // namespace

std::uint64_t hash_of(const Trace& trace) noexcept {
  detail::Hash hash;
  hash.add(trace.tick_rate);
  for (const Sample& sample : trace.samples) {
    hash.add(sample.tick);
    hash.add(sample.feet);
    hash.add(sample.velocity);
    hash.add(static_cast<std::uint8_t>(sample.stance));
    hash.add(sample.grounded);
    hash.add(sample.held.x);
    hash.add(sample.held.y);
    hash.add(sample.held.jump);
    hash.add(sample.held.dash);
    // Runs without them keep their hashes.
    if (sample.held.sprint) hash.add(sample.held.sprint);
    if (sample.up != Vec{0, 1}) hash.add(sample.up);
  }
  for (const Event& event : trace.events) {
    hash.add(static_cast<std::uint8_t>(event.kind));
    hash.add(event.detail);
    hash.add(event.surface);
    hash.add(event.tick - 1);  // ticks done before it
    hash.add(event.fraction);
    hash.add(event.place);
    hash.add(event.value);
  }
  return hash.sum();
}

Vec visible_feet(const Sample& sample) noexcept { return sample.feet - sample.up * sample.gap; }

Vec visible_place(const Trace& trace, std::int64_t tick, Vec place) noexcept {
  if (trace.samples.empty()) return place;
  const std::int64_t first = trace.samples.front().tick;
  const auto count = static_cast<std::int64_t>(trace.samples.size());
  for (const std::int64_t i : {tick - 1 - first, tick - first}) {
    if (i < 0 || i >= count) continue;
    const Sample& sample = trace.samples[static_cast<std::size_t>(i)];
    const Vec off = place - sample.feet;
    const double above = off.x * sample.up.x + off.y * sample.up.y;
    if (sample.gap > 0 && std::abs(above) <= sample.gap) return place - sample.up * sample.gap;
  }
  return place;
}

std::string title_of(const Event& event) {
  const std::string_view detail = detail_of(event);
  std::string title(name_of(event.kind));
  return detail.empty() ? title : title.append(" (").append(detail).append(")");
}

std::vector<Arc> find_arcs(const Trace& trace) {
  std::vector<Arc> arcs;
  bool in_air = false;
  for (const Event& event : trace.events) {
    if (event.kind == EventKind::left_ground) {
      Arc arc;
      arc.take_off_time = time_of(event, trace.tick_rate);
      arc.take_off = event.place;
      arc.from_climb = event.detail == static_cast<std::uint8_t>(LeaveReason::climbed);
      arcs.push_back(arc);
      in_air = true;
    } else if (takes_off(event) && in_air && !arcs.back().from_jump) {
      // A jump in the time of grace takes off where it is, not where the ground was lost.
      arcs.back().take_off_time = time_of(event, trace.tick_rate);
      arcs.back().take_off = event.place;
      arcs.back().from_jump = true;
      arcs.back().from_climb = false;
      arcs.back().launch_speed = event.value;
    } else if (event.kind == EventKind::landed && in_air) {
      close(arcs.back(), event, trace.tick_rate);
      in_air = false;
    }
  }
  for (Arc& arc : arcs) find_apex(trace, arc);
  return arcs;
}

std::vector<ArcPoint> points_of(const Trace& trace, const Arc& arc) {
  const double end = end_of(trace, arc);
  std::vector<ArcPoint> points;
  auto sample =
      std::lower_bound(trace.samples.begin(), trace.samples.end(), arc.take_off_time,
                       [&trace](const Sample& s, double time) { return trace.time_of(s) < time; });
  for (; sample != trace.samples.end() && trace.time_of(*sample) <= end; ++sample) {
    points.push_back({trace.time_of(*sample), sample->feet});
  }
  auto event = std::lower_bound(
      trace.events.begin(), trace.events.end(), arc.take_off_time,
      [&trace](const Event& e, double time) { return time_of(e, trace.tick_rate) < time; });
  for (; event != trace.events.end() && time_of(*event, trace.tick_rate) <= end; ++event) {
    const bool between_samples = event->fraction > 0 && event->fraction < 1;
    if (between_samples) points.push_back({time_of(*event, trace.tick_rate), event->place});
  }
  std::stable_sort(points.begin(), points.end(),
                   [](const ArcPoint& a, const ArcPoint& b) { return a.time < b.time; });
  return points;
}

std::vector<Event> infer_events(const Trace& trace) {
  std::vector<Event> events;
  const auto note = [&](EventKind kind, const Sample& at, std::uint8_t detail, double value) {
    events.push_back({kind, detail, kNoSurface, at.tick, 1, at.feet, value});
  };
  const Sample* highest = nullptr;  // of the arc under way
  bool topped_out = false;
  for (std::size_t i = 1; i < trace.samples.size(); ++i) {
    const Sample& before = trace.samples[i - 1];
    const Sample& now = trace.samples[i];
    const double rise = (now.feet.y - before.feet.y) * trace.tick_rate;
    if (before.grounded && !now.grounded) {
      const LeaveReason reason = rise > 0 ? LeaveReason::jumped : LeaveReason::walked_off;
      // A body that leaves level still had its ground on the way to this sample.
      const Sample& take_off = now.feet.y == before.feet.y ? now : before;
      const double fraction = &take_off == &now ? 1 : 0;
      const auto detail = static_cast<std::uint8_t>(reason);
      events.push_back(
          {EventKind::left_ground, detail, kNoSurface, now.tick, fraction, take_off.feet, 0});
      if (rise > 0) {
        events.push_back(
            {EventKind::jumped, 0, kNoSurface, now.tick, fraction, take_off.feet, rise});
      }
      highest = &take_off;
      topped_out = !(rise > 0);
    }
    if (highest == nullptr) continue;
    if (now.feet.y > highest->feet.y) {
      highest = &now;
    } else if (now.feet.y < highest->feet.y && !topped_out) {
      note(EventKind::apex, *highest, 0, 0);
      topped_out = true;
    }
    if (now.grounded) {
      note(EventKind::landed, now, 0, 0 - rise);
      highest = nullptr;
    }
  }
  return events;
}

}  // namespace bushbaby
