// What the verbs share: printing, problems, and files that were asked for.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bushbaby/data/problem.h"
#include "bushbaby/views/render.h"

namespace bushbaby::tool {

/// Prints each problem on standard error and returns the exit code for them.
int fail(const std::vector<Problem>& problems);
int fail(const std::string& message);

/// Adds problems to those of other files, so that all come out in one go.
void append(std::vector<Problem>& all, const std::vector<Problem>& more);

void print(const std::string& text);

/// Draws to `path` if one was asked for; the exit code, kDone if all is well.
int draw_if_asked(const Drawing& drawing, const std::string& path);

/// Says on standard error where something was written, so that standard output stays one report.
void say_written(const std::string& path);

}  // namespace bushbaby::tool
