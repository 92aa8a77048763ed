#include "bushbaby/records/export_table.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "bushbaby/core/motion/ticks.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/units.h"

#include "export_text.h"

namespace bushbaby {
namespace {

using detail::kHalfTurn;
using detail::kPi;

// Makes rows in a style.
class Exporter {
 public:
  Exporter(const Tuning& tuning, const ExportStyle& style)
      : tuning_(tuning), style_(style), units_{style.convention, tuning.loop.tick_rate} {}

  std::vector<ExportRow> rows() && {
    find_groups();
    for (const KnobPlace& place : places_of(tuning_)) add_knob(place);
    add_loop();
    return std::move(rows_);
  }

 private:
  // A number in the precision of the style.
  void add_number(const std::string& key, double value, std::string unit, bool worked_out,
                  bool counts = false) {
    ExportRow row{key, {}, std::move(unit)};
    row.worked_out = worked_out;
    row.whole = counts && value == std::floor(value);
    if (style_.single) {
      const auto single = static_cast<float>(value);
      row.text = fmt::format("{}", single);
      row.rounded_by = static_cast<double>(single) - value;
    } else {
      row.text = fmt::format("{}", value);
    }
    rows_.push_back(std::move(row));
  }

  // The key without its last part: "run.ground", "wall.exit.1".
  static std::string group_of(const std::string& key) { return key.substr(0, key.rfind('.')); }

  // Whether a knob is reported even at its default: what is never off, and what is not wholly so.
  [[nodiscard]] bool is_shown(const KnobPlace& place) const {
    const std::string key = place.key();
    if (key == "name") return false;
    const std::string group = group_of(key);
    for (const char* never_off : {"loop", "body", "run", "run.ground", "run.air", "jump", "fall"}) {
      if (group == never_off) return true;
    }
    return place.knob->list != nullptr || on_.count(group) > 0;
  }

  void find_groups() {
    for (const KnobPlace& place : places_of(tuning_)) {
      if (place.knob->list != nullptr) continue;
      if (get_knob(tuning_, *place.knob) != get_knob(fresh(), *place.knob)) {
        on_.insert(group_of(place.key()));
      }
    }
  }

  static const Tuning& fresh() {
    static const Tuning tuning;
    return tuning;
  }

  void add_knob(const KnobPlace& place) {
    const Knob& knob = *place.knob;
    const KnobValue value = get_knob(tuning_, knob, place.row);
    if (!is_shown(place) && value == get_knob(fresh(), knob)) return;
    const KnobValue reported =
        to_convention(style_.convention, knob, value, tuning_.loop.tick_rate);
    const std::string key = place.key();
    if (const auto* number = std::get_if<double>(&reported)) {
      const bool turned = knob.dimension == Dimension::angle && style_.radians;
      add_number(key, turned ? *number * kPi / kHalfTurn : *number,
                 turned ? "rad" : unit_in(style_.convention, knob.dimension), false,
                 std::holds_alternative<KnobAccess<int>>(knob.binding));
    } else if (const auto* duration = std::get_if<Duration>(&reported)) {
      const bool ticks = duration->unit == Duration::Unit::ticks;
      add_number(key, duration->amount, ticks ? "ticks" : "s", false, ticks);
    } else if (const auto* flag = std::get_if<bool>(&reported)) {
      rows_.push_back({key, *flag ? "true" : "false", ""});
    } else if (const auto* word = std::get_if<std::string>(&reported)) {
      rows_.push_back({key, *word, "", true});
    }
  }

  void add_reported(const char* key, Dimension dimension, double meant) {
    add_number(key, units_.shown(dimension, meant), units_.name(dimension), true);
  }

  void add_ticks(const char* key, Ticks ticks) {
    if (ticks > 0) rows_.push_back({key, fmt::format("{}", ticks), "ticks", false, true, true});
  }

  // What a loop of one's own is fed with: what ours is, if the tuning can be.
  void add_loop() {
    const Compiled compiled = compile(tuning_);
    if (!compiled.ok()) return;
    const Rules& rules = compiled.rules;
    add_reported("loop.rise_gravity", Dimension::acceleration, rules.rise_gravity);
    add_reported("loop.fall_gravity", Dimension::acceleration, rules.fall_gravity);
    add_reported("loop.launch_speed", Dimension::speed, rules.launch_speed);
    const double vy = units_.shown(Dimension::speed, Vec{0, rules.launch_speed}).y;
    add_number("loop.launch_velocity_y", vy, units_.name(Dimension::speed), true);
    if (std::isfinite(rules.terminal_speed)) {
      add_reported("loop.terminal_speed", Dimension::speed, rules.terminal_speed);
    }
    if (style_.reference_gravity) {
      const double reference = *style_.reference_gravity;
      add_number("loop.rise_gravity_multiple", rules.rise_gravity / reference, "×", true);
      add_number("loop.fall_gravity_multiple", rules.fall_gravity / reference, "×", true);
    }
    if (style_.mass) {
      add_number("loop.launch_impulse",
                 *style_.mass * units_.shown(Dimension::speed, rules.launch_speed),
                 "mass " + units_.name(Dimension::speed), true);
    }
    add_number("loop.tick_time", 1 / tuning_.loop.tick_rate, "s", true);
    add_ticks("loop.coyote_ticks", rules.coyote_ticks);
    add_ticks("loop.buffer_ticks", rules.buffer_ticks);
    add_ticks("loop.wall_coyote_ticks", rules.wall_coyote_ticks);
    add_ticks("loop.wall_buffer_ticks", rules.wall_buffer_ticks);
    if (tuning_.jump.cut.style != CutStyle::none) {
      add_ticks("loop.cut_from_tick", rules.cut_from_tick);
    }
  }

  const Tuning& tuning_;
  const ExportStyle& style_;
  Units units_;
  std::set<std::string> on_;  // groups that are not wholly at their defaults
  std::vector<ExportRow> rows_;
};

}  // namespace

std::vector<ExportRow> export_rows(const Tuning& tuning, const ExportStyle& style) {
  return Exporter(tuning, style).rows();
}

std::optional<ExportForm> export_form_of(std::string_view word) noexcept {
  constexpr std::string_view kWords[] = {"toml", "json", "csv", "cpp", "c"};
  for (std::size_t i = 0; i < std::size(kWords); ++i) {
    if (word == kWords[i]) return static_cast<ExportForm>(i);
  }
  return std::nullopt;
}

}  // namespace bushbaby
