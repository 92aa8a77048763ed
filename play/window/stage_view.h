// The level with whoever is played in it.
#pragma once

#include <imgui.h>

#include "look.h"
#include "session/camera.h"
#include "session/session.h"

namespace bushbaby::live {

/// A part of the screen, px, y down.
struct Room {
  ImVec2 from;
  ImVec2 to;

  [[nodiscard]] float width() const noexcept { return to.x - from.x; }
  [[nodiscard]] float height() const noexcept { return to.y - from.y; }
  [[nodiscard]] bool contains(ImVec2 at) const noexcept {
    return at.x >= from.x && at.x < to.x && at.y >= from.y && at.y < to.y;
  }
};

/// Whether there is anything to see of a second character: the file's own numbers only where they
/// make a difference.
[[nodiscard]] bool is_seen(const Ghost& ghost) noexcept;

/// Draws the terrain around the camera, trails, bodies, and what is target_jumps of jumps.
void draw_stage(ImDrawList& list, const Room& room, const Session& session, const Camera& camera,
                const Fonts& fonts, float scale);

}  // namespace bushbaby::live
