// Rules: a tuning compiled for its tick rate into the numbers that a tick needs.
//
//     const Compiled compiled = compile(tuning);
//     if (!compiled.ok()) report(compiled.violations);
//     advance(character, controls, compiled.rules, world);
#pragma once

#include <cstdint>
#include <limits>
#include <string>
#include <vector>

#include <bushbaby/core/jump.h>
#include <bushbaby/core/knobs.h>
#include <bushbaby/core/shapes.h>
#include <bushbaby/core/tuning.h>

namespace bushbaby {

/// Per-tick constants and windows in whole ticks. Trivially copyable. Made by `compile`; a
/// default-constructed one moves nothing.
struct Rules {
  double tick_rate = 60;  ///< Hz
  double dt = 1.0 / 60;   ///< s
  Integrator integrator = Integrator::exact;
  bool gravity_on_launch_tick = true;

  Box body{{-0.5, 0}, {0.5, 1}};  ///< the body's box relative to the feet, u
  double flush_gap = 0.001;       ///< u: the widest gap that counts as flush
  double footing_slope = 0.64;    ///< least normal · up of a surface that gives footing

  double top_speed = 0;  ///< u/s
  RunRates ground;
  RunRates air;

  double rise_gravity = 0;                                          ///< u/s²
  double fall_gravity = 0;                                          ///< u/s²
  double terminal_speed = std::numeric_limits<double>::infinity();  ///< u/s
  double launch_speed = 0;                                          ///< u/s

  CutStyle cut_style = CutStyle::none;
  double cut_keep = 0;
  double cut_weight = 1;
  std::int64_t cut_from_tick = 1;  ///< a cut may happen this many ticks after launch, or later

  std::int64_t coyote_ticks = 0;
  double coyote_gravity = 1;
  std::int64_t buffer_ticks = 0;
  Hang hang{};
};

/// A duration that had to be rounded to whole ticks.
struct Rounding {
  std::string key;
  double asked_ticks = 0;
  std::int64_t used_ticks = 0;
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

/// Whole ticks nearest to `ticks`, half up, after adding 1e-9 ticks; not negative.
[[nodiscard]] std::int64_t whole_ticks(double ticks) noexcept;

}  // namespace bushbaby
