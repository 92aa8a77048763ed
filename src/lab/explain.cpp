#include "bushbaby/lab/explain.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

namespace bushbaby {
namespace {

using EventAt = std::vector<Event>::const_iterator;

// The events of one tick of a trace, from a place in it that is not behind them; the place moves
// on.
std::pair<EventAt, EventAt> events_of(const Trace& trace, std::int64_t tick, EventAt& at) {
  while (at != trace.events.end() && at->tick < tick) ++at;
  const EventAt first = at;
  while (at != trace.events.end() && at->tick == tick) ++at;
  return {first, at};
}

bool same_events(std::pair<EventAt, EventAt> a, std::pair<EventAt, EventAt> b) {
  return std::equal(a.first, a.second, b.first, b.second, [](const Event& x, const Event& y) {
    return x.kind == y.kind && x.detail == y.detail;
  });
}

bool is_held(const Controls& controls, Button button) {
  switch (button) {
    case Button::jump: return controls.jump;
    case Button::down: return controls.y <= -kHeldStep;
    case Button::dash: break;
  }
  return controls.dash;
}

// The samples that two traces have of the same ticks, in order: calls `visit(a, b)` for each until
// it says that it has seen enough.
template <class Visit>
void visit_shared(const Trace& a, const Trace& b, const Visit& visit) {
  auto in_a = a.samples.begin();
  auto in_b = b.samples.begin();
  while (in_a != a.samples.end() && in_b != b.samples.end()) {
    if (in_a->tick < in_b->tick) {
      ++in_a;
    } else if (in_b->tick < in_a->tick) {
      ++in_b;
    } else if (visit(*in_a++, *in_b++)) {
      return;
    }
  }
}

// The surfaces that are solid at times within a body's height of it.
std::vector<ExplainedTick::Conditional> conditionals_near(const CharacterSubject& subject,
                                                          const Level& level,
                                                          const Controls& held) {
  const Character& character = subject.character();
  const double reach = 2 * subject.traits().body_height;
  std::vector<ExplainedTick::Conditional> found;
  for (SurfaceId surface = 0; surface < level.solids.size(); ++surface) {
    const Solid& solid = level.solids[surface];
    if (solid.solid_when.nodes.empty()) continue;
    const Box bounds = bounds_of(solid);
    const Vec feet = character.feet;
    const bool near = feet.x > bounds.lo.x - reach && feet.x < bounds.hi.x + reach &&
                      feet.y > bounds.lo.y - reach && feet.y < bounds.hi.y + reach;
    if (near) found.push_back({surface, subject.solidity_now(surface, held)});
  }
  return found;
}

}  // namespace

std::optional<std::vector<ExplainedTick>> explain_ticks(CharacterSubject& subject,
                                                        const Stage& stage,
                                                        const std::vector<Controls>& controls,
                                                        const std::vector<std::int64_t>& ticks) {
  if (!subject.place(stage)) return std::nullopt;
  const std::set<std::int64_t> asked(ticks.begin(), ticks.end());
  std::vector<ExplainedTick> explained;
  std::int64_t pressed_at = 0;
  Controls before;
  for (const Controls& held : controls) {
    const Sample sample = subject.observe();
    const std::int64_t tick = sample.tick + 1;
    if (held.jump && !before.jump) pressed_at = tick;
    const bool wanted = asked.count(tick) > 0;
    if (wanted) {
      ExplainedTick one{
          tick, sample, held, subject.why(held), {}, std::nullopt, subject.character().zones};
      one.conditionals = conditionals_near(subject, stage.level, held);
      if (held.jump && pressed_at < tick) one.jump_held_since = pressed_at;
      explained.push_back(std::move(one));
    }
    subject.advance(held);
    before = held;
    if (!wanted) continue;
    const Events events = subject.events();
    explained.back().events.assign(events.begin(), events.end());
  }
  return explained;
}

std::vector<std::int64_t> presses_of(const std::vector<Controls>& controls) {
  std::vector<std::int64_t> ticks;
  Controls before;
  for (std::size_t i = 0; i < controls.size(); ++i) {
    const Controls& now = controls[i];
    const auto is_new = [&](Button button) {
      return is_held(now, button) && !is_held(before, button);
    };
    if (is_new(Button::jump) || is_new(Button::down) || is_new(Button::dash)) {
      ticks.push_back(static_cast<std::int64_t>(i) + 1);
    }
    before = now;
  }
  return ticks;
}

std::string_view name_of(Button button) noexcept {
  switch (button) {
    case Button::jump: return "jump";
    case Button::down: return "down";
    case Button::dash: break;
  }
  return "dash";
}

namespace {

// Follows the presses of one button through a run.
class Follower {
 public:
  Follower(Button button, const CharacterSubject& subject) : button_(button), subject_(subject) {}

