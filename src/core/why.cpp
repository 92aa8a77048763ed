#include "bushbaby/core/why.h"

#include "decisions.h"

namespace bushbaby {
namespace {

using detail::Moment;

constexpr Candidate kJumpsInOrder[] = {Candidate::ground_jump, Candidate::coyote_jump,
                                       Candidate::wall_exit, Candidate::air_jump};

Trial& trial_of(Explanation& explanation, Candidate candidate) noexcept {
  return explanation.trials[static_cast<std::size_t>(candidate)];
}

// The trials of the four jumps; whether one of them is taken.
bool explain_jumps(const Moment& moment, Explanation& explanation) noexcept {
  const bool charges = moment.character.charge_held > 0;
  bool taken = false;
  bool pressed_is_used = false;
  for (const Candidate candidate : kJumpsInOrder) {
    Trial& trial = trial_of(explanation, candidate);
    trial = detail::consider(candidate, moment);
    if (charges) {
      trial.hurdle = candidate == Candidate::ground_jump ? Hurdle::charging : Hurdle::not_asked;
      trial.have = moment.character.charge_held;
      trial.need = moment.rules.charge_ticks;
      trial.knob = "jump.charge.time";
      const bool stands = moment.supported || moment.in_grace;
      if (candidate == Candidate::ground_jump && !moment.held.jump && stands) {
        trial.hurdle = Hurdle::none;
        taken = true;
      }
    } else if (pressed_is_used) {
      if (trial.hurdle != Hurdle::none) continue;
      trial.hurdle = Hurdle::beaten;
      trial.knob = {};
    } else if (trial.hurdle == Hurdle::none || trial.hurdle == Hurdle::charging) {
      pressed_is_used = true;
      taken = trial.hurdle == Hurdle::none;
    }
  }
  return taken;
}

// What the jump that is taken changes for the rest of the tick.
void take_off(Moment& moment, const Explanation& explanation, Character& now) noexcept {
  const auto taken = [&explanation](Candidate candidate) {
    return explanation.trials[static_cast<std::size_t>(candidate)].hurdle == Hurdle::none;
  };
  const Rules& rules = moment.rules;
  double speed = rules.launch_speed;
  bool leaves = true;
  if (now.charge_held > 0) {
    speed = detail::charged_launch(now.charge_held, rules);
  } else if (taken(Candidate::wall_exit)) {
    const Trial& trial = explanation.trials[static_cast<std::size_t>(Candidate::wall_exit)];
    const WallExitRules& row = rules.exits[static_cast<std::size_t>(trial.row)];
    if (row.away != 0) moment.run = -detail::exit_side(moment) * row.away;
    now.steer_lock_left = row.steer_lock;
    now.wall_let_go = true;
    speed = row.up;
    leaves = row.up > 0 || row.jump;
  } else if (taken(Candidate::air_jump)) {
    speed = rules.air_launch;
  }
  if (speed > moment.rise && speed > 0) moment.rise = speed;
  moment.launched = leaves;
  if (!leaves) return;
  moment.supported = moment.in_grace = false;
  now.hang_armed = true;
  now.cut_heavy = now.fast_falling = now.glide_armed = false;
  now.dash_left = now.charge_held = 0;
  now.sustain_left = !taken(Candidate::wall_exit) && !taken(Candidate::air_jump) && moment.held.jump
                         ? rules.sustain_ticks
                         : 0;
}

std::string_view gravity_knob(const Moment& moment, bool dashes,
                              const detail::GravityPhase& phase) noexcept {
  const Character& character = moment.character;
  if (moment.supported) return {};
  if (dashes) return "dash.speed";
  if (phase.floats) return character.sustain_left > 0 ? "jump.sustain" : "wall.cling";
  if (moment.rise <= 0 - phase.terminal) {
    if (detail::held_at_wall(moment)) return "wall.slide_speed";
    if (detail::glides(moment)) return "fall.glide.speed";
    return character.fast_falling ? "fall.fast.speed" : "fall.terminal_speed";
  }
  const double band = moment.rules.hang.below_speed;
  if (phase.hangs && moment.rise < band && moment.rise > -band) return "jump.hang.gravity";
  if (moment.in_grace && moment.rules.coyote_gravity != 1) return "jump.coyote_gravity";
  if (moment.rise > 0) return phase.heavy ? "jump.cut.weight" : "jump.gravity";
  return character.fast_falling && phase.weight != 1 ? "fall.fast.factor" : "fall.factor";
}

std::string ticks_text(std::int64_t ticks) {
  return std::to_string(ticks) + (ticks == 1 ? " tick" : " ticks");
}

std::string left_text(LeaveReason reason) {
  switch (reason) {
    case LeaveReason::jumped: return "the ground was left by a jump";
    case LeaveReason::lifted: return "the body was lifted off the ground";
    case LeaveReason::pushed: return "the body was pushed off the ground";
    case LeaveReason::dashed: return "the ground was left by a dash";
    case LeaveReason::walked_off: break;
  }
  return "the ground was walked off";
}

std::string reason_text(const Trial& trial) {
  const std::string have = ticks_text(trial.have);
  const std::string need = ticks_text(trial.need);
  const std::string counts = std::to_string(trial.have) + " of " + std::to_string(trial.need);
  switch (trial.hurdle) {
    case Hurdle::none: return "";
    case Hurdle::not_asked:
      return trial.candidate == Candidate::fast_fall ? "down was not pressed"
                                                     : "no press, now or remembered";
    case Hurdle::beaten: return "an earlier candidate took the press";
    case Hurdle::locked:
      return "locked by " + std::string(name_of(static_cast<StatusKind>(trial.need))) +
             " for another " + have;
    case Hurdle::not_allowed: return "the tuning does not allow it";
    case Hurdle::off: return "the tuning has none";
    case Hurdle::standing: return "the body stands";
    case Hurdle::not_standing: return "the body does not stand";
    case Hurdle::surface: return "the surface does not let it";
    case Hurdle::dashing: return "a dash is under way";
    case Hurdle::charging:
      return trial.need > 0
                 ? "the gauge fills: held for " + have + " of " + std::to_string(trial.need)
                 : "the press fills the gauge first";
    case Hurdle::left_by: return left_text(static_cast<LeaveReason>(trial.have));
    case Hurdle::shut: return "its window of " + need + " closed " + have + " ago";
    case Hurdle::no_wall: return "no wall is touched";
    case Hurdle::let_go: return "the wall was let go";
    case Hurdle::spent: return "a wall on this side was left already";
    case Hurdle::no_row: return "no row of wall.exit fits what is pressed, held and touched";
    case Hurdle::used_up: return counts + " used";
    case Hurdle::too_soon: return have + " since, of " + std::to_string(trial.need);
    case Hurdle::near_ground: return "the press waits for the landing";
    case Hurdle::held: return "the button is held";
    case Hurdle::rising: return "the body rises";
    case Hurdle::not_rising: return "the body does not rise";
    case Hurdle::not_armed: return "no jump is under way that could be cut";
    case Hurdle::under_way: return "it is under way";
    case Hurdle::at_wall: return "the body is held at a wall";
    case Hurdle::launching: break;
  }
  return "the body jumps in this tick; the press waits for the next";
}

}  // namespace

std::string_view name_of(Candidate candidate) noexcept {
  switch (candidate) {
    case Candidate::ground_jump: return "ground jump";
    case Candidate::coyote_jump: return "coyote jump";
    case Candidate::wall_exit: return "wall exit";
    case Candidate::air_jump: return "air jump";
    case Candidate::cut: return "cut";
    case Candidate::fast_fall: return "fast fall";
    case Candidate::dash: break;
  }
  return "dash";
}

std::string describe(const Trial& trial) {
  const std::string name(name_of(trial.candidate));
  std::string knob(trial.knob);
  if (trial.row >= 0) knob = std::string(kListKey) + "." + std::to_string(trial.row + 1);
  const std::string by = knob.empty() ? "" : " (" + knob + ")";
  if (trial.hurdle != Hurdle::none) return "no " + name + ": " + reason_text(trial) + by;
  return name + (trial.remembered ? ", by an earlier press" : "") + by;
}

Explanation explain(const Character& character, const Controls& controls, const Rules& rules,
                    const World& world) noexcept {
  Character now = character;  // as far as what was decided changes what moves it
  Moment moment(now, controls, rules, world);
  detail::take_hold_anew(moment, now);
  Explanation explanation;
  moment.launched = explain_jumps(moment, explanation);
  if (moment.launched) take_off(moment, explanation, now);
  for (const Candidate candidate : {Candidate::cut, Candidate::fast_fall, Candidate::dash}) {
    trial_of(explanation, candidate) = detail::consider(candidate, moment);
  }
  const bool dashes =
      trial_of(explanation, Candidate::dash).hurdle == Hurdle::none || now.dash_left > 0;
  detail::Drive drive;
  detail::find_drive(moment, dashes, drive, &explanation.drive);
  explanation.driven = drive.how != nullptr;
  explanation.drive_target = drive.how == nullptr ? moment.run : drive.target + drive.belt;
  detail::GravityPhase phase;
  detail::find_phase(moment, dashes, phase);
  explanation.gravity = gravity_knob(moment, dashes, phase);
  if (!moment.supported) {
    explanation.gravity_pull = 0 - detail::gravity_stretch(moment.rise, phase, rules).rate;
  }
  return explanation;
}

Availability available(const Character& character, const Controls& held, const Rules& rules,
                       const World& world) noexcept {
  Character ready = character;  // with the button up, so that this is a press
  ready.controls.jump = false;
  ready.buffer_left = ready.wall_buffer_left = 0;
  Controls pressed = held;
  pressed.jump = true;
  const Moment moment(ready, pressed, rules, world);
  detail::take_hold_anew(moment, ready);
  static constexpr JumpKind kKinds[] = {JumpKind::ground, JumpKind::ground, JumpKind::wall,
                                        JumpKind::air};
  Availability answer;
  int rank = -1;
  for (const Candidate candidate : kJumpsInOrder) {
    const Trial trial = detail::consider(candidate, moment);
    answer.possible = trial.hurdle == Hurdle::none || trial.hurdle == Hurdle::charging;
    if (answer.possible) {
      const bool charges = trial.hurdle == Hurdle::charging;
      answer.kind = charges ? JumpKind::charged : kKinds[static_cast<std::size_t>(candidate)];
      answer.trial = trial;
      return answer;
    }
    // Of the refusals the one that says most: what the tuning lacks says least, and that the body
    // does not stand little more.
    const bool plain = trial.hurdle == Hurdle::not_standing || trial.hurdle == Hurdle::standing ||
                       trial.hurdle == Hurdle::no_wall || trial.hurdle == Hurdle::left_by;
    const int says = trial.hurdle == Hurdle::off ? 0 : plain ? 1 : 2;
    if (says >= rank) {
      rank = says;
      answer.trial = trial;
    }
  }
  return answer;
}

double charge_of(const Character& character, const Rules& rules) noexcept {
  return detail::gauge_of(character.charge_held, rules);
}

}  // namespace bushbaby
