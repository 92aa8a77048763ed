#include "bushbaby/records/export_table.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "bushbaby/core/motion/ticks.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/tuning/jump.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/units.h"

namespace bushbaby {
namespace {

constexpr double kHalfTurn = 180;
const double kPi = std::acos(-1.0);

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

  // Whether a knob is told even at its default: what is never off, and what is not wholly so.
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
    const KnobValue told = to_convention(style_.convention, knob, value, tuning_.loop.tick_rate);
    const std::string key = place.key();
    if (const auto* number = std::get_if<double>(&told)) {
      const bool turned = knob.dimension == Dimension::angle && style_.radians;
      add_number(key, turned ? *number * kPi / kHalfTurn : *number,
                 turned ? "rad" : unit_in(style_.convention, knob.dimension), false,
                 std::holds_alternative<KnobAccess<int>>(knob.binding));
    } else if (const auto* duration = std::get_if<Duration>(&told)) {
      const bool ticks = duration->unit == Duration::Unit::ticks;
      add_number(key, duration->amount, ticks ? "ticks" : "s", false, ticks);
    } else if (const auto* flag = std::get_if<bool>(&told)) {
      rows_.push_back({key, *flag ? "true" : "false", ""});
    } else if (const auto* word = std::get_if<std::string>(&told)) {
      rows_.push_back({key, *word, "", true});
    }
  }

  void add_told(const char* key, Dimension dimension, double meant) {
    add_number(key, units_.told(dimension, meant), units_.name(dimension), true);
  }

  void add_ticks(const char* key, const Duration& window) {
    const double rate = tuning_.loop.tick_rate;
    const bool whole = window.unit == Duration::Unit::ticks;
    const auto ticks = whole_ticks(whole ? window.amount : window.amount * rate);
    if (ticks > 0) rows_.push_back({key, fmt::format("{}", ticks), "ticks", false, true, true});
  }

  // What a loop of one's own is fed with.
  void add_loop() {
    const JumpAnswer jump = derive_jump(jump_ask(tuning_), jump_loop(tuning_), jump_shape(tuning_));
    add_told("loop.rise_gravity", Dimension::acceleration, jump.gravity);
    add_told("loop.fall_gravity", Dimension::acceleration, jump.gravity * tuning_.fall.factor);
    add_told("loop.launch_speed", Dimension::speed, jump.launch_speed);
    const double vy = units_.told(Dimension::speed, Vec{0, jump.launch_speed}).y;
    add_number("loop.launch_velocity_y", vy, units_.name(Dimension::speed), true);
    if (tuning_.fall.terminal_speed) {
      add_told("loop.terminal_speed", Dimension::speed, *tuning_.fall.terminal_speed);
    }
    if (style_.reference_gravity) {
      add_number("loop.rise_gravity_multiple", jump.gravity / *style_.reference_gravity, "×", true);
      add_number("loop.fall_gravity_multiple",
                 jump.gravity * tuning_.fall.factor / *style_.reference_gravity, "×", true);
    }
    if (style_.mass) {
      add_number("loop.launch_impulse",
                 *style_.mass * units_.told(Dimension::speed, jump.launch_speed),
                 "mass " + units_.name(Dimension::speed), true);
    }
    add_number("loop.tick_time", 1 / tuning_.loop.tick_rate, "s", true);
    add_ticks("loop.coyote_ticks", tuning_.jump.coyote);
    add_ticks("loop.buffer_ticks", tuning_.jump.buffer);
    add_ticks("loop.min_hold_ticks", tuning_.jump.cut.min_hold);
    add_ticks("loop.wall_coyote_ticks", tuning_.wall.coyote);
    if (tuning_.wall.buffer) add_ticks("loop.wall_buffer_ticks", *tuning_.wall.buffer);
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
