// Tapes: text in, text out.
//
//     # bushbaby tape 1
//     nothing     for 30t      # what is held, and for how long
//     right       for 0.25s
//     right jump  for 6t
//     x=0.6       for 500ms
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/tape.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kTapeFormat = "# bushbaby tape 1";

/// Reads a tape from text. `path` is used in problems only.
[[nodiscard]] Result<Tape> parse_tape(std::string_view text, const std::string& path);

[[nodiscard]] Result<Tape> load_tape(const std::string& path);

/// What is held, in the words of a tape: "right jump", "nothing".
[[nodiscard]] std::string held_text(const Controls& held);

/// A tape as text that reads back as the same tape.
[[nodiscard]] std::string write_tape(const Tape& tape);

}  // namespace bushbaby
