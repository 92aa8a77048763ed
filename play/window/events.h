// What keys, pads and the mouse do.
#pragma once

#include <memory>

#include "app.h"
#include "display.h"
#include "screen.h"

namespace bushbaby::live {

class Listener {
 public:
  explicit Listener(App& app);
  ~Listener();
  Listener(const Listener&) = delete;
  Listener& operator=(const Listener&) = delete;

  /// Hears all that came since the last frame.
  void hear(Display& display, const Rooms& rooms);

 private:
  struct Ears;
  App& app_;
  std::unique_ptr<Ears> ears_;
};

}  // namespace bushbaby::live
