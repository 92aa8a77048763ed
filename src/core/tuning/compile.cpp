#include "bushbaby/core/tuning/compile.h"

#include <algorithm>
#include <cmath>

#include "bushbaby/core/tuning/knobs.h"

#include "compiler.h"
#include "core/shape/angles.h"
#include "exits.h"
#include "text.h"

namespace bushbaby {
namespace {

constexpr double kFlushGapPerWidth = 0.001;

// Compiles one tuning: collects what was rounded and what is wrong on the way.
class Compiler {
 public:
  explicit Compiler(const Tuning& tuning, const detail::Within* within = nullptr)
      : tuning_(tuning), within_(within), rate_(tuning.loop.tick_rate) {}

  Compiled compile() {
    result_.violations = check_ranges(tuning_);
    if (result_.ok()) check_combinations();
    if (!result_.ok()) return result_;
    compile_loop_and_body();
    compile_run();
    compile_jump();
    compile_fall();
    compile_wall();
    compile_climb();
    compile_dash();
    compile_drop();
    rules().push_share = tuning_.push.share;
    rules().push_lock = ticks(tuning_.push.lock, "push.lock");
    return result_;
  }

 private:
  Rules& rules() { return result_.rules; }

  // Whole ticks, with a note of what the rounding changed.
  Ticks ticks(const Duration& duration, const std::string& key) {
    const double asked = in_ticks(duration);
    const Ticks used = whole_ticks(asked);
    constexpr double kRoundingNoise = 1e-9;  // a time meant as whole ticks, such as 7/60 s
    if (std::abs(asked - static_cast<double>(used)) > kRoundingNoise) {
      result_.roundings.push_back({key, asked, used, static_cast<double>(used) / rate_});
    }
    return used;
  }

  // The same for locks: what is not nothing lasts a tick at least.
  Ticks lock_ticks(const Duration& duration, const std::string& key) {
    const double asked = in_ticks(duration);
    if (whole_ticks(asked) > 0 || !(duration.amount > 0)) return ticks(duration, key);
    result_.roundings.push_back({key, asked, 1, 1 / rate_});
    return 1;
  }

  [[nodiscard]] double in_ticks(const Duration& duration) const {
    return duration.unit == Duration::Unit::ticks ? duration.amount : duration.amount * rate_;
  }

  void violate(std::string key, Phrase found, Phrase expected) {
    result_.violations.push_back({std::move(key), std::move(found), std::move(expected)});
  }

  // What ranges cannot see: knobs that contradict each other.
  void check_combinations() {
    const Tuning& t = tuning_;
    if (t.loop.integrator == Integrator::exact && !t.loop.gravity_on_launch_tick) {
      violate("loop.gravity_on_launch_tick", "false",
              "true with integrator \"exact\", whose launch tick is like any other");
    }
    if (t.jump.charge.time.amount > 0 && !t.jump.charge.height) {
      violate("jump.charge.height", "nothing", "the height of a jump with a full gauge");
    }
    if (t.jump.charge.time.amount > 0 && t.jump.sustain.amount > 0) {
      violate("jump.sustain", describe(KnobValue(t.jump.sustain)),
              "0 with jump.charge.time: a charged jump is launched on release, and only a held "
              "button sustains");
    }
    if (t.wall.exits.size() > kMostWallExits) {
      violate("wall.exit", std::to_string(t.wall.exits.size()) + " rows",
              "at most " + std::to_string(kMostWallExits));
    }
    for (std::size_t row = 0; row < t.wall.exits.size(); ++row) {
      const WallExit& exit = t.wall.exits[row];
      const bool jumps = detail::exit_buttons(exit.on).jump && exit.up > 0;
      if (exit.first && !jumps) {
        violate(exit_key("wall.exit.first", row), "true",
                "false, or a row that jumps: \"jump\" among its words, and an up");
      }
    }
    const int given = (t.dash.distance ? 1 : 0) + (t.dash.time ? 1 : 0) + (t.dash.speed ? 1 : 0);
    if (t.dash.charges > 0 && given != 2) {
      violate("dash", given == 3 ? "distance, time and speed" : given_dash_keys(),
              "two of dash.distance, dash.time and dash.speed");
    }
  }

