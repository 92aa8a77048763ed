// Course files: TOML in.
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/course.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kCourseFormat = "bushbaby-course/1";

/// Reads a course from text. `path` is used in problems only. Boxes must be finite, with left <
/// right and bottom < top.
[[nodiscard]] Result<Course> parse_course(std::string_view text, const std::string& path);

[[nodiscard]] Result<Course> load_course(const std::string& path);

}  // namespace bushbaby
