#include "bushbaby/core/tuning/zones.h"

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/core/world/level.h"

#include "compiler.h"
#include "core/shape/angles.h"
#include "core/shape/arithmetic.h"

namespace bushbaby {
namespace {

using detail::Within;

// ---- which zones a body can be in at once -------------------------------------------------------

// The places of a body's centre at which it may be in a zone, however it stands.
Box reach_of(const Zone& zone, const Tuning& tuning) {
  const double half_height = tuning.body.height / 2;
  double more = zone.traits.exit_margin;
  if (zone.traits.contains == Contains::feet) more += half_height;
  if (zone.traits.contains == Contains::any_part)
    more += std::hypot(half_height, tuning.body.width / 2);
  return detail::grown(bounds_of(zone), more);
}

Box common_of(const Box& a, const Box& b) {
  return {{std::max(a.lo.x, b.lo.x), std::max(a.lo.y, b.lo.y)},
          {std::min(a.hi.x, b.hi.x), std::min(a.hi.y, b.hi.y)}};
}

// Lists every combination, smaller ones before those that hold them.
class Combinations {
 public:
  Combinations(const std::vector<Zone>& zones, const Tuning& tuning) {
    if (zones.size() >= kMostCombinations) {  // each alone is one already
      all.resize(kMostCombinations, {0});
      return;
    }
    for (const Zone& zone : zones) reaches_.push_back(reach_of(zone, tuning));
    for (ZoneId zone = 0; zone < zones.size() && !excess(); ++zone) {
      go_on({zone}, reaches_[zone]);
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const auto& a, const auto& b) { return a.size() < b.size(); });
  }

  std::vector<std::vector<ZoneId>> all;
  std::vector<ZoneId> too_many;  // at once
  [[nodiscard]] bool excess() const { return !too_many.empty() || all.size() >= kMostCombinations; }

 private:
  void go_on(const std::vector<ZoneId>& zones, const Box& common) {
    if (zones.size() > kMostZones) {
      too_many = zones;
      return;
    }
    all.push_back(zones);
    for (ZoneId next = zones.back() + 1; next < reaches_.size() && !excess(); ++next) {
      if (!detail::touch(common, reaches_[next])) continue;
      std::vector<ZoneId> more = zones;
      more.push_back(next);
      go_on(more, common_of(common, reaches_[next]));
    }
  }

