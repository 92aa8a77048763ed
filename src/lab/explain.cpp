#include "bushbaby/lab/explain.h"

#include <algorithm>
#include <cmath>

namespace bushbaby {
namespace {

// The events of one tick of a trace.
std::vector<Event> events_of(const Trace& trace, std::int64_t tick) {
  std::vector<Event> events;
  for (const Event& event : trace.events) {
    if (event.tick == tick) events.push_back(event);
  }
  return events;
}

bool same_events(const Trace& a, const Trace& b, std::int64_t tick) {
  if (a.events.empty() || b.events.empty()) return true;
  const auto in_a = events_of(a, tick);
  const auto in_b = events_of(b, tick);
  return std::equal(
      in_a.begin(), in_a.end(), in_b.begin(), in_b.end(),
      [](const Event& x, const Event& y) { return x.kind == y.kind && x.detail == y.detail; });
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

std::optional<Parting> find_parting(const Trace& a, const Trace& b, double within) {
  const std::size_t count = std::min(a.samples.size(), b.samples.size());
  for (std::size_t i = 0; i < count; ++i) {
    const Sample& in_a = a.samples[i];
    const Sample& in_b = b.samples[i];
    Parting parting;
    parting.at_start = i == 0;
    parting.tick = in_a.tick - (i > 0 ? 1 : 0);
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
    compare("events", i == 0 || same_events(a, b, parting.tick));
    if (!parting.over.empty()) return parting;
  }
  return std::nullopt;
}

}  // namespace bushbaby
