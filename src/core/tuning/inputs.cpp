#include "bushbaby/core/tuning/inputs.h"

#include <cassert>

#include "bushbaby/core/motion/rules.h"

namespace bushbaby {

namespace {

// Where spans end, in whole ticks from the start. Whole ticks and seconds are summed apart: sums of
// ticks stay exact.
class SpanEnds {
 public:
  explicit SpanEnds(double tick_rate) : tick_rate_(tick_rate) {}

  std::int64_t after(const Duration& lasts) noexcept {
    (lasts.unit == Duration::Unit::ticks ? ticks_ : time_) += lasts.amount;
    return whole_ticks(ticks_ + time_ * tick_rate_);
  }

 private:
  double tick_rate_;
  double ticks_ = 0;
  double time_ = 0;
};

}  // namespace

std::int64_t ticks_in(const Inputs& inputs, double tick_rate) noexcept {
  SpanEnds ends(tick_rate);
  std::int64_t end = 0;
  for (const InputSpan& span : inputs.spans) end = ends.after(span.lasts);
  return end;
}

std::vector<Controls> controls_of(const Inputs& inputs, double tick_rate) {
  assert(ticks_in(inputs, tick_rate) <= kMostRunTicks);
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