  std::vector<Press> presses;

  // Before a tick: `held` against what was held in the last, and what the tick decides.
  void see_decisions(const Controls& before, const Controls& held, const Explanation& why) {
    const std::int64_t tick = subject_.character().tick + 1;
    const bool down = is_held(held, button_);
    if (down && !is_held(before, button_)) {
      if (waits_ || fills_) close(Press::End::replaced, tick);
      begin(tick, held, why);
    } else if (waits_ || fills_ || missed_) {
      Press& press = presses.back();
      press.lasted = press.lasted && down;
      if (waits_) wait(tick, why);
      if (missed_) look_for_support(tick, held);
    }
  }

  // After it.
  void see_outcome(const Events& events) {
    const std::int64_t tick = subject_.character().tick;
    if (fills_ && subject_.character().charge_held == 0) {
      const auto jumped = [](const Event& event) {
        return event.kind == EventKind::jumped &&
               static_cast<JumpKind>(event.detail) == JumpKind::charged;
      };
      const bool done = std::any_of(events.begin(), events.end(), jumped);
      close(done ? Press::End::charged : Press::End::nothing, tick);
    }
    if (!waits_ || remembers()) return;
    presses.back().remembered = tick - presses.back().tick;
    close(Press::End::nothing, tick);
    missed_ = button_ == Button::jump;
  }

 private:
  void close(Press::End end, std::int64_t tick) {
    presses.back().end = end;
    presses.back().end_tick = tick;
    waits_ = fills_ = false;
  }

  [[nodiscard]] bool remembers() const {
    const Character& character = subject_.character();
    if (button_ == Button::dash) return character.dash_buffer_left > 0;
    return character.buffer_left > 0 || character.wall_buffer_left > 0;
  }

  // What a press of the button did in a tick; `later` asks for one that was remembered.
  [[nodiscard]] const Trial* deed(const Explanation& why, bool later) const {
    static constexpr Candidate kOfJump[] = {
        Candidate::drop, Candidate::ground_jump, Candidate::coyote_jump, Candidate::wall_exit,
        Candidate::leap, Candidate::paddle,      Candidate::air_jump};
    static constexpr Candidate kOfDown[] = {Candidate::drop, Candidate::wall_exit,
                                            Candidate::fast_fall};
    static constexpr Candidate kOfDash[] = {Candidate::dash};
    const auto find = [&](const Candidate* first, const Candidate* last) -> const Trial* {
      for (; first != last; ++first) {
        const Trial& trial = why.of(*first);
        if (trial.hurdle == Hurdle::none && trial.remembered == later && asks_for(trial)) {
          return &trial;
        }
      }
      return nullptr;
    };
    switch (button_) {
      case Button::jump: return find(std::begin(kOfJump), std::end(kOfJump));
      case Button::down: return find(std::begin(kOfDown), std::end(kOfDown));
      case Button::dash: break;
    }
    return find(std::begin(kOfDash), std::end(kOfDash));
  }

  // Whether the row of a wall exit, or a drop, needs this button; other candidates do.
  [[nodiscard]] bool asks_for(const Trial& trial) const {
    const bool drops_by_jump = subject_.rules().drop_by == DropBy::down_jump;
    if (trial.candidate == Candidate::drop) return drops_by_jump == (button_ == Button::jump);
    if (trial.candidate != Candidate::wall_exit) return true;
    const WallExitRules& row = subject_.rules().exits[static_cast<std::size_t>(trial.row)];
    return button_ == Button::jump ? row.jump : row.along < 0;
  }

  void begin(std::int64_t tick, const Controls& held, const Explanation& why) {
    missed_ = false;
    Press press;
    press.button = button_;
    press.tick = press.end_tick = tick;
    press.end = Press::End::open;
    presses.push_back(press);
    if (const Trial* trial = deed(why, false)) {
      presses.back().trial = *trial;
      close(Press::End::done, tick);
      return;
    }
    presses.back().trial = refusal(held, why);
    fills_ = button_ == Button::jump && why.of(Candidate::ground_jump).hurdle == Hurdle::charging;
    waits_ = !fills_ && button_ != Button::down;
    if (button_ == Button::down) close(Press::End::nothing, tick);
  }

