#include "bushbaby/lab/explain.h"

#include <algorithm>
#include <cmath>
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

}  // namespace

std::optional<std::vector<ExplainedTick>> explain_ticks(CharacterSubject& subject,
                                                        const Stage& stage,
                                                        const std::vector<Controls>& controls,
                                                        const std::vector<std::int64_t>& ticks) {
  if (!subject.place(stage)) return std::nullopt;
  std::vector<ExplainedTick> explained;
  for (const Controls& held : controls) {
    const Sample before = subject.observe();
    const bool wanted = std::find(ticks.begin(), ticks.end(), before.tick) != ticks.end();
    if (wanted) explained.push_back({before, held, subject.why(held), {}});
    subject.advance(held);
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
    const bool pressed =
        (now.jump && !before.jump) || (now.dash && !before.dash) || (now.y < 0 && !(before.y < 0));
    if (pressed) ticks.push_back(static_cast<std::int64_t>(i));
    before = now;
  }
  return ticks;
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
    parting.tick = in_a.tick - (first ? 0 : 1);
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
