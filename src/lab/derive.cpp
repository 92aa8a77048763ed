#include "bushbaby/lab/derive.h"

#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/lab/subject.h"

namespace bushbaby {
namespace {

// The jump knobs that say what was asked for, and gravity or launch speed where no knob does.
Tuning::Jump jump_knobs(const Tuning::Jump& base, const JumpAsk& ask,
                        const ArcConstants& constants) {
  Tuning::Jump jump = base;
  jump.height = ask.height;
  jump.apex_time.reset();
  if (ask.apex_time) jump.apex_time = Duration{*ask.apex_time};
  jump.launch_speed = ask.launch_speed;
  jump.gravity = ask.gravity;
  const int given = (ask.height ? 1 : 0) + (ask.apex_time ? 1 : 0) + (ask.launch_speed ? 1 : 0) +
                    (ask.gravity ? 1 : 0);
  if (given < 2) {
    if (!jump.height && !jump.launch_speed) jump.launch_speed = constants.launch_speed;
    jump.gravity = constants.gravity;
    jump.apex_time.reset();
  }
  return jump;
}

}  // namespace

tl::expected<Derivation, Violation> derive(const Tuning& base, ArcAsk ask) {
  ask.fall_factor = base.fall.factor;
  ask.terminal_speed = base.fall.terminal_speed;
  ask.shape = jump_shape(base);
  const auto constants = derive_arc(ask, jump_loop(base));
  if (!constants) return tl::unexpected(constants.error());

  Derivation derivation;
  derivation.constants = *constants;
  derivation.tuning = base;
  derivation.tuning.jump = jump_knobs(base.jump, ask.jump, *constants);
  if (ask.top_speed) derivation.tuning.run.top_speed = *ask.top_speed;
  const Compiled compiled = compile(derivation.tuning);
  if (!compiled.ok()) return tl::unexpected(compiled.violations.front());
  const JumpAnswer continuous = derive_jump(jump_ask(derivation.tuning), JumpLoop{}, ask.shape);
  derivation.continuous = predict_arc({continuous.gravity, continuous.launch_speed, ask.fall_factor,
                                       ask.terminal_speed, ask.shape});

  // A body that runs by itself never stands still; its jump is as high from a standing start.
  Tuning standing = derivation.tuning;
  standing.run.auto_run = AutoRun::none;
  standing.jump.charge = {};  // what is derived is the plain jump
  CharacterSubject subject(compile(standing).rules);
  const auto jump = record_standing_jump(subject, kHeldThroughout);
  if (!jump) {
    return tl::unexpected(
        compiled.rules.may_jump
            ? Violation{"",
                        Phrase("a jump that does not land within ") + Quantity{60, Dimension::time},
                        "a shorter one"}
            : Violation{"jump.allowed", "false", "true: what may not jump has no jump to derive"});
  }
  derivation.achieved = {jump->arc.height(), jump->arc.rise_time(), jump->arc.air_time(),
                         jump->arc.landing_speed, std::nullopt};
  if (ask.top_speed) {
    if (const auto leap = record_running_jump(subject, kHeldThroughout)) {
      derivation.achieved.distance = leap->arc.distance();
    }
  }
  return derivation;
}

}  // namespace bushbaby
