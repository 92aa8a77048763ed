// The timeline of time: what was held, what the body did, which windows were open, what happened.
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
[[nodiscard]] std::int64_t tick_at(const Room& room, const Session& session,
                                   const TimelineView& view, float x, float scale);

void draw_timeline(ImDrawList& list, const Room& room, const Session& session,
                   const TimelineView& view, const Fonts& fonts, float scale);

}  // namespace bushbaby::live