  std::vector<Box> reaches_;
};

// ---- what a tuning is in some of them -----------------------------------------------------------

// The tuning with every knob that follows from others made concrete.
Tuning concrete(Tuning tuning, const Rules& rules) {
  Tuning::Jump& jump = tuning.jump;
  const Apex apex =
      predict_apex(rules.launch_speed, rules.rise_gravity, jump_loop(tuning), jump_shape(tuning));
  if (!jump.height) jump.height = apex.height;
  if (!jump.apex_time) jump.apex_time = Duration{apex.time};
  jump.gravity = rules.rise_gravity;
  jump.launch_speed = rules.launch_speed;
  const auto fix = [](RunDrive& drive, const DriveRules& fixed) {
    static_cast<RunRates&>(drive) = fixed.rates;
    drive.reach_time = drive.stop_time = drive.turn_time = std::nullopt;
  };
  fix(tuning.run.ground, rules.ground);
  fix(tuning.run.air, rules.air);
  Tuning::Dash& dash = tuning.dash;
  if (dash.charges > 0) {
    dash.time = Duration{static_cast<double>(rules.dash_ticks), Duration::Unit::ticks};
    dash.distance = rules.dash_speed * static_cast<double>(rules.dash_ticks) * rules.dt;
    dash.speed = rules.dash_speed;
  }
  return tuning;
}

// A dash is reported by two of its three: the time stays, unless it is the one that changes.
void settle_dash(Within& within) {
  Tuning::Dash& dash = within.tuning.dash;
  if (dash.charges == 0 || !dash.distance || !dash.time || !dash.speed) return;
  if (within.has("dash.speed") && !within.has("dash.distance")) {
    dash.distance.reset();
  } else {
    dash.speed.reset();
  }
}

bool is_fixed(std::string_view key) {
  for (const std::string_view start : {"loop.", "body."}) {
    if (key.substr(0, start.size()) == start) return true;
  }
  return key == "name";
}

KnobValue value_of(const Override& change) {
  return std::visit([](const auto& value) { return KnobValue(value); }, change.value);
}

// Makes the change, or says why it cannot be made.
std::optional<Violation> make_change(const Override& change, Within& within) {
  const auto place = find_place(change.knob);
  if (!place || !place->knob->has_row(within.tuning, place->row)) {
    return Violation{change.knob, "nothing of that name", "a knob of the tuning"};
  }
  const Knob& knob = *place->knob;
  if (is_fixed(knob.key)) {
    return Violation{change.knob, "a change",
                     "another knob: those of the loop and of the body are the same everywhere"};
  }
  KnobValue value = value_of(change);
  if (change.scales) {
    const auto* factor = std::get_if<double>(&value);
    if (factor == nullptr) return Violation{change.knob, describe(value), "a number, as a factor"};
    const KnobValue now = get_knob(within.tuning, knob, place->row);
    if (const auto* number = std::get_if<double>(&now)) {
      value = *number * *factor;
    } else if (const auto* duration = std::get_if<Duration>(&now)) {
      value = Duration{duration->amount * *factor, duration->unit};
    } else {
      return Violation{change.knob,
                       std::holds_alternative<std::monostate>(now) ? "nothing to multiply"
                                                                   : "no number to multiply",
                       "a value in its place: the tuning has no number there"};
    }
  }
  auto fault = set_knob(within.tuning, knob, value, place->row);
  if (!fault) within.overridden.insert(std::string(knob.key));
  return fault;
}

// ---- what only zones have -----------------------------------------------------------------------

void write_turning(const Turning& turning, double tick_rate, TurnRules& rules) {
  const double degrees = turning.rate / tick_rate;
  constexpr double kQuarter = 90;  // faster than this in a tick is at once
  rules.to = turning.to;
  rules.leads = true;
  rules.up = {-turning.down.x, -turning.down.y};
  rules.point = turning.point;
  rules.at_once = !(degrees < kQuarter);
  if (!rules.at_once) {
    rules.cosine = detail::cosine_of_degrees(degrees);
    rules.sine = detail::sine_of_degrees(degrees);
  }
  rules.speed_turns = turning.speed_turns;
  rules.by_screen = turning.by_screen;
}

std::optional<Violation> fault_of(const Turning& turning) {
  if (turning.to == Turning::To::nothing) return std::nullopt;
  constexpr double kRounding = 1e-9;
  const double size = std::hypot(turning.down.x, turning.down.y);
  if (!(std::abs(size - 1) < kRounding)) return Violation{"down", "no unit vector", "one"};
  if (!(turning.rate > 0)) {
    return Violation{"turn_rate", Quantity{turning.rate, Dimension::number}, "more than 0"};
  }
  return std::nullopt;
}

std::optional<Violation> fault_of(const Fluid& fluid) {
  struct Check {
    const char* key;
    double value;
  };
  for (const Check& check :
       {Check{"fluid.buoyancy", fluid.buoyancy}, Check{"fluid.drag", fluid.drag},
        Check{"fluid.dive", fluid.dive}, Check{"fluid.stroke.height", fluid.stroke},
        Check{"fluid.stroke.every", fluid.stroke_every.amount},
        Check{"fluid.exit_jump", fluid.exit_jump}}) {
    constexpr double kMost = 1e6;
    if (!(check.value >= 0 && check.value <= kMost)) {
      return Violation{check.key, Quantity{check.value, Dimension::number}, "0 to 1000000"};
    }
  }
  if (fluid.dive > 0 && fluid.drag == 0) {
    return Violation{"fluid.dive", Quantity{fluid.dive, Dimension::speed},
                     "0 without fluid.drag, which leads the speed towards it"};
  }
  return std::nullopt;
}

// Speeds of leaps and strokes are those of jumps of these heights: of a leap under the character's
// own gravity and with its hang band, of a stroke, which never hangs, under the gravity of the
// zone.
std::optional<Violation> write_fluid(const Fluid& fluid, const Tuning& tuning, const Rules& outside,
                                     Rules& rules) {
  FluidRules& m = rules.fluid;
  m = {};  // nothing is left of one of lower priority
  m.exists = true;
  m.restores = fluid.restores;
  m.buoyancy = fluid.buoyancy;
  m.drag = fluid.drag;
  m.drag_share = detail::decayed_share(fluid.drag / rules.tick_rate);
  m.current = fluid.current;
  m.dive = fluid.dive;
  m.stroke_every = whole_ticks(seconds(fluid.stroke_every, rules.tick_rate) * rules.tick_rate);
  const auto launch = [&](double height, double gravity, const Hang& hang, const char* key,
                          double& speed) -> std::optional<Violation> {
    if (height == 0) return std::nullopt;
    const JumpAnswer answer = derive_jump({height, {}, {}, gravity}, jump_loop(tuning), {hang, 0});
    if (!answer.ok()) return Violation{key, answer.refusal.found, answer.refusal.expected};
    speed = answer.launch_speed;
    return std::nullopt;
  };
  if (auto fault =
          launch(fluid.stroke, rules.rise_gravity, {}, "fluid.stroke.height", m.stroke_speed)) {
    return fault;
  }
  return launch(fluid.exit_jump, outside.rise_gravity, outside.hang, "fluid.exit_jump",
                m.exit_jump_speed);
}

// ---- the book -----------------------------------------------------------------------------------

// Makes the rules of combinations.
class BookMaker {
 public:
  BookMaker(const Tuning& tuning, const std::vector<Zone>& zones)
      : zones_(zones), outside_(compile(tuning)) {
    for (const Violation& violation : outside_.violations) {
      violations.push_back({{}, std::nullopt, violation});
    }
    if (!outside_.ok()) return;
    concrete_ = concrete(tuning, outside_.rules);
    for (ZoneId zone = 0; zone < zones.size(); ++zone) ranking.push_back(zone);
    // The last one of the highest priority has the last word.
    std::stable_sort(ranking.begin(), ranking.end(), [&](ZoneId a, ZoneId b) {
      return zones[a].priority != zones[b].priority ? zones[a].priority > zones[b].priority : a > b;
    });
    turns_ = std::any_of(zones.begin(), zones.end(),
                         [](const Zone& zone) { return zone.turning.to != Turning::To::nothing; });
    check_zones();
  }

