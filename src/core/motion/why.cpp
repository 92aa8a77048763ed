#include "bushbaby/core/motion/why.h"

#include <limits>

#include "tick.h"

namespace bushbaby {
namespace {

// The jumps in the order in which they are tried, and what each is when it happens.
struct JumpCandidate {
  Candidate candidate;
  JumpKind kind;
};
constexpr JumpCandidate kJumpsInOrder[] = {
    {Candidate::ground_jump, JumpKind::ground}, {Candidate::coyote_jump, JumpKind::ground},
    {Candidate::wall_exit, JumpKind::wall},     {Candidate::exit_jump, JumpKind::exit_jump},
    {Candidate::stroke, JumpKind::stroke},      {Candidate::air_jump, JumpKind::air}};

std::string ticks_text(std::int64_t ticks) {
  return std::to_string(ticks) + (ticks == 1 ? " tick" : " ticks");
}

std::string left_text(LeaveReason reason) {
  switch (reason) {
    case LeaveReason::jumped: return "the ground was left by jumping";
    case LeaveReason::lifted: return "the body was lifted off the ground";
    case LeaveReason::pushed: return "the body was pushed off the ground";
    case LeaveReason::dashed: return "the ground was left by a dash";
    case LeaveReason::climbed: return "the ground was left by climbing";
    case LeaveReason::dropped: return "the ground was dropped through";
    case LeaveReason::walked_off: break;
  }
  return "it walked off the ground";
}

std::string reason_text(const Trial& trial, const std::string& surface) {
  const std::string have = ticks_text(trial.have);
  const std::string need = ticks_text(trial.need);
  const std::string counts = std::to_string(trial.have) + " of " + std::to_string(trial.need);
  switch (trial.hurdle) {
    case Hurdle::none: return "";
    case Hurdle::not_asked:
      if (trial.candidate == Candidate::climb) return "neither up nor down is held";
      if (trial.candidate == Candidate::drop) return "nothing pressed triggers it";
      return trial.candidate == Candidate::fast_fall ? "down was not pressed"
                                                     : "no press, now or buffered";
    case Hurdle::still_held: return "held since an earlier press: a new press is needed";
    case Hurdle::beaten: return "another action took it";
    case Hurdle::locked:
      return "locked by " + std::string(name_of(static_cast<StatusKind>(trial.need))) +
             (trial.have == kForEver ? " until unlocked" : " for another " + have) +
             (trial.surface == kNoSurface
                  ? ""
                  : ", since " + surface + (trial.by_zone ? " was entered" : " was touched"));
    case Hurdle::not_allowed: return "the tuning does not allow it";
    case Hurdle::off: return "off in the tuning";
    case Hurdle::standing: return "grounded";
    case Hurdle::not_standing: return "not grounded";
    case Hurdle::surface:
      return surface +
             (trial.candidate == Candidate::drop ? " lets nothing through" : " does not let it");
    case Hurdle::dashing: return "dashing";
    case Hurdle::charging:
      return trial.need > 0 ? "charging: held for " + have + " of " + std::to_string(trial.need)
                            : "the press charges first";
    case Hurdle::left_by: return left_text(static_cast<LeaveReason>(trial.have));
    case Hurdle::shut: return "its window of " + need + " closed " + have + " ago";
    case Hurdle::no_wall: return "no wall is touched";
    case Hurdle::wall_released: return "the wall was released";
    case Hurdle::spent: return "a wall on this side was already used";
    case Hurdle::no_row: return "no wall.exit row matches what is pressed, held and touched";
    case Hurdle::releases: return "the press releases the wall";
    case Hurdle::not_pushed: return "the direction towards the wall is not held";
    case Hurdle::used_up:
      return trial.candidate == Candidate::climb ? "its reserve of " + need + " is used up"
                                                 : counts + " used";
    case Hurdle::too_soon: return have + " since, of " + std::to_string(trial.need);
    case Hurdle::near_ground: return "the press waits for the landing";
    case Hurdle::held: return "the button is held";
    case Hurdle::rising: return trial.candidate == Candidate::climb ? "rising faster" : "rising";
    case Hurdle::not_rising: return "not rising";
    case Hurdle::not_armed: return "no jump to cut";
    case Hurdle::under_way: return "already under way";
    case Hurdle::on_wall: return "on a wall";
    case Hurdle::swimming: return "swimming";
    case Hurdle::not_swimming: return "not swimming";
    case Hurdle::under_water: return "its head is not out of the fluid";
    case Hurdle::drops: return "the press drops through the platform";
    case Hurdle::launching: break;
  }
  return trial.candidate == Candidate::dash
             ? "the body jumps in this tick; the press waits for the next"
             : "the body jumps in this tick";
}

}  // namespace

std::string_view name_of(Candidate candidate) noexcept {
  switch (candidate) {
    case Candidate::drop: return "drop through";
    case Candidate::ground_jump: return "ground jump";
    case Candidate::coyote_jump: return "coyote jump";
    case Candidate::wall_exit: return "wall exit";
    case Candidate::exit_jump: return "exit jump";
    case Candidate::stroke: return "stroke";
    case Candidate::air_jump: return "air jump";
    case Candidate::cut: return "cut";
    case Candidate::fast_fall: return "fast fall";
    case Candidate::dash: return "dash";
    case Candidate::climb: break;
  }
  return "climb";
}

std::string describe(const Trial& trial, std::string_view surface) {
  const std::string name(name_of(trial.candidate));
  std::string knob(trial.knob);
  if (trial.row >= 0) knob = "wall.exit." + std::to_string(trial.row + 1);
  const std::string by = knob.empty() ? "" : " (" + knob + ")";
  if (trial.hurdle != Hurdle::none) {
    const std::string what(surface.empty() ? "the surface" : surface);
    return "no " + name + ": " + reason_text(trial, what) + by;
  }
  return name + (trial.remembered ? ", buffered" : "") + by;
}

Explanation explain(const Character& character, const Controls& controls, const Rules& rules,
                    const World& world) noexcept {
  Explanation book;
  Character now = character;
  const detail::Frame frame = detail::Frame::of(character.up, character.feet);
  if (frame.turned) detail::see_in(frame, now);
  Events events;
  detail::Tick tick(now, controls, rules, world, frame, events);
  tick.book = &book;
  detail::begin_ride(tick);
  detail::begin(tick);
  detail::decide(tick);
  return book;
}

Availability available(const Character& character, const Controls& held, const Rules& rules,
                       const World& world) noexcept {
  Character ready = character;  // with the button up, so that this is a press
  ready.controls.jump = false;
  ready.buffer_left = ready.wall_buffer_left = 0;
  Controls pressed = held;
  pressed.jump = true;
  pressed.dash = false;
  const Explanation book = explain(ready, pressed, rules, world);
  Availability answer;
  if (rules.drop_by == DropBy::down_jump && book.happens(Candidate::drop)) {
    answer.trial.hurdle = Hurdle::drops;
    return answer;
  }
  int rank = -1;
  for (const auto& [candidate, kind] : kJumpsInOrder) {
    Trial trial = book.of(candidate);
    if (candidate == Candidate::wall_exit && trial.hurdle == Hurdle::none) {
      // A row that only releases is no jump; if it is pressed for, nothing else is.
      const WallExitRules& row = rules.exits[static_cast<std::size_t>(trial.row)];
      if (!row.jumps()) trial.hurdle = Hurdle::releases;
      if (!row.jumps() && row.jump) return {false, JumpKind::wall, trial};
    }
    const bool charges = trial.hurdle == Hurdle::charging;
    answer.possible = trial.hurdle == Hurdle::none || charges;
    if (answer.possible) {
      answer.kind = charges ? JumpKind::charged : kind;
      answer.trial = trial;
      return answer;
    }
    // Of the refusals the one that says most: what forbids any jump before all others; what the
    // tuning lacks says least, and that the body does not stand little more.
    const bool plain = trial.hurdle == Hurdle::not_standing || trial.hurdle == Hurdle::standing ||
                       trial.hurdle == Hurdle::no_wall || trial.hurdle == Hurdle::left_by ||
                       trial.hurdle == Hurdle::not_swimming;
    const int says = trial.hurdle == Hurdle::off ? 0 : plain ? 1 : 2;
    if (says >= rank) {
      rank = says;
      answer.trial = trial;
    }
  }
  const detail::Frame upright;  // what is asked here asks for no place
  const detail::Moment moment(ready, pressed, rules, world, upright);
  const Trial ban = detail::find_ban(answer.trial.candidate, moment, true);
  if (ban.hurdle != Hurdle::none) answer.trial = ban;
  return answer;
}

Solidity solidity_of(SurfaceId surface, const Character& character, const Controls& controls,
                     const Rules& rules, const World& world) noexcept {
  Character now = character;
  const detail::Frame frame = detail::Frame::of(character.up, character.feet);
  if (frame.turned) detail::see_in(frame, now);
  const detail::Moment moment(now, controls, rules, world, frame);
  constexpr double kNowhere = -std::numeric_limits<double>::infinity();
  return detail::solidity_of(world, surface, now.tick, frame, rules.body,
                             detail::Moment::state_of(&moment), kNowhere);
}

double charge_of(const Character& character, const Rules& rules) noexcept {
  return detail::gauge_of(character.charge_held, rules);
}

}  // namespace bushbaby
