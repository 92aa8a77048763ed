// What drills are made of: a subject that is driven until something holds, and the facts it gives.
#pragma once

#include <algorithm>
#include <cmath>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>

#include "bushbaby/lab/drills.h"

namespace bushbaby::detail {

// What a drill waits for comes within these times or not at all.
inline constexpr double kSettleSeconds = 5;
inline constexpr double kRunSeconds = 60;
inline constexpr double kAirSeconds = 60;
inline constexpr int kPatience = 8;  // ticks in which a press must have made it leave the ground

inline constexpr Controls kNothing{};
inline constexpr Controls kLeft{-127, 0, false, false};
inline constexpr Controls kRight{127, 0, false, false};
inline constexpr Controls kDown{0, -127, false, false};

inline constexpr double kPi = 3.14159265358979323846;
inline constexpr Controls kJump{0, 0, true, false};
inline constexpr Controls kRightJump{127, 0, true, false};

// A subject on a stage, driven until something holds.
class Rehearsal {
 public:
  explicit Rehearsal(Subject& subject)
      : recorder_(subject), tick_rate_(subject.traits().tick_rate) {}

  [[nodiscard]] const Sample& now() const { return recorder_.now(); }
  [[nodiscard]] Trace trace() const { return recorder_.trace(); }
  [[nodiscard]] double tick_rate() const { return tick_rate_; }

  void advance(const Controls& controls) { recorder_.advance(controls); }

  // Holds `controls` until `done(before, now)`; false if that does not come in time.
  template <class Done>
  bool hold_until(const Controls& controls, double seconds, const Done& done) {
    return hold_each(seconds, done, [&controls] { return controls; });
  }

  // Holds what `choose()` says at each tick until `done(before, now)`; false if that does not come
  // in time.
  template <class Done, class Choose>
  bool hold_each(double seconds, const Done& done, const Choose& choose) {
    const auto ticks = static_cast<std::int64_t>(std::ceil(seconds * tick_rate_));
    for (std::int64_t i = 0; i < ticks; ++i) {
      const Sample before = now();
      advance(choose());
      if (done(before, now())) return true;
    }
    return false;
  }

  // Waits until the subject stands still.
  bool settle() {
    return hold_until(kNothing, kSettleSeconds, [](const Sample& before, const Sample& sample) {
      return sample.grounded && sample.feet == before.feet;
    });
  }

  // Runs to the right until the speed no longer grows; false if it does not run at all.
  bool run_up() {
    hold_until(kRight, kRunSeconds, [](const Sample& before, const Sample& sample) {
      return sample.velocity.x > 0 && sample.velocity.x == before.velocity.x;
    });
    return now().velocity.x > 0;
  }

 private:
  Recorder recorder_;
  double tick_rate_;
};

// How large a subject is: the measure of the stages that it is put on. u
inline double size_of(const Subject& subject) { return subject.traits().body_height; }

// Lengths and speeds that differ by less than this are the same, for a body of 1 u.
inline constexpr double kSame = 1e-9;

// Puts a subject on a stage; false if that cannot be.
bool prepare(Subject& subject, const Stage& stage);

// A drill's facts, in the order of its table.
Measured facts_of(const Drill& drill, std::initializer_list<double> values);

// None of a drill's facts, for that reason.
Measured no_facts(const Drill& drill, const std::string& why_not);

// Puts in the value of one of the facts; `or_more` if looking for more of it was given up there.
void give(Measured& measured, std::string_view fact, double value, bool or_more = false);

// Windows are looked for up to this long.
inline constexpr double kLongestWindow = 10;  // s
inline constexpr int kMostWindowTicks = 1200;
inline int longest_window(double tick_rate) {
  return std::min(kMostWindowTicks, static_cast<int>(kLongestWindow * tick_rate));
}

// Room that is left beyond a run-up, in body heights; no whole number of anything.
inline constexpr double kRoom = 0.87;

// So high, in body heights, that nothing lands from there while it is watched.
inline constexpr double kOutOfReach = 1e4;

// How far a run-up takes the subject from its start, on a floor; nothing if it does not run.
std::optional<double> run_up_room(Subject& subject);

// Presses and holds jump until the body has left the ground; one that charges is released after 2
// s. False if it does not leave it. `held` becomes what is to be held on: without the button after
// a charge.
bool take_off(Rehearsal& rehearsal, Controls& held);

// Jumps with the button held until the body no longer rises; false if it does not jump.
bool jump_to_apex(Rehearsal& rehearsal);

// How many jumps in the air a subject has after one from the ground, by pressing whenever the
// button is up; no more than kManyJumps are looked for, so that many stand for that many or more.
inline constexpr int kManyJumps = 20;
int count_air_jumps(Subject& subject);

// The same from the state now, with a direction held; `held` must not hold the button. Looks for no
// more than `most`.
int count_jumps(Rehearsal& rehearsal, Controls held, int most = kManyJumps);

// How long ago a tick was, s.
inline double time_from(const Rehearsal& rehearsal, std::int64_t tick) {
  return static_cast<double>(rehearsal.now().tick - tick) / rehearsal.tick_rate();
}

// Whether the tick between two samples gave a body in the air a vertical speed that it had not.
inline bool rose(const Sample& before, const Sample& now) {
  return now.velocity.y > before.velocity.y && now.velocity.y > 0 && !now.grounded;
}

// The highest place of a trace after that tick: of its samples, and of its events within ticks.
double highest_from(const Trace& trace, std::int64_t tick);

}  // namespace bushbaby::detail
