// A controller from outside: on a floor at y = 0, with no events and no walls.
#pragma once

#include "bushbaby/lab/subject.h"

namespace bushbaby::test {

// Adds gravity to its speed and then moves, by steps of any length; a child may jump otherwise, or
// move otherwise.
class HomeMade : public Subject {
 public:
  [[nodiscard]] SubjectTraits traits() const override {
    return {"home-made", 50, 1, 1, false, false};
  }
  [[nodiscard]] bool can_stand_on(Terrain terrain) const override {
    return terrain == Terrain::floor;
  }
  [[nodiscard]] bool place(const Stage& stage) override {
    now_ = {};
    now_.feet = stage.level.start;
    now_.grounded = true;
    before_ = {};
    return true;
  }
  void advance(const Controls& controls) override { (void)advance_for(controls, 1.0 / 50); }
  [[nodiscard]] bool advance_for(const Controls& controls, double seconds) override {
    now_.velocity.x = 5.0 * direction_share(controls.x);
    if (may_jump() && controls.jump && (now_.grounded || !before_.jump)) now_.velocity.y = 10;
    before_ = controls;
    now_.feet.x += now_.velocity.x * seconds;
    fall(25, seconds);
    now_.grounded = now_.feet.y <= 0;
    if (now_.grounded) now_.feet.y = now_.velocity.y = 0;
    ++now_.tick;
    return true;
  }
  [[nodiscard]] Sample observe() const override { return now_; }

 protected:
  [[nodiscard]] virtual bool may_jump() const { return now_.grounded; }
  virtual void fall(double gravity, double seconds) {
    now_.velocity.y -= gravity * seconds;
    now_.feet.y += now_.velocity.y * seconds;
  }
  Sample now_;
  Controls before_;
};

}  // namespace bushbaby::test
