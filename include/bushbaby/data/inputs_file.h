// Inputs: text in, text out.
//
//     # bushbaby inputs 1
//     nothing     for 30 ticks   # what is held, and for how long
//     right       for 0.25 s
//     right jump  for 6 ticks
//     x=0.6       until 3 ticks before edge within 4 s
//     repeat 3 times
//       right jump  until falling
//       right       until landed
//     end
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/tuning/inputs.h>
#include <bushbaby/data/problem.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

inline constexpr std::string_view kInputsFormat = "# bushbaby inputs 1";

/// Reads inputs from text. `path` is used in problems only; places without a unit are in `units`.
[[nodiscard]] Result<Inputs> parse_inputs(std::string_view text, const std::string& path,
                                          const Units& units = {});

[[nodiscard]] Result<Inputs> load_inputs(const std::string& path, const Units& units = {});

/// What is held, in the words of inputs: "right jump", "nothing".
[[nodiscard]] std::string held_text(const Controls& held);

/// What is waited for, in the words of inputs: "3 ticks before edge", "x 15.8 u".
[[nodiscard]] std::string wait_text(const Wait& wait, const Units& units);

/// Inputs as text that reads back as the same inputs; loops are written out.
[[nodiscard]] std::string write_inputs(const Inputs& inputs, const Units& units = {});

}  // namespace bushbaby
