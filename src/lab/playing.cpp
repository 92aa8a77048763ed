#include "bushbaby/lab/playing.h"

#include <algorithm>

#include "bushbaby/core/motion/rules.h"

namespace bushbaby {
namespace {

// Of all looks ahead in one run, by subjects that must begin again for each.
constexpr std::int64_t kMostReplayedTicks = 5 * kMostRunTicks;

double along_up(const Sample& sample, Vec v) { return v.x * sample.up.x + v.y * sample.up.y; }

// Whether the feet came to a place of one axis, or over it.
bool passes(double before, double now, double place) {
  return (before <= place && now >= place) || (before >= place && now <= place);
}

// One tick of a run, of a subject that reports its events or of one that does not.
struct Moved {
  const Sample& before;
  const Sample& now;
  const Events& events;  // of the tick
  bool reports;

  [[nodiscard]] bool has(EventKind kind) const {
    return std::any_of(events.begin(), events.end(),
                       [kind](const Event& event) { return event.kind == kind; });
  }
};

bool lost_its_ground(const Moved& tick) {
  if (tick.reports) {
    return std::any_of(tick.events.begin(), tick.events.end(), [](const Event& event) {
      return event.kind == EventKind::left_ground &&
             event.detail == static_cast<std::uint8_t>(LeaveReason::walked_off);
    });
  }
  return tick.before.grounded && !tick.now.grounded &&
         along_up(tick.now, tick.now.feet - tick.before.feet) <= 0;
}

// Of one that reports nothing: it ran towards the held side, and was stopped or got nowhere.
bool meets_wall(const Moved& tick) {
  const Sample& before = tick.before;
  const Sample& now = tick.now;
  if (now.stance == Stance::wall_sliding || now.stance == Stance::clinging ||
      now.stance == Stance::climbing) {
    return true;
  }
  if (tick.reports) return tick.has(EventKind::wall_touched);
  return before.velocity.x * now.held.x > 0 && (now.velocity.x == 0 || now.feet.x == before.feet.x);
}

bool has_come(const Wait& wait, const Moved& tick) {
  const Sample& now = tick.now;
  switch (wait.cue) {
    case Cue::landed: return (!tick.before.grounded && now.grounded) || tick.has(EventKind::landed);
    case Cue::airborne: return !now.grounded;
    case Cue::falling:
      return !now.grounded && along_up(now, now.velocity) <= 0 && now.stance != Stance::dashing;
    case Cue::wall: return meets_wall(tick);
    case Cue::edge: return lost_its_ground(tick);
    case Cue::still: return now.grounded && now.feet == tick.before.feet;
    case Cue::x: return passes(tick.before.feet.x, now.feet.x, wait.place);
    case Cue::y: break;
  }
  return passes(tick.before.feet.y, now.feet.y, wait.place);
}

// Plays spans one by one. A subject without events is asked for none.
class Player {
 public:
  Player(Subject& subject, const Stage& stage)
      : subject_(subject),
        stage_(stage),
        reports_(subject.traits().gives_events),
        recorder_(subject),
        ends_(recorder_.trace_so_far().tick_rate) {}

  // False: the run ends here.
  bool play(const InputSpan& span) {
    if (span.until) return wait(span);
    for (const std::int64_t end = ends_.after(span.lasts); tick() < end;) {
      if (!advance(span, tick())) return false;
    }
    return true;
  }

  Played finish() && { return {recorder_.trace(), stall_}; }

 private:
  [[nodiscard]] double tick_rate() const { return recorder_.trace_so_far().tick_rate; }
  // Ticks done since the start.
  [[nodiscard]] std::int64_t tick() const {
    return static_cast<std::int64_t>(recorder_.trace_so_far().samples.size()) - 1;
  }

  bool stop(Stall::Why why, const InputSpan& span, std::int64_t begun) {
    stall_ = Stall{why, span, tick() - begun, recorder_.now()};
    return false;
  }

  bool advance(const InputSpan& span, std::int64_t begun) {
    if (tick() >= kMostRunTicks) return stop(Stall::Why::too_long, span, begun);
    recorder_.advance(span.held);
    return true;
  }

  bool wait(const InputSpan& span) {
    const Wait& wait = *span.until;
    const std::int64_t begun = tick();
    const std::int64_t limit = std::max<std::int64_t>(1, in_ticks(wait.limit));
    const std::int64_t shift = in_ticks(wait.shift);
    const bool kept = shift < 0 && subject_.keep();
    for (bool come = false; !come;) {
      if (tick() - begun >= limit) return stop(Stall::Why::limit, span, begun);
      const Sample before = recorder_.now();
      if (!advance(span, begun)) return false;
      const Events events = reports_ ? subject_.events() : Events{};
      come = has_come(wait, {before, recorder_.now(), events, reports_});
    }
    if (tick() + shift < begun) return stop(Stall::Why::too_early, span, begun);
    if (shift < 0 && !go_back(span, begun, tick() + shift, kept)) return false;
    for (std::int64_t i = 0; i < shift; ++i) {
      if (!advance(span, begun)) return false;
    }
    ends_.restart(tick());
    return true;
  }

  // To the state after an earlier tick of the span.
  bool go_back(const InputSpan& span, std::int64_t begun, std::int64_t to, bool kept) {
    const std::int64_t from = kept ? begun : 0;
    replayed_ += to - from;
    if (replayed_ > kMostReplayedTicks) return stop(Stall::Why::too_much, span, begun);
    if (kept) {
      subject_.go_back();
    } else {
      (void)subject_.place(stage_);
    }
    const std::vector<Sample>& samples = recorder_.trace_so_far().samples;
    for (std::int64_t i = from; i < to; ++i) {
      subject_.advance(samples[static_cast<std::size_t>(i) + 1].held);
    }
    recorder_.forget_after(to);
    return true;
  }

  [[nodiscard]] std::int64_t in_ticks(const Duration& duration) const {
    const bool whole = duration.unit == Duration::Unit::ticks;
    const double ticks = whole ? duration.amount : duration.amount * tick_rate();
    return ticks < 0 ? -std::int64_t{whole_ticks(-ticks)} : std::int64_t{whole_ticks(ticks)};
  }

  Subject& subject_;
  const Stage& stage_;
  bool reports_;
  Recorder recorder_;
  SpanEnds ends_;
  std::int64_t replayed_ = 0;
  std::optional<Stall> stall_;
};

}  // namespace

std::optional<Played> play(Subject& subject, const Stage& stage, const Inputs& inputs) {
  if (!subject.can_stand_on(stage.terrain) || !subject.place(stage)) return std::nullopt;
  Player player(subject, stage);
  for (const InputSpan& span : inputs.spans) {
    if (!player.play(span)) break;
  }
  return std::move(player).finish();
}

std::vector<Controls> controls_of(const Trace& trace) {
  std::vector<Controls> controls;
  for (std::size_t i = 1; i < trace.samples.size(); ++i) {
    controls.push_back(trace.samples[i].held);
  }
  return controls;
}

}  // namespace bushbaby
