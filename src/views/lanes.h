// Lanes: what holds when, as bars over time, one row for each thing.
#pragma once

#include <string>
#include <vector>

#include "bushbaby/views/picture.h"

namespace bushbaby::detail {

struct Bar {
  double from = 0;
  double to = 0;
  Ink ink = Ink::faint;
  std::string text{};  // written on it if there is room
  bool low = false;    // fills only the lower part of its lane
};

struct Lane {
  std::string name;
  Ink ink = Ink::text;  // of its name
  std::vector<Bar> bars{};
};

// px that a lane takes.
inline constexpr double kLaneHeight = 19;

// A panel of lanes, from above; `x` is what they are over. Its height should be that of the lanes.
Panel lane_panel(const Box& place, const Axis& x, const std::vector<Lane>& lanes);

// What a colour means.
struct KeyEntry {
  std::string text;
  Ink ink;
  bool low = false;  // as a low bar
};

// A line of them.
Panel key_panel(const Box& place, const std::vector<KeyEntry>& entries);

}  // namespace bushbaby::detail