  [[nodiscard]] std::string given_dash_keys() const {
    if (tuning_.dash.distance) return "dash.distance alone";
    if (tuning_.dash.time) return "dash.time alone";
    return tuning_.dash.speed ? "dash.speed alone" : "nothing";
  }

  void compile_loop_and_body() {
    rules().tick_rate = rate_;
    rules().dt = 1 / rate_;
    rules().integrator = tuning_.loop.integrator;
    rules().gravity_on_launch_tick = tuning_.loop.gravity_on_launch_tick;
    const Tuning::Body& body = tuning_.body;
    rules().body = Box{{-body.width / 2, 0}, {body.width / 2, body.height}};
    if (body.shape == BodyShape::capsule) {
      rules().body.radius = (body.width < body.height ? body.width : body.height) / 2;
    }
    rules().flush_gap = kFlushGapPerWidth * tuning_.body.width;
  }

  // The rate that takes top speed in a time, if there is one; a time so short that no rate does is
  // refused.
  void take_time(const std::optional<Duration>& time, const std::string& key, double& rate) {
    if (!time) return;
    constexpr double kMostRate = 1e12;  // u/s²
    const double taken = tuning_.run.top_speed / seconds(*time, rate_);
    if (taken <= kMostRate) {
      rate = taken;
    } else {
      violate(key, Quantity{seconds(*time, rate_), Dimension::time},
              "at least " + Phrase(Quantity{tuning_.run.top_speed / kMostRate, Dimension::time}));
    }
  }

  [[nodiscard]] DriveRules compile_drive(const RunDrive& drive, const std::string& key) {
    DriveRules compiled;
    compiled.style = drive.style;
    compiled.rates = drive;
    take_time(drive.reach_time, key + ".reach_time", compiled.rates.accelerate);
    take_time(drive.stop_time, key + ".stop_time", compiled.rates.brake);
    take_time(drive.turn_time, key + ".turn_time", compiled.rates.turn);
    if (drive.overspeed_brake) compiled.overspeed_brake = *drive.overspeed_brake;
    const auto share = [&](const Duration& lag) {
      return detail::decayed_share(1 / (rate_ * seconds(lag, rate_)));
    };
    compiled.accelerate_share = share(drive.accelerate_lag);
    compiled.brake_share = share(drive.brake_lag);
    compiled.turn_share = share(drive.turn_lag);
    return compiled;
  }

  [[nodiscard]] static DriveRules at_sprint(DriveRules drive, const SprintRates& rates) {
    if (rates.accelerate) drive.rates.accelerate = *rates.accelerate;
    if (rates.brake) drive.rates.brake = *rates.brake;
    if (rates.turn) drive.rates.turn = *rates.turn;
    return drive;
  }

  void compile_sprint() {
    const Tuning::Run::Sprint& sprint = tuning_.run.sprint;
    if (!sprint.top_speed) return;
    SprintRules& second = rules().sprint;
    second.exists = true;
    second.when_held = sprint.when == SprintWhen::held;
    second.kept_in_air = sprint.in_air == SprintInAir::kept;
    second.top_speed = *sprint.top_speed;
    second.ground = at_sprint(rules().ground, sprint.ground);
    second.air = at_sprint(rules().air, sprint.air);
  }

  void compile_run() {
    rules().ground_slope = detail::cosine_of_degrees(tuning_.run.steepest_ground);
    const Tuning::Run::Slope& slope = tuning_.run.slope;
    rules().uphill = slope.uphill;
    rules().downhill = slope.downhill;
    rules().stick_depth = slope.stick_depth.value_or(-1);
    rules().ramp_launch = slope.ramp_launch;
    rules().ledge_lift = tuning_.run.ledge_lift;
    rules().corner_nudge = tuning_.jump.corner_nudge;
    rules().top_speed = tuning_.run.top_speed;
    rules().ground = compile_drive(tuning_.run.ground, "run.ground");
    rules().air = compile_drive(tuning_.run.air, "run.air");
    rules().facing = tuning_.run.facing;
    rules().auto_run = tuning_.run.auto_run;
    compile_sprint();
  }

