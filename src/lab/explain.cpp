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
std::vector<ExplainedTick::Conditional> conditionals_near(const Situation& now,
                                                          const Level& level) {
  const Box& body = now.book.rules(now.character.rules).body.box;
  const double reach = 2 * (body.hi.y - body.lo.y);
  std::vector<ExplainedTick::Conditional> found;
  for (SurfaceId surface = 0; surface < level.solids.size(); ++surface) {
    const Solid& solid = level.solids[surface];
    if (solid.solid_when.nodes.empty()) continue;
    const Box bounds = bounds_of(solid);
    const Vec feet = now.character.feet;
    const bool near = feet.x > bounds.lo.x - reach && feet.x < bounds.hi.x + reach &&
                      feet.y > bounds.lo.y - reach && feet.y < bounds.hi.y + reach;
    if (!near) continue;
    found.push_back({surface, solidity_of(surface, now.character, now.held, now.book, now.world)});
  }
  return found;
}

}  // namespace

ExplainedTick explained_tick(const Situation& now, const Explanation& why, const Level& level) {
  ExplainedTick tick;
  tick.tick = now.character.tick + 1;
  tick.before = sample_of(now.character);
  tick.held = now.held;
  tick.why = why;
  tick.zones = now.character.zones;
  tick.conditionals = conditionals_near(now, level);
  return tick;
}

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
    const std::int64_t tick = subject.character().tick + 1;
    if (held.jump && !before.jump) pressed_at = tick;
    const bool is_asked = asked.count(tick) > 0;
    if (is_asked) {
      ExplainedTick one = explained_tick(subject.situation(held), subject.why(held), stage.level);
      if (held.jump && pressed_at < tick) one.jump_held_since = pressed_at;
      explained.push_back(std::move(one));
    }
    subject.advance(held);
    before = held;
    if (!is_asked) continue;
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

// Follows the presses of one button.
class PressFollower::OfButton {
 public:
  explicit OfButton(Button button) : button_(button) {}

  std::vector<Press> presses;

  // Before a tick: `held` against what was held in the last, and what the tick decides.
  void see_decisions(const Situation& now, const Explanation& why) {
    const std::int64_t tick = now.character.tick + 1;
    const bool down = is_held(now.held, button_);
    if (down && !is_held(now.character.controls, button_)) {
      if (waits_ || fills_) close(Press::End::replaced, tick);
      begin(now, why);
    } else if (waits_ || fills_ || missed_) {
      Press& press = presses.back();
      press.lasted = press.lasted && down;
      if (waits_) wait(now, why);
      if (missed_) look_for_support(now);
    }
  }

  // After it.
  void see_outcome(const Character& after, const std::vector<Event>& events) {
    if (fills_ && after.charge_held == 0) {
      const auto jumped = [](const Event& event) {
        return event.kind == EventKind::jumped &&
               static_cast<JumpKind>(event.detail) == JumpKind::charged;
      };
      const bool done = std::any_of(events.begin(), events.end(), jumped);
      close(done ? Press::End::charged : Press::End::nothing, after.tick);
    }
    if (!waits_ || remembers(after)) return;
    presses.back().remembered = after.tick - presses.back().tick;
    close(Press::End::nothing, after.tick);
    missed_ = button_ == Button::jump;
  }

 private:
  void close(Press::End end, std::int64_t tick) {
    presses.back().end = end;
    presses.back().end_tick = tick;
    waits_ = fills_ = false;
  }

  [[nodiscard]] bool remembers(const Character& character) const {
    if (button_ == Button::dash) return character.dash_buffer_left > 0;
    return character.buffer_left > 0 || character.wall_buffer_left > 0;
  }

