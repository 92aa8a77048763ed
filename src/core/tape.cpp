#include "bushbaby/core/tape.h"

#include "bushbaby/core/rules.h"

namespace bushbaby {

std::vector<Controls> controls_of(const Tape& tape, double tick_rate) {
  std::vector<Controls> controls;
  // Whole ticks and seconds are summed apart: sums of ticks stay exact.
  double ticks = 0;
  double time = 0;
  for (const TapeSpan& span : tape.spans) {
    (span.lasts.unit == Duration::Unit::ticks ? ticks : time) += span.lasts.amount;
    const auto end = static_cast<std::size_t>(whole_ticks(ticks + time * tick_rate));
    if (end > controls.size()) controls.resize(end, span.held);
  }
  return controls;
}

Tape tape_of(const std::vector<Controls>& controls) {
  Tape tape;
  for (const Controls& held : controls) {
    if (tape.spans.empty() || tape.spans.back().held != held) {
      tape.spans.push_back({held, {0, Duration::Unit::ticks}});
    }
    tape.spans.back().lasts.amount += 1;
  }
  return tape;
}

}  // namespace bushbaby
