// The ribbon of time: what was held, what the body did, which windows were open, what happened.
#pragma once

#include <cstdint>
#include <optional>

#include <imgui.h>

#include "app.h"
#include "look.h"
#include "session/session.h"
#include "stage_view.h"

namespace bushbaby::live {

/// The tick under a place of the screen.
[[nodiscard]] std::int64_t tick_at(const Room& room, const Session& session, const RibbonView& view,
                                   float x, float scale);

void draw_ribbon(ImDrawList& list, const Room& room, const Session& session, const RibbonView& view,
                 const Fonts& fonts, float scale);

}  // namespace bushbaby::live
