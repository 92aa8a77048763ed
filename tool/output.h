// What the verbs share: printing, problems, and files that were asked for.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "bushbaby/core/motion/rules.h"
#include "bushbaby/core/tuning/inputs.h"
#include "bushbaby/core/world/level.h"
#include "bushbaby/data/problem.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/views/render.h"

#include "verb.h"

namespace bushbaby::tool {

/// Prints each problem on standard error and returns the exit code for them.
int fail(const std::vector<Problem>& problems);
int fail(const std::string& message);

/// Adds problems to those of other files, so that all come out in one go.
void append(std::vector<Problem>& all, const std::vector<Problem>& more);

/// What is wrong with an option of the call.
[[nodiscard]] Problem call_problem(std::string option, std::string found, std::string expected);

/// What is wrong with inputs that last longer than a run may.
[[nodiscard]] std::vector<Problem> find_excess(const Inputs& inputs, double tick_rate,
                                               const std::string& path);

/// What is wrong with a level at whose start the body would stand in a solid.
[[nodiscard]] std::vector<Problem> no_room(const std::string& level_path, const Level& level,
                                           const Rules& rules, const Units& units);

/// The demo data: where --data says, beside the installed program, or in the source.
[[nodiscard]] std::optional<std::filesystem::path> find_demo_data(const Call& call);

/// What is wrong with names of drills that --only gives.
[[nodiscard]] std::vector<Problem> unknown_drills(const std::vector<std::string>& names);

void print(const std::string& text);

/// The exit code of everything printed so far: that of a failure if it did not reach its place.
[[nodiscard]] int finish(int code);

/// Says a line on standard error, so that standard output stays one report.
void say(const std::string& line);
void say_written(const std::string& path);

/// The settings of a call's --set; those of `more`, another option, come after them.
[[nodiscard]] std::vector<Setting> settings_of(const Call& call, const std::string& more = {});

/// In which numbers are reported: as --units says, else as the file's own are.
[[nodiscard]] Result<Units> units_of(const Call& call, const TuningFile& file);

/// Says what in a tuning is allowed but looks like a mistake.
void remark_on(const TuningFile& file);

/// Draws to a file; returns the exit code, kDone if all is well.
int draw_to(const Picture& picture, const std::string& path);

/// Writes a tuning as the text of `source` with what changed; returns the exit code.
int save(const TuningFile& source, const Tuning& tuning, const std::string& path);

/// The same for what a call's --set tried, if it has --save.
int save_if_asked(const Call& call, const TuningFile& changed);

/// Outputs of a call that would overwrite its `inputs` (the tuning first) or one another. Asked
/// before anything is done.
[[nodiscard]] std::vector<Problem> find_clashes(const Call& call,
                                                const std::vector<std::string>& inputs);

}  // namespace bushbaby::tool
