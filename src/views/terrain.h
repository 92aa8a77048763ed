// Solids on a map: surfaces that act differently look different and say so.
#pragma once

#include <vector>

#include "bushbaby/core/world/level.h"
#include "bushbaby/data/units.h"
#include "bushbaby/lab/trace.h"
#include "bushbaby/views/picture.h"

namespace bushbaby::detail {

// What a map of trails shows: them with the body (its width and height) and some air around it; one
// that leaves the level is followed only a little way.
Box view_of(const Level& level, const std::vector<const Trace*>& traces, Vec body);

// Adds what of a zone is seen in the panel: before the solids, which lie over it.
void add_zone(Panel& panel, const Zone& zone, const Units& units);

// Adds where a moving platform goes: its way by its middle, its outline where it rests or turns.
void add_way(Panel& panel, const Solid& solid);

// Adds what of a solid is seen in the panel.
void add_solid(Panel& panel, const Solid& solid, const Units& units);

}  // namespace bushbaby::detail
