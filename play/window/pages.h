// The pages beside the level: knobs, facts, the history, keys.
#pragma once

#include "app.h"
#include "look.h"
#include "stage_view.h"

namespace bushbaby::live {

/// Draws the page that is open into its room.
void draw_page(App& app, const Room& room, const Fonts& fonts, float scale);

// One page each.
void draw_knobs(App& app, const Fonts& fonts, float scale);
void draw_facts(App& app, const Fonts& fonts, float scale);
void draw_history(App& app, const Fonts& fonts, float scale);
void draw_keys(App& app, const Fonts& fonts, float scale);

}  // namespace bushbaby::live
