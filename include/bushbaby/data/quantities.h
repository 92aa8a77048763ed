// Numbers and times as people write them in files and calls.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include <bushbaby/core/tuning/tuning.h>

namespace bushbaby {

/// A number, whole text, finite or not; nothing if the text is none.
[[nodiscard]] std::optional<double> parse_number(std::string_view text);

/// A time: "7 ticks", "110 ms" or "0.11 s", with or without the space; a bare number is in seconds.
/// Nothing if the text is no time.
[[nodiscard]] std::optional<Duration> parse_duration(std::string_view text);

/// A time that reads back as the same: "7 ticks", "1 tick", "0.11 s".
[[nodiscard]] std::string duration_text(const Duration& duration);

}  // namespace bushbaby
