// The screen: all that is drawn of a session, and where.
#pragma once

#include <imgui.h>

#include "app.h"
#include "display.h"
#include "look.h"
#include "stage_view.h"

namespace bushbaby::live {

/// What of the screen is whose.
struct Rooms {
  Room stage, timeline, page;
};

class Screen {
 public:
  Screen(App& app, Display& display, float scale);

  [[nodiscard]] Rooms rooms() const;

  /// Makes up a frame: everything but what the display does.
  void make_up();
  /// Draws it, but does not show it yet.
  void render();
  void show();

 private:
  App& app_;
  Display& display_;
  float scale_;
  Fonts fonts_;
};

}  // namespace bushbaby::live
