// Prints the hash of the trace of every demo tape, for every loop and some tick rates.
#include <algorithm>
#include <cstdio>
#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/core/rules.h"
#include "bushbaby/data/course_file.h"
#include "bushbaby/data/tape_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/subject.h"

namespace {

namespace fs = std::filesystem;

std::vector<fs::path> files_ending(const fs::path& folder, const std::string& ending) {
  std::vector<fs::path> paths;
  for (const auto& entry : fs::directory_iterator(folder)) {
    const std::string name = entry.path().filename().string();
    if (name.size() > ending.size() && name.substr(name.size() - ending.size()) == ending) {
      paths.push_back(entry.path());
    }
  }
  std::sort(paths.begin(), paths.end());
  return paths;
}

}  // namespace

int main(int count, char** values) {
  using namespace bushbaby;
  if (count != 2) return 2;
  const fs::path demo = values[1];
  const auto course = load_course((demo / "first-limbs.course.toml").string());
  if (!course) return 2;
  for (const fs::path& tuning_path : files_ending(demo, ".tuning.toml")) {
    const auto file = load_tuning(tuning_path.string());
    if (!file) return 2;
    for (const fs::path& tape_path : files_ending(demo, ".tape")) {
      const auto tape = load_tape(tape_path.string());
      if (!tape) return 2;
      for (const char* loop : {"exact", "averaged", "semi_implicit", "explicit"}) {
        for (const double rate : {30.0, 60.0, 144.0}) {
          Tuning tuning = at_tick_rate(file->tuning, rate);
          if (set_knob(tuning, *find_knob("loop.integrator"), std::string(loop))) return 2;
          const Compiled compiled = compile(tuning);
          if (!compiled.ok()) return 2;
          CharacterSubject subject(compiled.rules);
          const auto trace = run_tape(subject, course_stage(*course), controls_of(*tape, rate));
          if (!trace) return 2;
          fmt::print("{} {} {} {} {:016x}\n", tuning_path.filename().string(),
                     tape_path.filename().string(), loop, rate, hash_of(*trace));
        }
      }
    }
  }
  return 0;
}
