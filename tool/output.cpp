#include "output.h"

#include <cstdio>
#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

namespace bushbaby::tool {

int fail(const std::vector<Problem>& problems) {
  for (const Problem& problem : problems) fail(describe(problem));
  return kWrong;
}

int fail(const std::string& message) {
  say("bushbaby: " + message);
  return kWrong;
}

void append(std::vector<Problem>& all, const std::vector<Problem>& more) {
  all.insert(all.end(), more.begin(), more.end());
}

Problem call_problem(std::string option, std::string found, std::string expected) {
  return {ProblemCode::contradiction, std::move(option),   0, 0, "",
          std::move(found),           std::move(expected), ""};
}

std::vector<Problem> no_room(const std::string& level_path) {
  return {{ProblemCode::contradiction, level_path, 0, 0, "start",
           "a place where the body is inside a solid", "room for the body", ""}};
}

void print(const std::string& text) { std::fwrite(text.data(), 1, text.size(), stdout); }

void say(const std::string& line) {
  std::fflush(stdout);  // what was printed first comes first, also where both go to one place
  fmt::print(stderr, "{}\n", line);
}

void say_written(const std::string& path) { say("wrote " + path); }

void remark_on(const TuningFile& file) {
  for (const std::string& remark : unit_remarks(file)) say("bushbaby: remark: " + remark);
}

int draw_to(const Picture& picture, const std::string& path) {
  if (const auto problem = render(picture, path)) return fail({*problem});
  say_written(path);
  return kDone;
}

int save(const TuningFile& source, const Tuning& tuning, const std::string& path) {
  if (const auto problem = save_tuning(source, tuning, path)) return fail({*problem});
  say_written(path);
  return kDone;
}

int save_if_asked(const Call& call, const TuningFile& changed) {
  if (!call.has("--save")) return kDone;
  const std::string path = call.text("--save");
  std::error_code ignored;
  if (std::filesystem::exists(path, ignored) &&
      !std::filesystem::equivalent(path, changed.path, ignored)) {
    return fail({call_problem("--save", path + ", which is there already",
                              "a new name, or " + changed.path + " itself")});
  }
  // The text as it is in the file, before anything was tried.
  const auto source = parse_tuning(changed.text, changed.path);
  if (!source) return fail(source.error());
  return save(*source, changed.tuning, path);
}

}  // namespace bushbaby::tool
