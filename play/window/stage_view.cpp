#include "stage_view.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "printing.h"
#include "views/terrain.h"

namespace bushbaby::live {
namespace {

// What is drawn with: a place of the level becomes one of the screen.
struct Pen {
  ImDrawList& list;
  Sheet sheet;
  const Camera& camera;
  const Fonts& fonts;
  float scale;

  [[nodiscard]] ImVec2 at(Vec place) const { return sheet.at(camera.to_px(place)); }
};

// ---- terrain ------------------------------------------------------------------------------------

Solid moved(const Solid& solid, Vec way) {
  Solid other = solid;
  other.path.reset();
  other.box = {solid.box.lo + way, solid.box.hi + way};
  for (Vec& corner : other.corners) corner = corner + way;
  return other;
}

void draw_terrain(const Pen& pen, const Room& room, const Session& session) {
  Panel panel;
  const Box seen = pen.camera.seen();
  panel.place = {{0, 0}, {static_cast<double>(room.width()), static_cast<double>(room.height())}};
  panel.x = {seen.lo.x, seen.hi.x, {}};
  panel.y = {seen.lo.y, seen.hi.y, {}};
  const Level& level = session.level();
  const Units units = session.desk().units();
  for (const Zone& zone : level.zones) detail::add_zone(panel, zone, units);
  for (SurfaceId i = 0; i < level.solids.size(); ++i) {
    const Solid& solid = level.solids[i];
    if (!solid.path) {
      detail::add_solid(panel, solid, units);
      continue;
    }
    detail::add_way(panel, solid);
    detail::add_solid(panel, moved(solid, session.world().travel(i, session.shown())), units);
  }
  draw_panel(pen.list, pen.sheet, panel, pen.fonts, pen.scale);
}

// ---- trails -------------------------------------------------------------------------------------

std::vector<ImVec2> points_of(const Pen& pen, const Trace& trace) {
  std::vector<ImVec2> points;
  points.reserve(trace.samples.size());
  for (const Sample& sample : trace.samples) points.push_back(pen.at(sample.feet));
  return points;
}

void draw_trail(const Pen& pen, const Trace& trace, Ink ink, Stroke stroke, bool dots) {
  const std::vector<ImVec2> points = points_of(pen, trace);
  draw_line(pen.list, points, colour(ink), 2.2F * pen.scale, stroke);
  if (!dots) return;
  for (const ImVec2& point : points) {
    pen.list.AddCircleFilled(point, 1.8F * pen.scale, colour(Ink::measured), 8);
  }
}

// The height at an arc's apex, and how long it was in the air.
void label_arcs(const Pen& pen, const Trace& trace, const Units& units, Ink ink, float across) {
  for (const Arc& arc : find_arcs(trace)) {
    if (!(arc.height() > 0) || (!arc.landed && !arc.from_jump)) continue;
    std::string text = units.text(Dimension::length, arc.height(), 3);
    if (arc.landed) text += ", " + units.text(Dimension::time, arc.air_time(), 3);
    ImVec2 place = pen.at(arc.apex);
    place.x += 8 * across * pen.scale;
    place.y -= 4 * pen.scale;
    draw_text(pen.list, pen.fonts.small, place, across, -1, colour(ink), text);
  }
}

void draw_signs(const Pen& pen, const Trace& trace) {
  for (const Event& event : trace.events) {
    Sign sign = Sign::apex;
    switch (event.kind) {
      case EventKind::jumped: sign = Sign::take_off; break;
      case EventKind::landed: sign = Sign::landing; break;
      case EventKind::cut: sign = Sign::cut; break;
      case EventKind::wall_touched: sign = Sign::wall; break;
      case EventKind::bumped_head: sign = Sign::head; break;
      case EventKind::dash_started: sign = Sign::dash; break;
      default: continue;
    }
    const bool mirrored = sign == Sign::wall && event.detail == 0;
    draw_sign(pen.list, pen.at(event.place), sign, mirrored, colour(Ink::text), pen.scale);
  }
}

// ---- bodies -------------------------------------------------------------------------------------

void draw_body(const Pen& pen, const Box& box, double radius, Vec feet, Vec up, int facing,
               bool filled, Ink ink) {
  const double width = box.hi.x - box.lo.x;
  const double height = box.hi.y - box.lo.y;
  const Polyline outline = body_outline(feet, width, height, radius, up);
  std::vector<ImVec2> points;
  points.reserve(outline.points.size());
  for (const Vec& point : outline.points) points.push_back(pen.at(point));
  if (filled) {
    std::vector<Vec> px;
    for (const Vec& point : outline.points) px.push_back(pen.camera.to_px(point));
    if (px.size() > 1 && px.front() == px.back()) px.pop_back();
    fill(pen.list, pen.sheet, px, colour(ink));
  }
  draw_line(pen.list, points, colour(ink), (filled ? 1.0F : 2.0F) * pen.scale,
            filled ? Stroke::solid : Stroke::dashed);
  if (!filled) return;
  // An eye on the side to which it looks.
  const Vec across{up.y, -up.x};
  const Vec eye = feet + up * (0.78 * height) + across * (facing * 0.22 * width);
  const auto size = static_cast<float>(std::max(0.09 * width * pen.camera.scale(), 1.5));
  pen.list.AddCircleFilled(pen.at(eye), size, colour(Ink::paper), 12);
}

void draw_arrow(const Pen& pen, ImVec2 from, Vec way_px, Ink ink, const std::string& text) {
  const double length = std::hypot(way_px.x, way_px.y);
  if (length < 4) return;
  const ImVec2 to{from.x + static_cast<float>(way_px.x), from.y - static_cast<float>(way_px.y)};
  const Vec along = way_px / length;
  const double head = 7 * static_cast<double>(pen.scale);
  const auto side = [&](double turn) {
    const Vec back{-along.x * head + along.y * turn * head,
                   -along.y * head - along.x * turn * head};
    return ImVec2{to.x + static_cast<float>(back.x), to.y - static_cast<float>(back.y)};
  };
  draw_line(pen.list, {from, to}, colour(ink), 2.4F * pen.scale);
  draw_line(pen.list, {side(0.5), to, side(-0.5)}, colour(ink), 2.4F * pen.scale);
  const float away = 8 * pen.scale;
  const ImVec2 place{to.x + static_cast<float>(along.x) * away,
                     to.y - static_cast<float>(along.y) * away};
  draw_text(pen.list, pen.fonts.small, place, along.x < 0 ? -1.0F : 1.0F,
            static_cast<float>(-along.y), colour(ink), text);
}

// What acts on it in the tick that is shown: its speed, the pull of gravity, and what it touches.
void draw_forces(const Pen& pen, const Session& session) {
  const auto why = session.why();
  if (!why) return;
  const Character& now = session.character();
  const Units units = session.desk().units();
  const Box& box = session.rules().body.box;
  const double height = box.hi.y - box.lo.y;
  const Vec middle = now.feet + now.up * (height / 2);
  const double speed = std::hypot(now.velocity.x, now.velocity.y);
  constexpr double kPxForSpeed = 9;
  constexpr double kPxForPull = 0.9;
  const auto scale = static_cast<double>(pen.scale);
  draw_arrow(pen, pen.at(middle), now.velocity * (kPxForSpeed * scale), Ink::measured,
             units.text(Dimension::speed, speed, 3));
  const double pull = why->why.gravity_pull;
  if (pull != 0 && !now.grounded()) {
    draw_arrow(pen, pen.at(middle), now.up * (-pull * kPxForPull * scale), Ink::second_line,
               units.text(Dimension::acceleration, pull, 3));
  }
  const auto contact = [&](Vec place, Vec normal) {
    const Vec along{normal.y, -normal.x};
    const double half = 0.45 * height;
    draw_line(pen.list, {pen.at(place - along * half), pen.at(place + along * half)},
              colour(Ink::missed), 3 * pen.scale);
  };
  if (now.ground.surface != kNoSurface && now.grounded()) contact(now.feet, now.ground.normal);
  if (now.wall != 0) {
    const Vec across{now.up.y, -now.up.x};
    const double side = now.wall * (box.hi.x - box.lo.x) / 2;
    contact(middle + across * side, across * static_cast<double>(-now.wall));
  }
}

// ---- what is target_jumps
// -----------------------------------------------------------------------------

// A band over an arc's take-off, from one height to another and so far along the ground.
void draw_band(const Pen& pen, const Arc& arc, double way, Vec from, Vec to) {
  const Vec across{arc.up.y, -arc.up.x};
  const auto at = [&](Vec place) {
    return pen.camera.to_px(arc.take_off + across * (way * place.x) + arc.up * place.y);
  };
  fill(pen.list, pen.sheet, {at(from), at({to.x, from.y}), at(to), at({from.x, to.y})},
       colour(Ink::target_soft, 0.85));
}

// The ends of a range as they are drawn: something too thin to be seen is a line all the same.
std::pair<double, double> ends_of(const Bound& bound, double reach, double thinnest) {
  const Range range = range_of(bound);
  double lo = std::max(range.lo, -reach);
  double hi = std::min(range.hi, reach);
  if (hi - lo < thinnest) {
    const double middle = (lo + hi) / 2;
    lo = middle - thinnest / 2;
    hi = middle + thinnest / 2;
  }
  return {lo, hi};
}

void draw_curve(const Pen& pen, const Arc& arc, double way, const Target& target) {
  if (target.follow->over_time) return;  // has no place
  const Vec across{arc.up.y, -arc.up.x};
  std::vector<ImVec2> points;
  for (const CurvePoint& point : target.follow->points) {
    points.push_back(pen.at(arc.take_off + across * (way * point.across) + arc.up * point.height));
  }
  const auto width =
      std::max(static_cast<float>(2 * target.bound.hi * pen.camera.scale()), 4 * pen.scale);
  draw_line(pen.list, points, colour(Ink::target_soft, 0.85), width);
  draw_line(pen.list, points, colour(Ink::target), 1.2F * pen.scale, Stroke::dashed);
}

void draw_targets(const Pen& pen, const Session& session) {
  const std::vector<Arc> arcs = find_arcs(session.played());
  const auto jump =
      std::find_if(arcs.rbegin(), arcs.rend(), [](const Arc& arc) { return arc.from_jump; });
  if (jump == arcs.rend()) return;
  const Arc& arc = *jump;
  const double speed = take_off_speed(session.played(), arc);
  const double top = session.desk().tuning(session.in_force()).run.top_speed;
  const bool running = is_from_run(speed, top);
  const TargetJump& target_jumps =
      running ? session.target_jumps().running : session.target_jumps().standing;
  if (target_jumps.is_empty()) return;
  const double way = speed < 0 ? -1 : 1;
  const double thinnest = 3 * static_cast<double>(pen.scale) / pen.camera.scale();
  double reach = 3;
  if (target_jumps.distance) {
    const auto [lo, hi] = ends_of(*target_jumps.distance, 1000, thinnest);
    draw_band(pen, arc, way, {lo, -0.12}, {hi, 0.12});
    reach = hi;
  }
  if (target_jumps.height) {
    const auto [lo, hi] = ends_of(*target_jumps.height, 1000, thinnest);
    const double from = running ? 0 : -reach / 2;
    const double to = running ? reach : reach / 2;
    draw_band(pen, arc, way, {from, lo}, {to, hi});
    const Vec across{arc.up.y, -arc.up.x};
    const ImVec2 end = pen.at(arc.take_off + across * (way * from) + arc.up * lo);
    draw_text(
        pen.list, pen.fonts.small, {end.x, end.y + 3 * pen.scale}, way < 0 ? 1.0F : -1.0F, 1,
        colour(Ink::target),
        "target " + session.desk().units().text(Dimension::length, target_jumps.height->lo, 3));
  }
  for (const Target* target : target_jumps.curves) draw_curve(pen, arc, way, *target);
}

}  // namespace

bool is_seen(const Ghost& ghost) noexcept {
  if (ghost.kind() == Ghost::Kind::none) return false;
  return ghost.kind() != Ghost::Kind::file || ghost.parted().has_value();
}

void draw_stage(ImDrawList& list, const Room& room, const Session& session, const Camera& camera,
                const Fonts& fonts, float scale) {
  list.PushClipRect(room.from, room.to, true);
  const Pen pen{list, {room.from.x, room.to.y}, camera, fonts, scale};
  draw_terrain(pen, room, session);
  draw_targets(pen, session);
  const Units units = session.desk().units();
  const Ghost& other = session.ghost();
  if (is_seen(other)) {
    draw_trail(pen, other.trail(), Ink::second_line, Stroke::dash_dotted, false);
    if (const auto sample = other.between(session.shown(), session.share())) {
      const bool has_body = other.kind() != Ghost::Kind::trace;
      const Box box = has_body ? other.body() : session.rules().body.box;
      draw_body(pen, box, other.radius(), sample->feet, sample->up, 1, false, Ink::second_line);
    }
  }
  draw_trail(pen, session.played(), Ink::measured_soft, Stroke::solid, true);
  draw_signs(pen, session.played());
  label_arcs(pen, session.played(), units, Ink::measured, -1);
  if (session.again()) {
    draw_trail(pen, *session.again(), Ink::third_line, Stroke::dashed, false);
    label_arcs(pen, *session.again(), units, Ink::third_line, 1);
  }
  const Pose pose = session.pose();
  const Rules& rules = session.rules();
  draw_body(pen, rules.body.box, rules.body.radius, pose.feet, pose.up, pose.facing, true,
            Ink::text);
  if (other.parted()) {
    // Where it was when they went apart.
    if (const auto sample = other.at(*other.parted())) {
      const ImVec2 place = pen.at(sample->feet);
      draw_sign(list, place, Sign::farthest, false, colour(Ink::second_line), scale);
    }
  }
  if (session.is_paused()) draw_forces(pen, session);
  list.PopClipRect();
}

}  // namespace bushbaby::live