  // The launch speed of another jump under the same gravity, sustained for N ticks.
  double launch_for(double height, const char* key, Ticks sustained = 0) {
    const JumpAnswer jump =
        derive_jump({height, {}, {}, rules().rise_gravity}, jump_loop(tuning_),
                    {tuning_.jump.hang, static_cast<double>(sustained) / rate_});
    if (!jump.ok()) violate(key, jump.refusal.found, jump.refusal.expected);
    return jump.launch_speed;
  }

  // In zones: gravity and launch speed are what they are outside, as far as no zone says otherwise.
  // A height or a time is had by the launch speed; both by gravity too, unless that is given.
  [[nodiscard]] JumpAnswer jump_within() const {
    const Tuning::Jump& knobs = tuning_.jump;
    const bool height = within_->has("jump.height");
    const bool time = within_->has("jump.apex_time");
    const bool gravity = within_->has("jump.gravity");
    JumpAnswer jump{gravity ? *knobs.gravity : within_->outside.rise_gravity,
                    within_->outside.launch_speed,
                    {}};
    if (within_->has("jump.launch_speed")) {
      jump.launch_speed = *knobs.launch_speed;
      return jump;
    }
    if (!height && !time) return jump;
    JumpAsk ask;
    if (height) ask.height = knobs.height;
    if (time) ask.apex_time = jump_ask(tuning_).apex_time;
    if (gravity || !(height && time)) ask.gravity = jump.gravity;
    return derive_jump(ask, jump_loop(tuning_), jump_shape(tuning_));
  }

  void compile_jump() {
    const Tuning::Jump& knobs = tuning_.jump;
    rules().sustain_ticks = ticks(knobs.sustain, "jump.sustain");
    const JumpAnswer jump = within_ != nullptr ? jump_within()
                                               : derive_jump(jump_ask(tuning_), jump_loop(tuning_),
                                                             jump_shape(tuning_));
    if (!jump.ok()) {
      violate("jump", jump.refusal.found, jump.refusal.expected);
      return;
    }
    constexpr double kMostGravity = 1e9;
    constexpr double kMostLaunch = 1e6;
    if (jump.gravity > kMostGravity || jump.launch_speed > kMostLaunch) {
      violate("jump",
              Phrase("gravity ") + Quantity{jump.gravity, Dimension::acceleration, true} +
                  " and launch speed " + Quantity{jump.launch_speed, Dimension::speed, true},
              Phrase("at most ") + Quantity{kMostGravity, Dimension::acceleration} + " and " +
                  Quantity{kMostLaunch, Dimension::speed});
      return;
    }
    rules().rise_gravity = jump.gravity;
    rules().launch_speed = jump.launch_speed;
    rules().may_jump = knobs.allowed;
    rules().cut_style = knobs.cut.style;
    rules().cut_keep = knobs.cut.keep;
    rules().cut_weight = knobs.cut.weight;
    rules().cut_from_tick = std::max<Ticks>(1, ticks(knobs.cut.min_hold, "jump.cut.min_hold"));
    rules().coyote_ticks = ticks(knobs.coyote, "jump.coyote");
    rules().coyote_gravity = knobs.coyote_gravity;
    rules().buffer_ticks = ticks(knobs.buffer, "jump.buffer");
    rules().hang = knobs.hang;
    compile_charge();
    compile_air_jumps();
  }

  void compile_charge() {
    const Tuning::Jump::Charge& charge = tuning_.jump.charge;
    rules().charge_launch = rules().launch_speed;
    if (!(charge.time.amount > 0)) return;
    rules().charge_ticks = lock_ticks(charge.time, "jump.charge.time");
    const bool as_outside = within_ != nullptr && !within_->has("jump.charge.height") &&
                            within_->outside.charge_ticks > 0;
    rules().charge_launch = as_outside ? within_->outside.charge_launch
                                       : launch_for(*charge.height, "jump.charge.height");
    rules().charge_tap = ticks(charge.tap, "jump.charge.tap");
    rules().charge_even_in = charge.even_in;
    rules().charge_bend = charge.bend;
    if (rules().charge_tap >= rules().charge_ticks) {
      violate("jump.charge.tap", describe(KnobValue(charge.tap)), "less than jump.charge.time");
    }
    rules().charge_may_run = charge.may_run;
    if (rules().charge_launch < rules().launch_speed) {
      violate("jump.charge.height", Quantity{*charge.height, Dimension::length},
              "no less than the height of a plain jump");
    }
  }