  std::vector<ZoneViolation> violations;
  std::vector<ZoneId> ranking;

  // The rules without zones: where some turn a body, it stands upright without them.
  [[nodiscard]] Rules rules_outside() const {
    Rules rules = outside_.rules;
    if (turns_) rules.turn.to = Turning::To::direction;
    return rules;
  }

  Rules rules_in(const std::vector<ZoneId>& zones) {
    Within within{concrete_, outside_.rules, {}};
    std::vector<ZoneId> in_order = zones;
    std::sort(in_order.begin(), in_order.end(), [this](ZoneId a, ZoneId b) {
      return zones_[a].priority != zones_[b].priority ? zones_[a].priority < zones_[b].priority
                                                      : a < b;
    });
    Rules rules = rules_outside();
    bool fine = true;
    for (const ZoneId zone : in_order) {
      const std::vector<Override>& overrides = zones_[zone].overrides;
      for (std::size_t i = 0; i < overrides.size(); ++i) {
        auto fault = make_change(overrides[i], within);
        if (!fault) continue;
        fine = false;
        // What one zone alone is wrong about has been reported it alone.
        if (zones.size() == 1) violations.push_back({{zone}, i, std::move(*fault)});
      }
    }
    if (!within.overridden.empty() && fine) {
      settle_dash(within);
      const Compiled compiled = detail::compile_within(within);
      for (const Violation& violation : compiled.violations) {
        violations.push_back({zones, std::nullopt, violation});
      }
      const TurnRules upright = rules.turn;
      rules = compiled.rules;
      rules.turn = upright;
    }
    for (const ZoneId zone : in_order) {
      const Zone& each = zones_[zone];
      if (each.turning.to != Turning::To::nothing) {
        write_turning(each.turning, rules.tick_rate, rules.turn);
      }
      if (!each.fluid) continue;
      auto fault = write_fluid(*each.fluid, within.tuning, outside_.rules, rules);
      rules.fluid.exit_jump_pull = gravity_without_fluids(zones) / rules.rise_gravity;
      if (fault && zones.size() == 1) {
        violations.push_back({{zone}, std::nullopt, std::move(*fault)});
      }
    }
    return rules;
  }

