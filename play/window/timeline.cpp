#include "timeline.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "printing.h"
#include "session/shown.h"

namespace bushbaby::live {
namespace {

constexpr float kNames = 104;  // px for the names of lanes

// The ticks that are seen: the newest at the right end while it is played.
struct Span {
  double from = 0;
  double to = 1;
};

Span span_of(const Session& session, const TimelineView& view) {
  const double width = view.seconds * session.rules().tick_rate;
  const auto shown = static_cast<double>(session.shown());
  const auto last = static_cast<double>(session.reel().last());
  // Something of what comes after a place that was gone back to.
  const double ahead = std::min(last - shown, width * 0.4);
  const double to = std::max(shown + ahead, static_cast<double>(session.reel().first()) + width);
  return {to - width, to};
}

struct LaneOf {
  std::string name;
  std::function<std::optional<Ink>(const ReelTick&)> ink;
};

Ink ink_of(Stance stance) {
  switch (stance) {
    case Stance::standing: return Ink::terrain;
    case Stance::rising: return Ink::measured_soft;
    case Stance::wall_sliding:
    case Stance::clinging:
    case Stance::climbing: return Ink::terrain_edge;
    case Stance::gliding: return Ink::grace;
    case Stance::dashing: return Ink::second_line;
    case Stance::swimming: return Ink::zone_edge;
    case Stance::falling: break;
  }
  return Ink::zone;
}

std::vector<LaneOf> lanes() {
  const auto when = [](bool (*holds)(const ReelTick&), Ink ink) {
    return [holds, ink](const ReelTick& tick) {
      return holds(tick) ? std::optional<Ink>(ink) : std::nullopt;
    };
  };
  return {
      {"left, right",
       [](const ReelTick& tick) {
         if (tick.held.x <= -kHeldStep) return std::optional<Ink>(Ink::body);
         return tick.held.x >= kHeldStep ? std::optional<Ink>(Ink::pressed) : std::nullopt;
       }},
      {"jump", when([](const ReelTick& tick) { return tick.held.jump; }, Ink::pressed)},
      {"dash, sprint",
       when([](const ReelTick& tick) { return tick.held.dash || tick.held.sprint; }, Ink::pressed)},
      {"body",
       [](const ReelTick& tick) { return std::optional<Ink>(ink_of(tick.after.stance())); }},
      {"coyote", when(
                     [](const ReelTick& tick) {
                       return tick.after.ground.reason == GroundReason::grace ||
                              tick.after.wall_coyote_left > 0;
                     },
                     Ink::grace)},
      {"buffered", when([](const ReelTick& tick) { return tick.note.remembers; }, Ink::target)},
  };
}

// One of its kind of colour after another, over neighbouring ticks.
void draw_lane(ImDrawList& list, const LaneOf& lane, const Session& session, const Span& span,
               const std::function<float(double)>& x, float top, float height) {
  const Reel& reel = session.reel();
  const auto first = std::max(reel.first() + 1, static_cast<std::int64_t>(std::floor(span.from)));
  const auto last = std::min(reel.last(), static_cast<std::int64_t>(std::ceil(span.to)));
  std::optional<Ink> run;
  std::int64_t since = first;
  const auto flush = [&](std::int64_t tick) {
    if (run) {
      list.AddRectFilled({x(static_cast<double>(since - 1)), top},
                         {x(static_cast<double>(tick - 1)), top + height}, colour(*run));
    }
  };
  for (std::int64_t tick = first; tick <= last; ++tick) {
    const std::optional<Ink> ink = lane.ink(reel.tick(tick));
    if (ink == run) continue;
    flush(tick);
    run = ink;
    since = tick;
  }
  flush(last + 1);
}

struct Reported {
  Sign sign;
  std::string_view name;
};

std::optional<Reported> reported(const Event& event) {
  switch (event.kind) {
    case EventKind::jumped: return Reported{Sign::take_off, detail_of(event)};
    case EventKind::landed: return Reported{Sign::landing, "landed"};
    case EventKind::apex: return Reported{Sign::apex, "apex"};
    case EventKind::cut: return Reported{Sign::cut, "cut"};
    case EventKind::wall_touched: return Reported{Sign::wall, "wall"};
    case EventKind::dash_started: return Reported{Sign::dash, "dash"};
    case EventKind::bumped_head: return Reported{Sign::head, "head"};
    default: return std::nullopt;
  }
}

}  // namespace

std::int64_t tick_at(const Room& room, const Session& session, const TimelineView& view, float x,
                     float scale) {
  const Span span = span_of(session, view);
  const float names = kNames * scale;
  const auto share =
      static_cast<double>((x - room.from.x - names) / std::max(room.width() - names, 1.0F));
  return static_cast<std::int64_t>(std::llround(span.from + share * (span.to - span.from)));
}

void draw_timeline(ImDrawList& list, const Room& room, const Session& session,
                   const TimelineView& view, const Fonts& fonts, float scale) {
  list.PushClipRect(room.from, room.to, true);
  list.AddRectFilled(room.from, room.to, colour(Ink::paper));
  draw_line(list, {room.from, {room.to.x, room.from.y}}, colour(Ink::terrain), 1);
  const Span span = span_of(session, view);
  const float left = room.from.x + kNames * scale;
  const std::function<float(double)> x = [&](double tick) {
    const double share = (tick - span.from) / (span.to - span.from);
    return left + static_cast<float>(share) * (room.to.x - left);
  };
  const double rate = session.rules().tick_rate;
  const std::vector<LaneOf> all = lanes();
  const float events_height = 40 * scale;
  const float axis = 22 * scale;
  const float pitch =
      (room.height() - events_height - axis - 6 * scale) / static_cast<float>(all.size());
  float top = room.from.y + 4 * scale;
  // Seconds, as a clock of the whole session.
  const double step = round_step(view.seconds / 9);
  list.PushClipRect({left, room.from.y}, room.to, true);
  for (double second = std::ceil(span.from / rate / step) * step; second * rate < span.to;
       second += step) {
    const float at = x(second * rate);
    draw_line(list, {{at, room.from.y}, {at, room.to.y - axis}}, colour(Ink::faint), 1);
    if (second < -step / 2) continue;
    const float across = at < left + 20 * scale ? 1.0F : 0.0F;
    draw_text(list, fonts.small, {at, room.to.y - axis / 2}, across, 0, colour(Ink::text),
              fmt::format("{:.4g} s", std::abs(second) < step / 1000 ? 0 : second));
  }
  list.PopClipRect();
  for (const LaneOf& lane : all) {
    draw_text(list, fonts.small, {left - 8 * scale, top + pitch / 2}, -1, 0, colour(Ink::text),
              lane.name);
    list.PushClipRect({left, room.from.y}, room.to, true);
    draw_lane(list, lane, session, span, x, top + 2, pitch - 4);
    list.PopClipRect();
    top += pitch;
  }
  list.PushClipRect({left, room.from.y}, room.to, true);
  // Events: a sign, and its name where there is room.
  const Reel& reel = session.reel();
  const auto first = std::max(reel.first() + 1, static_cast<std::int64_t>(std::floor(span.from)));
  const auto last = std::min(reel.last(), static_cast<std::int64_t>(std::ceil(span.to)));
  float free_from = left;
  for (std::int64_t tick = first; tick <= last; ++tick) {
    for (const Event& event : reel.tick(tick).events) {
      const auto what = reported(event);
      if (!what) continue;
      const float at = x(static_cast<double>(tick - 1) + event.fraction);
      draw_sign(list, {at, top + 9 * scale}, what->sign, false, colour(Ink::text), scale * 0.8F);
      const ImVec2 size = fonts.small->CalcTextSizeA(
          fonts.small->FontSize, 1e9F, 0, what->name.data(), what->name.data() + what->name.size());
      if (at - size.x / 2 < free_from) continue;
      free_from = at + size.x / 2 + 6 * scale;
      draw_text(list, fonts.small, {at, top + 16 * scale}, 0, 1, colour(Ink::text), what->name);
    }
  }
  // Presses that came to nothing, by how many ticks, in the lane of jump.
  const float jump_lane = room.from.y + 4 * scale + pitch * 1.5F;
  for (const Press& press : session.presses()) {
    const std::string text = lateness_text(press, rate);
    if (text.empty() || static_cast<double>(press.tick) < span.from) continue;
    const ImVec2 at{x(static_cast<double>(press.tick)), jump_lane};
    draw_sign(list, {at.x, at.y}, Sign::missed, false, colour(Ink::missed), scale * 0.8F);
    draw_text(list, fonts.small, {at.x + 10 * scale, at.y}, 1, 0, colour(Ink::missed), text);
  }
  // Where what would be kept begins.
  if (const auto marked = session.marked()) {
    const float at = x(static_cast<double>(*marked));
    list.AddRectFilled({at, room.to.y - axis - 3 * scale},
                       {x(static_cast<double>(session.shown())), room.to.y - axis},
                       colour(Ink::pressed));
    draw_line(list, {{at, room.from.y}, {at, room.to.y - axis}}, colour(Ink::pressed), 2 * scale);
  }
  // The tick that is shown.
  const float now = x(static_cast<double>(session.shown()));
  draw_line(list, {{now, room.from.y}, {now, room.to.y - axis}}, colour(Ink::measured), 2 * scale);
  list.PopClipRect();
  list.PopClipRect();
}

}  // namespace bushbaby::live