  void compile_air_jumps() {
    const Tuning::Jump::AirJumps& air = tuning_.jump.air_jumps;
    rules().air_jumps = air.unlimited ? kUnlimited : air.count;
    rules().air_sustain = ticks(air.sustain, "jump.air_jumps.sustain");
    const bool as_outside = within_ != nullptr && !within_->has("jump.air_jumps.height");
    rules().air_launch = rules().launch_speed;
    if (air.height) {
      rules().air_launch =
          as_outside ? within_->outside.air_launch
                     : launch_for(*air.height, "jump.air_jumps.height", rules().air_sustain);
    }
    rules().air_interval = ticks(air.interval, "jump.air_jumps.interval");
    rules().air_restore_on_wall = air.restore_on_wall;
    rules().air_restore_on_bounce = air.restore_on_bounce;
    rules().walk_off_costs = air.walk_off_costs;
    rules().near_ground = tuning_.jump.near_ground;
  }

  void compile_fall() {
    const Tuning::Fall& fall = tuning_.fall;
    rules().fall_gravity = rules().rise_gravity * fall.factor;
    if (fall.terminal_speed) rules().terminal_speed = *fall.terminal_speed;
    rules().fall_overspeed_brake = fall.overspeed_brake;
    rules().fast_speed = fall.fast.speed.value_or(0);
    rules().fast_factor = fall.fast.factor;
    rules().fast_only_falling = fall.fast.only_falling;
    if (fall.glide.speed) rules().glide_speed = *fall.glide.speed;
    rules().glide_brake = fall.glide.brake;
  }

  void compile_wall() {
    const Tuning::Wall& wall = tuning_.wall;
    rules().wall_grab = wall.grab;
    if (wall.slide_speed) rules().slide_speed = *wall.slide_speed;
    rules().slide_brake = wall.slide_brake;
    rules().cling_ticks = ticks(wall.cling, "wall.cling");
    rules().wall_coyote_ticks = ticks(wall.coyote, "wall.coyote");
    rules().wall_buffer_ticks =
        wall.buffer ? ticks(*wall.buffer, "wall.buffer") : rules().buffer_ticks;
    for (std::size_t row = 0; row < wall.exits.size(); ++row) {
      rules().exits[row] = compile_exit(wall.exits[row], row);
      rules().exit_first = rules().exit_first || wall.exits[row].first;
    }
    rules().exit_count = static_cast<std::int32_t>(wall.exits.size());
  }

  void compile_climb() {
    const Tuning::Wall::Climb& climb = tuning_.wall.climb;
    if (!climb.up_speed) return;
    rules().climb_ticks =
        climb.reserve ? lock_ticks(*climb.reserve, "wall.climb.reserve") : kForEver;
    rules().climb_up = *climb.up_speed;
    rules().climb_down = climb.down_speed;
    rules().climb_rate = climb.rate;
    rules().climb_over = climb.over;
    rules().climb_stays = climb.stays;
  }

  static std::string exit_key(const char* knob, std::size_t row) {
    return KnobPlace{find_knob(knob), row}.key();
  }

  WallExitRules compile_exit(const WallExit& exit, std::size_t row) {
    const auto key = [row](const char* knob) { return exit_key(knob, row); };
    const detail::ExitButtons buttons = detail::exit_buttons(exit.on);
    WallExitRules compiled;
    compiled.jump = buttons.jump;
    compiled.horizontal = static_cast<std::int8_t>(buttons.horizontal);
    compiled.vertical = static_cast<std::int8_t>(buttons.vertical);
    compiled.at_top = exit.where == WallPlace::top;
    compiled.hold = ticks(exit.hold, key("wall.exit.hold"));
    compiled.away = exit.away;
    compiled.up = exit.up;
    compiled.steer_lock = lock_ticks(exit.steer_lock, key("wall.exit.steer_lock"));
    compiled.steer_fade = ticks(exit.steer_fade, key("wall.exit.steer_fade"));
    compiled.sustain = ticks(exit.sustain, key("wall.exit.sustain"));
    compiled.first = exit.first;
    compiled.restore = exit.restore;
    compiled.same_wall = exit.same_wall;
    return compiled;
  }

