// The rates of a run, from how its speed goes from one steady speed to another.
#pragma once

#include <vector>

#include "bushbaby/lab/recording.h"

#include "flights.h"

namespace bushbaby::detail {

enum class RampKind { accelerate, brake, turn };

// One number from one place of the recording.
struct Reading {
  double value = 0;
  double error = 0;  // its standard error
};

struct RampReadings {
  std::vector<Reading> rate;  // u/s²
  std::vector<Reading> lag;   // s, if the speed nears its goal by shares
  int at_once = 0;            // of them took no longer than from one point to the next
};

struct RunReadings {
  std::vector<Reading> top_speed;               // u/s
  std::vector<RampReadings> ground{3}, air{3};  // by kind
  double rate_score = 0;  // -2 log-likelihood of all ramps at constant rates, and by shares
  double lag_score = 0;
  double fastest = 0;  // u/s that it moved at all
};

RunReadings read_run(const Recording& recording, const std::vector<bool>& standing);

// Many readings of one thing as one: the mean by weight, its error no less than they scatter.
Reading pooled(const std::vector<Reading>& readings);

}  // namespace bushbaby::detail
