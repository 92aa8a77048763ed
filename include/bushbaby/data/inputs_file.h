// Inputs: text in, text out.
//
//     # bushbaby inputs 1
//     nothing     for 30 ticks   # what is held, and for how long
//     right       for 0.25 s
//     right jump  for 6 ticks
//     x=0.6       for 500 ms
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/tuning/inputs.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kInputsFormat = "# bushbaby inputs 1";

/// Reads inputs from text. `path` is used in problems only.
[[nodiscard]] Result<Inputs> parse_inputs(std::string_view text, const std::string& path);

[[nodiscard]] Result<Inputs> load_inputs(const std::string& path);

/// What is held, in the words of inputs: "right jump", "nothing".
[[nodiscard]] std::string held_text(const Controls& held);

/// Inputs as text that reads back as the same inputs.
[[nodiscard]] std::string write_inputs(const Inputs& inputs);

}  // namespace bushbaby