  void wait(std::int64_t tick, const Explanation& why) {
    Press& press = presses.back();
    if (const Trial* trial = deed(why, true)) {
      press.trial = *trial;
      press.remembered = tick - press.tick;
      close(Press::End::done, tick);
    } else if (why.of(Candidate::ground_jump).hurdle == Hurdle::charging &&
               why.of(Candidate::ground_jump).remembered) {
      press.trial = why.of(Candidate::ground_jump);
      press.remembered = tick - press.tick;
      waits_ = false;
      fills_ = true;
    }
  }

  void look_for_support(std::int64_t tick, const Controls& held) {
    const Availability now = subject_.jump_now(held);
    if (!now.possible || now.kind == JumpKind::air) return;
    presses.back().too_soon_for = tick;
    missed_ = false;
  }

  [[nodiscard]] Trial refusal(const Controls& held, const Explanation& why) const {
    if (button_ == Button::dash) return why.of(Candidate::dash);
    if (button_ == Button::down) {
      // On the ground a press of down asks for a drop, in the air for a fast fall.
      const Trial& drop = why.of(Candidate::drop);
      const bool asks = drop.hurdle != Hurdle::off && drop.hurdle != Hurdle::not_asked;
      return asks && drop.hurdle != Hurdle::not_standing ? drop : why.of(Candidate::fast_fall);
    }
    return subject_.jump_now(held).trial;
  }

  Button button_;
  const CharacterSubject& subject_;
  bool waits_ = false;   // the last press is remembered
  bool fills_ = false;   // it fills the gauge
  bool missed_ = false;  // it did nothing, and no place to jump from has come since
};

}  // namespace

std::optional<std::vector<Press>> follow_presses(CharacterSubject& subject, const Stage& stage,
                                                 const std::vector<Controls>& controls) {
  if (!subject.place(stage)) return std::nullopt;
  Follower followers[] = {
      {Button::jump, subject}, {Button::down, subject}, {Button::dash, subject}};
  Controls before;
  for (const Controls& held : controls) {
    const Explanation why = subject.why(held);
    for (Follower& follower : followers) follower.see_decisions(before, held, why);
    subject.advance(held);
    for (Follower& follower : followers) follower.see_outcome(subject.events());
    before = held;
  }
  std::vector<Press> all;
  for (Follower& follower : followers) {
    all.insert(all.end(), follower.presses.begin(), follower.presses.end());
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const Press& a, const Press& b) { return a.tick < b.tick; });
  return all;
}

std::size_t shared_samples(const Trace& a, const Trace& b) {
  std::size_t count = 0;
  visit_shared(a, b, [&count](const Sample&, const Sample&) {
    ++count;
    return false;
  });
  return count;
}

std::optional<Parting> find_parting(const Trace& a, const Trace& b, double within) {
  std::optional<Parting> found;
  const bool with_events = !a.events.empty() && !b.events.empty();
  EventAt event_a = a.events.begin();
  EventAt event_b = b.events.begin();
  bool first = true;
  visit_shared(a, b, [&](const Sample& in_a, const Sample& in_b) {
    Parting parting;
    parting.at_start = first;
    parting.tick = in_a.tick;
    const auto compare = [&](std::string_view column, bool same) {
      if (!same) parting.over.push_back(column);
    };
    const auto near = [within](double x, double y) { return std::abs(x - y) <= within; };
    compare("held", in_a.held == in_b.held);
    compare("x", near(in_a.feet.x, in_b.feet.x));
    compare("y", near(in_a.feet.y, in_b.feet.y));
    compare("vx", near(in_a.velocity.x, in_b.velocity.x));
    compare("vy", near(in_a.velocity.y, in_b.velocity.y));
    compare("stance", in_a.stance == in_b.stance);
    compare("grounded", in_a.grounded == in_b.grounded);
    if (!first && with_events) {
      const std::int64_t tick = parting.tick;
      compare("events", same_events(events_of(a, tick, event_a), events_of(b, tick, event_b)));
    }
    first = false;
    if (!parting.over.empty()) found = parting;
    return found.has_value();
  });
  return found;
}

}  // namespace bushbaby
