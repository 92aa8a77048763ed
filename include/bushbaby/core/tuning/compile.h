// A tuning compiled for its tick rate into the rules that a tick needs.
//
//     const Compiled compiled = compile(tuning);
//     if (!compiled.ok()) report(compiled.violations);
//     advance(character, controls, compiled.rules, world);
#pragma once

#include <string>
#include <vector>

#include <bushbaby/core/motion/rules.h>
#include <bushbaby/core/motion/ticks.h>
#include <bushbaby/core/tuning/jump.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/tuning/violation.h>

namespace bushbaby {

/// A duration that had to be rounded to whole ticks.
struct Rounding {
  std::string key;
  double asked_ticks = 0;
  Ticks used_ticks = 0;
  double used_seconds = 0;
};

/// "jump.cut.min_hold is 6.6 ticks at 60 Hz: using 7 ticks = 0.1167 s".
[[nodiscard]] std::string describe(const Rounding& rounding, double tick_rate);

struct Compiled {
  Rules rules;
  std::vector<Rounding> roundings;
  std::vector<Violation> violations;  ///< every one, not the first only; `rules` counts if empty

  [[nodiscard]] bool ok() const noexcept { return violations.empty(); }
};

/// Checks a tuning and turns it into rules.
[[nodiscard]] Compiled compile(const Tuning& tuning);

/// The tuning's jump, as `derive_jump` wants it.
[[nodiscard]] JumpAsk jump_ask(const Tuning& tuning) noexcept;
[[nodiscard]] JumpLoop jump_loop(const Tuning& tuning) noexcept;
[[nodiscard]] JumpShape jump_shape(const Tuning& tuning) noexcept;

}  // namespace bushbaby
