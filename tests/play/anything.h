// Anything that can be done to a session, chosen by numbers; and what must hold then.
#pragma once

#include <cmath>
#include <cstdint>
#include <iterator>
#include <string>

#include "session/session.h"

namespace bushbaby::live::test {

/// `next()` gives numbers from 0 to 255.
template <class Next>
void do_anything(Session& session, const Next& next) {
  const auto any_knob = [&next] {
    const std::vector<Knob>& all = knobs();
    return KnobPlace{&all[(next() * 256U + next()) % all.size()], 0};
  };
  switch (next() % 16) {
    case 0: session.pause(next() % 2 == 0); break;
    case 1: session.scrub(session.shown() - static_cast<std::int64_t>(next())); break;
    case 2: session.step_forward(); break;
    case 3: (void)session.hold_file(next() % 2 == 0); break;
    case 4: {
      const KnobPlace place = any_knob();
      (void)session.hold_amplified(next() % 2 == 0 ? &place : nullptr);
      break;
    }
    case 5: next() % 2 == 0 ? session.desk().undo() : session.desk().redo(); break;
    case 6: session.desk().put_all_back(); break;
    case 7: (void)session.restart_at({-5 + next() * 0.2, -5 + next() * 0.08}); break;
    case 8: session.hands().press(static_cast<Held>(next() % kHeldKinds)); break;
    case 9:
      next() % 4 == 0 ? session.hands().let_all_go()
                      : session.hands().tilt(next() / 128.0 - 1, next() / 128.0 - 1);
      break;
    case 10:
    case 11: {
      const KnobPlace place = any_knob();
      // At rates of thousands of ticks a frame would be thousands of ticks.
      if (place.knob->key == "loop.tick_rate") break;
      static const char* const kTexts[] = {"0",     "1",     "7 ticks", "-3",  "nan", "1e300", "",
                                           "0.3 s", "scale", "true",    "inf", "12",  "0.5"};
      (void)session.desk().type(place, kTexts[next() % std::size(kTexts)]);
      break;
    }
    case 12: next() % 2 == 0 ? session.desk().settle() : session.mark(); break;
    default:
      for (int i = 0; i < 5; ++i) session.frame(1 / 60.0);
  }
}

/// Whether all that is shown can be.
inline bool is_sound(const Session& session) {
  const Pose pose = session.pose();
  const bool is_finite = std::isfinite(pose.feet.x) && std::isfinite(pose.feet.y) &&
                         std::isfinite(pose.velocity.x) && std::isfinite(pose.velocity.y);
  (void)session.why();
  (void)session.presses();
  const std::int64_t from = session.marked().value_or(session.reel().first());
  return is_finite && session.shown() >= session.reel().first() &&
         session.shown() <= session.reel().last() &&
         session.stretch().samples.size() == static_cast<std::size_t>(session.shown() - from + 1) &&
         session.inputs_so_far().size() == static_cast<std::size_t>(session.shown());
}

}  // namespace bushbaby::live::test