 private:
  // What pulls at whoever leaps: as if the zones of fluids were not there.
  double gravity_without_fluids(std::vector<ZoneId> zones) {
    const auto is_fluid = [this](ZoneId zone) { return zones_[zone].fluid.has_value(); };
    zones.erase(std::remove_if(zones.begin(), zones.end(), is_fluid), zones.end());
    if (zones.empty()) return outside_.rules.rise_gravity;
    const std::size_t reported = violations.size();
    const double gravity = rules_in(zones).rise_gravity;
    violations.erase(violations.begin() + static_cast<std::ptrdiff_t>(reported), violations.end());
    return gravity;  // what is wrong with those zones is reported them
  }

  void check_zones() {
    const auto add = [this](ZoneId zone, std::optional<Violation> fault) {
      if (fault) violations.push_back({{zone}, std::nullopt, std::move(*fault)});
    };
    for (ZoneId zone = 0; zone < zones_.size(); ++zone) {
      const Zone& each = zones_[zone];
      add(zone, fault_of(each.turning));
      if (each.fluid) add(zone, fault_of(*each.fluid));
      if (!(each.traits.exit_margin >= 0)) {
        add(zone, Violation{"exit_margin", Quantity{each.traits.exit_margin, Dimension::length},
                            "0 or more"});
      }
    }
  }

  const std::vector<Zone>& zones_;
  Compiled outside_;
  Tuning concrete_;
  bool turns_ = false;
};

ZoneSet set_of(const std::vector<ZoneId>& zones) {
  ZoneSet set = no_zones();
  std::copy(zones.begin(), zones.end(), set.begin());
  return set;
}

}  // namespace

CompiledBook compile_book(const Tuning& tuning, const std::vector<Zone>& zones) {
  CompiledBook result;
  BookMaker maker(tuning, zones);
  result.violations = std::move(maker.violations);
  if (!result.ok()) return result;
  const Combinations combinations(zones, tuning);
  if (!combinations.too_many.empty()) {
    result.violations.push_back(
        {combinations.too_many,
         std::nullopt,
         {"zone", std::to_string(combinations.too_many.size()) + " that a body can be in at once",
          "at most " + std::to_string(kMostZones)}});
  } else if (combinations.excess()) {
    result.violations.push_back(
        {combinations.all.back(),
         std::nullopt,
         {"zone", std::to_string(kMostCombinations) + " combinations or more",
          "fewer: zones that overlap one another less"}});
  }
  if (!result.ok()) return result;
  std::vector<Rulebook::Entry> entries{{no_zones(), maker.rules_outside()}};
  for (const std::vector<ZoneId>& zones_at_once : combinations.all) {
    entries.push_back({set_of(zones_at_once), maker.rules_in(zones_at_once)});
    // What is wrong with a zone alone would be reported each of its combinations again.
    if (!maker.violations.empty() && zones_at_once.size() > 1) break;
  }
  result.violations = std::move(maker.violations);
  if (result.ok()) result.book = Rulebook(std::move(entries), std::move(maker.ranking));
  return result;
}

CompiledBook compile_in(const Tuning& tuning, const std::vector<Zone>& zones,
                        const std::vector<ZoneId>& within) {
  CompiledBook result;
  BookMaker maker(tuning, zones);
  if (maker.violations.empty()) result.book = Rulebook(maker.rules_in(within));
  result.violations = std::move(maker.violations);
  return result;
}

}  // namespace bushbaby
