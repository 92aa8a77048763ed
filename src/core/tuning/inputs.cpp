#include "bushbaby/core/tuning/inputs.h"

#include <algorithm>
#include <cassert>

#include "bushbaby/core/motion/rules.h"

namespace bushbaby {

std::int64_t SpanEnds::after(const Duration& lasts) noexcept {
  (lasts.unit == Duration::Unit::ticks ? ticks_ : time_) += lasts.amount;
  return whole_ticks(ticks_ + time_ * tick_rate_);
}

void SpanEnds::restart(std::int64_t tick) noexcept {
  ticks_ = static_cast<double>(tick);
  time_ = 0;
}

bool has_waits(const Inputs& inputs) noexcept {
  return std::any_of(inputs.spans.begin(), inputs.spans.end(),
                     [](const InputSpan& span) { return span.until.has_value(); });
}

std::int64_t ticks_in(const Inputs& inputs, double tick_rate) noexcept {
  SpanEnds ends(tick_rate);
  std::int64_t end = 0;
  for (const InputSpan& span : inputs.spans) {
    if (!span.until) end = ends.after(span.lasts);
  }
  return end;
}

std::vector<Controls> controls_of(const Inputs& inputs, double tick_rate) {
  assert(!has_waits(inputs) && ticks_in(inputs, tick_rate) <= kMostRunTicks);
  std::vector<Controls> controls;
  SpanEnds ends(tick_rate);
  for (const InputSpan& span : inputs.spans) {
    const auto end = static_cast<std::size_t>(ends.after(span.lasts));
    if (end > controls.size()) controls.resize(end, span.held);
  }
  return controls;
}

Inputs inputs_of(const std::vector<Controls>& controls) {
  Inputs inputs;
  for (const Controls& held : controls) {
    if (inputs.spans.empty() || inputs.spans.back().held != held) {
      inputs.spans.push_back({held, {0, Duration::Unit::ticks}});
    }
    inputs.spans.back().lasts.amount += 1;
  }
  return inputs;
}

}  // namespace bushbaby
