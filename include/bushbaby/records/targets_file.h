// Targets files (TOML) and reference curves (CSV) in.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/data/problem.h>
#include <bushbaby/lab/targets.h>

namespace bushbaby {

inline constexpr std::string_view kTargetsFormat = "bushbaby-targets/1";

/// Reads targets and the curves that they name, relative to the file's folder.
[[nodiscard]] Result<std::vector<Target>> load_targets(const std::string& path);

/// Reads targets from text; `path` is used in problems, and its folder to find curves.
[[nodiscard]] Result<std::vector<Target>> parse_targets(std::string_view text,
                                                        const std::string& path);

/// Reads a curve: a header with the columns `x` (u) or `time` (s), and `y` (u), then at least two
/// rows of finite numbers, the first column growing. Other columns are passed over.
[[nodiscard]] Result<Curve> parse_curve(std::string_view text, const std::string& path);
[[nodiscard]] Result<Curve> load_curve(const std::string& path);

}  // namespace bushbaby