  // What a press of the button did in a tick; `later` asks for one that was remembered.
  [[nodiscard]] const Trial* deed(const Situation& now, const Explanation& why, bool later) const {
    static constexpr Candidate kOfJump[] = {
        Candidate::drop,      Candidate::ground_jump, Candidate::coyote_jump, Candidate::wall_exit,
        Candidate::exit_jump, Candidate::stroke,      Candidate::air_jump};
    static constexpr Candidate kOfDown[] = {Candidate::drop, Candidate::wall_exit,
                                            Candidate::fast_fall};
    static constexpr Candidate kOfDash[] = {Candidate::dash};
    const auto find = [&](const Candidate* first, const Candidate* last) -> const Trial* {
      for (; first != last; ++first) {
        const Trial& trial = why.of(*first);
        if (trial.hurdle == Hurdle::none && trial.remembered == later && asks_for(now, trial)) {
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
  [[nodiscard]] bool asks_for(const Situation& now, const Trial& trial) const {
    const Rules& rules = now.book.rules(now.character.rules);
    const bool drops_by_jump = rules.drop_by == DropBy::down_jump;
    if (trial.candidate == Candidate::drop) return drops_by_jump == (button_ == Button::jump);
    if (trial.candidate != Candidate::wall_exit) return true;
    const WallExitRules& row = rules.exits[static_cast<std::size_t>(trial.row)];
    return button_ == Button::jump ? row.jump : row.vertical < 0;
  }

  void begin(const Situation& now, const Explanation& why) {
    missed_ = false;
    const std::int64_t tick = now.character.tick + 1;
    Press press;
    press.button = button_;
    press.tick = press.end_tick = tick;
    press.end = Press::End::open;
    presses.push_back(press);
    if (const Trial* trial = deed(now, why, false)) {
      presses.back().trial = *trial;
      close(Press::End::done, tick);
      return;
    }
    presses.back().trial = refusal(now, why);
    fills_ = button_ == Button::jump && why.of(Candidate::ground_jump).hurdle == Hurdle::charging;
    waits_ = !fills_ && button_ != Button::down;
    if (button_ == Button::down) close(Press::End::nothing, tick);
  }

  void wait(const Situation& now, const Explanation& why) {
    const std::int64_t tick = now.character.tick + 1;
    Press& press = presses.back();
    if (const Trial* trial = deed(now, why, true)) {
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

  void look_for_support(const Situation& now) {
    const Availability jump = available(now.character, now.held, now.book, now.world);
    if (!jump.possible || jump.kind == JumpKind::air) return;
    presses.back().too_soon_for = now.character.tick + 1;
    missed_ = false;
  }

  [[nodiscard]] Trial refusal(const Situation& now, const Explanation& why) const {
    if (button_ == Button::dash) return why.of(Candidate::dash);
    if (button_ == Button::down) {
      // On the ground a press of down asks for a drop, in the air for a fast fall.
      const Trial& drop = why.of(Candidate::drop);
      const bool asks = drop.hurdle != Hurdle::off && drop.hurdle != Hurdle::not_asked;
      return asks && drop.hurdle != Hurdle::not_standing ? drop : why.of(Candidate::fast_fall);
    }
    return available(now.character, now.held, now.book, now.world).trial;
  }

  Button button_;
  bool waits_ = false;   // the last press is remembered
  bool fills_ = false;   // it fills the gauge
  bool missed_ = false;  // it did nothing, and no place to jump from has come since
};

PressFollower::PressFollower()
    : buttons_{OfButton(Button::jump), OfButton(Button::down), OfButton(Button::dash)} {}
PressFollower::~PressFollower() = default;
PressFollower::PressFollower(const PressFollower&) = default;
PressFollower& PressFollower::operator=(const PressFollower&) = default;

void PressFollower::see_decisions(const Situation& now, const Explanation& why) {
  for (OfButton& button : buttons_) button.see_decisions(now, why);
}

void PressFollower::see_outcome(const Character& after, const std::vector<Event>& events) {
  for (OfButton& button : buttons_) button.see_outcome(after, events);
}

std::vector<Press> PressFollower::presses() const {
  std::vector<Press> all;
  for (const OfButton& button : buttons_) {
    all.insert(all.end(), button.presses.begin(), button.presses.end());
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const Press& a, const Press& b) { return a.tick < b.tick; });
  return all;
}

std::optional<std::vector<Press>> follow_presses(CharacterSubject& subject, const Stage& stage,
                                                 const std::vector<Controls>& controls) {
  if (!subject.place(stage)) return std::nullopt;
  PressFollower follower;
  for (const Controls& held : controls) {
    follower.see_decisions(subject.situation(held), subject.why(held));
    subject.advance(held);
    const Events events = subject.events();
    follower.see_outcome(subject.character(), {events.begin(), events.end()});
  }
  return follower.presses();
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
