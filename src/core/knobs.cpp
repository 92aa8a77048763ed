#include "bushbaby/core/knobs.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "text.h"

namespace bushbaby {
namespace {

constexpr std::array<std::string_view, 4> kIntegratorNames{"exact", "averaged", "semi_implicit",
                                                           "explicit"};
constexpr std::array<std::string_view, 1> kBodyShapeNames{"box"};
constexpr std::array<std::string_view, 4> kCutStyleNames{"none", "stop", "scale", "weight"};

constexpr Range at_least(double lo) { return {lo, std::numeric_limits<double>::max(), false}; }
constexpr Range more_than(double lo) { return {lo, std::numeric_limits<double>::max(), true}; }
constexpr Range between(double lo, double hi) { return {lo, hi, false}; }

// Binds a knob to a member; the type of the member picks the alternative of KnobBinding.
// NOLINTNEXTLINE(bugprone-macro-parentheses): a member access takes no parentheses
#define BUSHBABY_AT(member) +[](Tuning& t) -> decltype((t.member)) { return t.member; }

#define BUSHBABY_CHOICE(member, names)                                                          \
  ChoiceBinding {                                                                               \
    (names).data(), (names).size(), [](const Tuning& t) { return static_cast<int>(t.member); }, \
        [](Tuning& t, int i) { t.member = static_cast<decltype(t.member)>(i); }                 \
  }

std::vector<Knob> make_table() {
  using D = Dimension;
  return {
      {"name", D::number, {}, BUSHBABY_AT(name), "The character's name, as printed in reports."},

      {"loop.tick_rate", D::frequency, between(1, 10000), BUSHBABY_AT(loop.tick_rate),
       "How many ticks the game's update loop does in a second."},
      {"loop.integrator",
       D::number,
       {},
       BUSHBABY_CHOICE(loop.integrator, kIntegratorNames),
       "How a tick turns acceleration into motion; pick the one your own loop uses."},
      {"loop.gravity_on_launch_tick",
       D::number,
       {},
       BUSHBABY_AT(loop.gravity_on_launch_tick),
       "Whether gravity already acts on the tick that launches; false is refused with exact."},

      {"body.shape",
       D::number,
       {},
       BUSHBABY_CHOICE(body.shape, kBodyShapeNames),
       "The collision shape."},
      {"body.width", D::length, between(0.001, 1e6), BUSHBABY_AT(body.width),
       "Width of the body; the flush gap is 0.001 of it."},
      {"body.height", D::length, between(0.001, 1e6), BUSHBABY_AT(body.height),
       "Height of the body."},

      {"run.top_speed", D::speed, at_least(0), BUSHBABY_AT(run.top_speed),
       "Run speed at full direction; a part of the direction asks for that part of it."},
      {"run.ground.speed_up", D::acceleration, at_least(0), BUSHBABY_AT(run.ground.speed_up),
       "On the ground: rate towards a faster speed in the direction of motion."},
      {"run.ground.brake", D::acceleration, at_least(0), BUSHBABY_AT(run.ground.brake),
       "On the ground: rate towards a slower speed in the direction of motion, or to rest."},
      {"run.ground.turn", D::acceleration, at_least(0), BUSHBABY_AT(run.ground.turn),
       "On the ground: rate while moving against the held direction, until the speed is 0."},
      {"run.air.speed_up", D::acceleration, at_least(0), BUSHBABY_AT(run.air.speed_up),
       "In the air: rate towards a faster speed in the direction of motion."},
      {"run.air.brake", D::acceleration, at_least(0), BUSHBABY_AT(run.air.brake),
       "In the air: rate towards a slower speed in the direction of motion, or to rest."},
      {"run.air.turn", D::acceleration, at_least(0), BUSHBABY_AT(run.air.turn),
       "In the air: rate while moving against the held direction, until the speed is 0."},
      {"run.steepest_footing", D::angle, between(0, 89), BUSHBABY_AT(run.steepest_footing),
       "The steepest surface, from level, that gives footing; steeper ones are walls."},

      {"jump.height", D::length, more_than(0), BUSHBABY_AT(jump.height),
       "Height of a full jump, take-off to apex."},
      {"jump.apex_time", D::time, more_than(0), BUSHBABY_AT(jump.apex_time),
       "Time from take-off to the apex of a full jump."},
      {"jump.launch_speed", D::speed, more_than(0), BUSHBABY_AT(jump.launch_speed),
       "Speed along up that a jump sets."},
      {"jump.gravity", D::acceleration, more_than(0), BUSHBABY_AT(jump.gravity),
       "Gravity while rising."},
      {"jump.cut.style",
       D::number,
       {},
       BUSHBABY_CHOICE(jump.cut.style, kCutStyleNames),
       "What letting go of the button does to a rising jump."},
      {"jump.cut.keep", D::ratio, between(0, 1), BUSHBABY_AT(jump.cut.keep),
       "With style scale: the share of the speed along up that is kept."},
      {"jump.cut.weight", D::ratio, at_least(1), BUSHBABY_AT(jump.cut.weight),
       "With style weight: the factor on gravity until the apex."},
      {"jump.cut.min_hold", D::time, at_least(0), BUSHBABY_AT(jump.cut.min_hold),
       "No cut sooner than this after launch, so that the shortest tap has a known height."},

      {"jump.coyote", D::time, at_least(0), BUSHBABY_AT(jump.coyote),
       "How long a body that walked off or lost its ground may still jump from it."},
      {"jump.coyote_gravity", D::ratio, between(0, 1), BUSHBABY_AT(jump.coyote_gravity),
       "The share of gravity that acts during that time."},
      {"jump.buffer", D::time, at_least(0), BUSHBABY_AT(jump.buffer),
       "How long a press that could not jump is remembered, to jump at landing."},
      {"jump.hang.below_speed", D::speed, at_least(0), BUSHBABY_AT(jump.hang.below_speed),
       "Around the apex of a jump, below this speed along up or down, gravity is another."},
      {"jump.hang.gravity", D::ratio, more_than(0), BUSHBABY_AT(jump.hang.gravity),
       "The factor on gravity there: less than 1 floats, more than 1 snaps."},

      {"fall.factor", D::ratio, more_than(0), BUSHBABY_AT(fall.factor),
       "Gravity while falling over gravity while rising."},
      {"fall.terminal_speed", D::speed, more_than(0), BUSHBABY_AT(fall.terminal_speed),
       "Speed along down at which gravity stops adding; left out, there is no limit."},
  };
}

#undef BUSHBABY_AT
#undef BUSHBABY_CHOICE

std::string_view noun_of(Dimension dimension) {
  switch (dimension) {
    case Dimension::length: return "a length in u";
    case Dimension::time: return "a time";
    case Dimension::speed: return "a speed in u/s";
    case Dimension::acceleration: return "a rate in u/s²";
    case Dimension::angle: return "an angle in degrees";
    case Dimension::frequency: return "a rate in Hz";
    case Dimension::ratio: return "a factor";
    case Dimension::ticks:
    case Dimension::milliseconds:
    case Dimension::number: break;
  }
  return "a number";
}

template <class... Ts>
struct Overloaded : Ts... {
  using Ts::operator()...;
};
template <class... Ts>
Overloaded(Ts...) -> Overloaded<Ts...>;

using detail::text_of;

std::string quoted(const std::string& text) { return '"' + text + '"'; }

std::string found_text(const KnobValue& value) {
  return std::holds_alternative<std::monostate>(value) ? "nothing" : describe(value);
}

// The duration that a knob value stands for: bare numbers are seconds.
std::optional<Duration> as_duration(const KnobValue& value) {
  if (const auto* duration = std::get_if<Duration>(&value)) return *duration;
  if (const auto* number = std::get_if<double>(&value)) return Duration{*number};
  return std::nullopt;
}

}  // namespace

std::string_view unit_of(Dimension dimension) noexcept {
  switch (dimension) {
    case Dimension::length: return "u";
    case Dimension::time: return "s";
    case Dimension::speed: return "u/s";
    case Dimension::acceleration: return "u/s²";
    case Dimension::angle: return "°";
    case Dimension::frequency: return "Hz";
    case Dimension::ratio: return "×";
    case Dimension::ticks: return "ticks";
    case Dimension::milliseconds: return "ms";
    case Dimension::number: break;
  }
  return "";
}

bool Range::contains(double value) const noexcept {
  return std::isfinite(value) && (above_lo ? value > lo : value >= lo) && value <= hi;
}

std::string describe(const Range& range) {
  constexpr double kMost = std::numeric_limits<double>::max();
  const bool bounded_above = range.hi < kMost;
  if (range.lo <= -kMost && !bounded_above) return "finite";
  if (!bounded_above) {
    return range.above_lo ? "more than " + text_of(range.lo) : text_of(range.lo) + " or more";
  }
  return range.above_lo ? "more than " + text_of(range.lo) + " and at most " + text_of(range.hi)
                        : text_of(range.lo) + " to " + text_of(range.hi);
}

std::string describe(const KnobValue& value) {
  return std::visit(Overloaded{
                        [](std::monostate) { return std::string("not set"); },
                        [](double number) { return text_of(number); },
                        [](bool flag) { return std::string(flag ? "true" : "false"); },
                        [](const Duration& duration) {
                          const std::string amount = text_of(duration.amount);
                          return duration.unit == Duration::Unit::ticks ? quoted(amount + "t")
                                                                        : amount;
                        },
                        [](const std::string& text) { return quoted(text); },
                    },
                    value);
}

std::string_view Knob::mechanism() const noexcept { return key.substr(0, key.find('.')); }

const std::vector<Knob>& knobs() {
  static const std::vector<Knob> table = make_table();
  return table;
}

const Knob* find_knob(std::string_view key) {
  const auto& table = knobs();
  const auto at =
      std::find_if(table.begin(), table.end(), [key](const Knob& knob) { return knob.key == key; });
  return at == table.end() ? nullptr : &*at;
}

std::string describe_expected(const Knob& knob) {
  const auto number = [&knob] {
    return std::string(noun_of(knob.dimension)) + ", " + describe(knob.range);
  };
  const auto duration = [&knob] {
    return "a time, " + describe(knob.range) + ": 0.11 (seconds), \"110ms\" or \"7t\" (ticks)";
  };
  return std::visit(Overloaded{
                        [&](double& (*)(Tuning&)) { return number(); },
                        [&](std::optional<double>& (*)(Tuning&)) { return number(); },
                        [&](Duration& (*)(Tuning&)) { return duration(); },
                        [&](std::optional<Duration>& (*)(Tuning&)) { return duration(); },
                        [](bool& (*)(Tuning&)) { return std::string("true or false"); },
                        [](std::string& (*)(Tuning&)) { return std::string("a text in quotes"); },
                        [](const ChoiceBinding& choice) {
                          std::string names = "one of ";
                          for (std::size_t i = 0; i < choice.count; ++i) {
                            names += (i > 0 ? ", " : "") + std::string(choice.names[i]);
                          }
                          return names;
                        },
                    },
                    knob.binding);
}

KnobValue get_knob(const Tuning& tuning, const Knob& knob) {
  // The bindings give mutable references because one accessor serves both ways; this copy keeps
  // the caller's tuning const.
  Tuning copy = tuning;
  return std::visit(Overloaded{
                        [&](double& (*at)(Tuning&)) -> KnobValue { return at(copy); },
                        [&](std::optional<double>& (*at)(Tuning&)) -> KnobValue {
                          if (const auto& number = at(copy)) return *number;
                          return {};
                        },
                        [&](Duration& (*at)(Tuning&)) -> KnobValue { return at(copy); },
                        [&](std::optional<Duration>& (*at)(Tuning&)) -> KnobValue {
                          if (const auto& duration = at(copy)) return *duration;
                          return {};
                        },
                        [&](bool& (*at)(Tuning&)) -> KnobValue { return at(copy); },
                        [&](std::string& (*at)(Tuning&)) -> KnobValue { return at(copy); },
                        [&](const ChoiceBinding& choice) -> KnobValue {
                          const int index = choice.get(copy);
                          if (index < 0 || static_cast<std::size_t>(index) >= choice.count) {
                            return std::to_string(index);
                          }
                          return std::string(choice.names[index]);
                        },
                    },
                    knob.binding);
}

std::optional<Violation> set_knob(Tuning& tuning, const Knob& knob, const KnobValue& value) {
  const auto refuse = [&] {
    return Violation{std::string(knob.key), found_text(value), describe_expected(knob)};
  };
  const auto set_number = [&](auto& target) -> std::optional<Violation> {
    const auto* number = std::get_if<double>(&value);
    if (number == nullptr || !knob.range.contains(*number)) return refuse();
    target = *number;
    return std::nullopt;
  };
  const auto set_duration = [&](auto& target) -> std::optional<Violation> {
    const auto duration = as_duration(value);
    if (!duration || !knob.range.contains(duration->amount)) return refuse();
    target = *duration;
    return std::nullopt;
  };
  const bool unset = std::holds_alternative<std::monostate>(value);
  return std::visit(Overloaded{
                        [&](double& (*at)(Tuning&)) { return set_number(at(tuning)); },
                        [&](std::optional<double>& (*at)(Tuning&)) -> std::optional<Violation> {
                          if (!unset) return set_number(at(tuning));
                          at(tuning).reset();
                          return std::nullopt;
                        },
                        [&](Duration& (*at)(Tuning&)) { return set_duration(at(tuning)); },
                        [&](std::optional<Duration>& (*at)(Tuning&)) -> std::optional<Violation> {
                          if (!unset) return set_duration(at(tuning));
                          at(tuning).reset();
                          return std::nullopt;
                        },
                        [&](bool& (*at)(Tuning&)) -> std::optional<Violation> {
                          const auto* flag = std::get_if<bool>(&value);
                          if (flag == nullptr) return refuse();
                          at(tuning) = *flag;
                          return std::nullopt;
                        },
                        [&](std::string& (*at)(Tuning&)) -> std::optional<Violation> {
                          const auto* text = std::get_if<std::string>(&value);
                          if (text == nullptr) return refuse();
                          at(tuning) = *text;
                          return std::nullopt;
                        },
                        [&](const ChoiceBinding& choice) -> std::optional<Violation> {
                          const auto* text = std::get_if<std::string>(&value);
                          if (text == nullptr) return refuse();
                          const auto* end = choice.names + choice.count;
                          const auto* name = std::find(choice.names, end, *text);
                          if (name == end) return refuse();
                          choice.set(tuning, static_cast<int>(name - choice.names));
                          return std::nullopt;
                        },
                    },
                    knob.binding);
}

std::vector<Violation> check_ranges(const Tuning& tuning) {
  std::vector<Violation> violations;
  Tuning scratch;
  for (const Knob& knob : knobs()) {
    const KnobValue value = get_knob(tuning, knob);
    if (auto violation = set_knob(scratch, knob, value)) violations.push_back(*violation);
  }
  return violations;
}

}  // namespace bushbaby
