#include "bushbaby/core/inputs.h"

#include "bushbaby/core/rules.h"

namespace bushbaby {

std::vector<Controls> controls_of(const Inputs& inputs, double tick_rate) {
  std::vector<Controls> controls;
  // Whole ticks and seconds are summed apart: sums of ticks stay exact.
  double ticks = 0;
  double time = 0;
  for (const InputSpan& span : inputs.spans) {
    (span.lasts.unit == Duration::Unit::ticks ? ticks : time) += span.lasts.amount;
    const auto end = static_cast<std::size_t>(whole_ticks(ticks + time * tick_rate));
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