  void compile_drop() {
    if (tuning_.drop.by == DropBy::nothing) return;
    rules().drop_by = tuning_.drop.by;
    rules().drop_window = lock_ticks(tuning_.drop.window, "drop.window");
  }

  void compile_dash() {
    const Tuning::Dash& dash = tuning_.dash;
    if (dash.charges == 0) return;
    rules().dash_charges = dash.charges;
    // Of time and distance the distance is kept when the time is rounded.
    const Duration time = dash.time ? *dash.time : Duration{*dash.distance / *dash.speed};
    rules().dash_ticks = lock_ticks(time, "dash.time");
    const double lasts = static_cast<double>(rules().dash_ticks) * rules().dt;
    rules().dash_speed = dash.distance ? *dash.distance / lasts : *dash.speed;
    rules().dash_direction = dash.direction;
    rules().dash_keep = dash.keep;
    rules().dash_cooldown = ticks(dash.cooldown, "dash.cooldown");
    rules().dash_buffer = ticks(dash.buffer, "dash.buffer");
    rules().dash_jump_out = dash.jump_out;
    rules().dash_restore_on_wall = dash.restore_on_wall;
    rules().dash_restore_on_bounce = dash.restore_on_bounce;
  }

  const Tuning& tuning_;
  const detail::Within* within_;
  double rate_;
  Compiled result_;
};

}  // namespace

Tuning at_tick_rate(Tuning tuning, double tick_rate) {
  for (const KnobPlace& place : places_of(tuning)) {
    const KnobValue value = get_knob(tuning, *place.knob, place.row);
    const auto* duration = std::get_if<Duration>(&value);
    if (duration == nullptr || duration->unit != Duration::Unit::ticks) continue;
    const Duration same_length{seconds(*duration, tuning.loop.tick_rate)};
    // A duration out of range stays as it is, for `compile` to refuse.
    (void)set_knob(tuning, *place.knob, same_length, place.row);
  }
  tuning.loop.tick_rate = tick_rate;
  return tuning;
}

std::string describe(const Rounding& rounding, double tick_rate) {
  const auto rounded = [](double number, double steps) {
    return detail::text_of(std::floor(number * steps + 0.5) / steps);
  };
  return rounding.key + " is " + rounded(rounding.asked_ticks, 1e4) + " ticks at " +
         detail::text_of(tick_rate) + " Hz: using " + std::to_string(rounding.used_ticks) +
         (rounding.used_ticks == 1 ? " tick = " : " ticks = ") +
         rounded(rounding.used_seconds, 1e4) + " s";
}

JumpAsk jump_ask(const Tuning& tuning) noexcept {
  JumpAsk ask;
  ask.height = tuning.jump.height;
  if (tuning.jump.apex_time) {
    ask.apex_time = seconds(*tuning.jump.apex_time, tuning.loop.tick_rate);
  }
  ask.launch_speed = tuning.jump.launch_speed;
  ask.gravity = tuning.jump.gravity;
  return ask;
}

JumpLoop jump_loop(const Tuning& tuning) noexcept {
  return {tuning.loop.integrator, tuning.loop.tick_rate, tuning.loop.gravity_on_launch_tick};
}

JumpShape jump_shape(const Tuning& tuning) noexcept {
  const double rate = tuning.loop.tick_rate;
  const double sustained =
      static_cast<double>(whole_ticks(seconds(tuning.jump.sustain, rate) * rate)) / rate;
  return {tuning.jump.hang, sustained};
}

Compiled compile(const Tuning& tuning) { return Compiler(tuning).compile(); }

Compiled detail::compile_within(const Within& within) {
  return Compiler(within.tuning, &within).compile();
}

}  // namespace bushbaby
