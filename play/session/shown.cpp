#include "shown.h"

#include <cmath>
#include <optional>

#include <fmt/format.h>

namespace bushbaby::live {
namespace {

std::string ticks_text(std::int64_t ticks) {
  return fmt::format("{} tick{}", ticks, ticks == 1 ? "" : "s");
}

// How far a value is off what is target_jumps.
std::string off_text(const std::optional<double>& off, Dimension dimension, const Units& units) {
  if (!off) return {};
  constexpr double kMet = 1e-9;
  if (std::abs(*off) < kMet) return " (on target)";
  return fmt::format(" ({:.3g} {})", std::abs(units.shown(dimension, *off)),
                     *off < 0 ? "under" : "over");
}

}  // namespace

std::string lateness_text(const Press& press, double tick_rate) {
  if (press.button != Button::jump || press.end != Press::End::nothing) return {};
  std::optional<std::int64_t> early;
  if (press.too_soon_for) {
    early = *press.too_soon_for - (press.remembered > 0 ? press.end_tick : press.tick);
  }
  std::optional<std::int64_t> late;
  if (press.trial.hurdle == Hurdle::shut) late = press.trial.have;
  const auto most = static_cast<std::int64_t>(tick_rate / 4);
  if (early && *early > most) early.reset();
  if (late && *late > most) late.reset();
  // Between two chances it was meant for the nearer.
  if (late && (!early || *late <= *early)) return ticks_text(*late) + " late";
  if (early) return ticks_text(*early) + " early";
  return {};
}

std::string landing_text(const Landing& landing, const Units& units) {
  return fmt::format("{} high{}, {} in the air{}, {} far{}",
                     units.text(Dimension::length, landing.height, 4),
                     off_text(landing.height_off, Dimension::length, units),
                     units.text(Dimension::time, landing.air_time, 4),
                     off_text(landing.air_time_off, Dimension::time, units),
                     units.text(Dimension::length, landing.distance, 4),
                     off_text(landing.distance_off, Dimension::length, units));
}

}  // namespace bushbaby::live
