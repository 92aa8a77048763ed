// Prints the hash of the trace of all demo inputs, for every loop and some tick rates.
#include <cstdio>
#include <string>

#include <fmt/format.h>

#include "bushbaby/core/tuning/self_check.h"
#include "bushbaby/core/tuning/zones.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/subject.h"

namespace {

using namespace bushbaby;

struct Scene {
  std::string level;
  const char* inputs;
  std::vector<std::string> tunings;
};

// Prints the hash of one tuning's run in every loop at some rates; false if anything is wrong.
bool print_runs(const Scene& scene, const std::string& demo, const std::string& tuning_path) {
  const auto level = load_level(scene.level);
  const auto inputs = load_inputs(demo + "/" + scene.inputs);
  const auto file = load_tuning(tuning_path);
  if (!level || !inputs || !file) return false;
  for (const char* loop : {"exact", "trapezoidal", "semi_implicit", "explicit"}) {
    for (const double rate : {30.0, 60.0, 144.0}) {
      Tuning tuning = at_tick_rate(file->tuning, rate);
      if (set_knob(tuning, *find_knob("loop.integrator"), std::string(loop))) return false;
      const CompiledBook compiled = compile_book(tuning, level->zones);
      if (!compiled.ok()) return false;
      CharacterSubject subject(compiled.book);
      const auto trace = run_inputs(subject, level_stage(*level), controls_of(*inputs, rate));
      if (!trace) return false;
      fmt::print("{} {} {} {} {:016x}\n", tuning_path.substr(tuning_path.rfind('/') + 1),
                 scene.inputs, loop, rate, hash_of(*trace));
    }
  }
  return true;
}

}  // namespace

// The runs of the demo; and, of first-pip.tuning.toml beside the expected hashes, those of Pip
// before he had any of the moveset: they change with a mended fault alone, which the changelog
// names.
int main(int count, char** values) {
  if (count != 3 || !self_check()) return 2;
  const std::string demo = values[1];
  const std::string frozen = values[2];
  const std::string pip = demo + "/pip.tuning.toml";
  const std::string dorro = demo + "/dorro.tuning.toml";
#ifdef BUSHBABY_NO_DRAWINGS
  const std::string roots = frozen + "/moonlit-roots.level.toml";  // the same, as it is read
#else
  const std::string roots = demo + "/moonlit-roots.svg";
#endif
  const Scene scenes[] = {
      {demo + "/first-limbs.level.toml",
       "first-leaps.inputs",
       {frozen + "/first-pip.tuning.toml", pip, dorro}},
      {demo + "/hollow-trunk.level.toml", "moonlit-climb.inputs", {pip, dorro}},
      {demo + "/old-bark.level.toml", "up-the-bark.inputs", {pip, dorro}},
      {roots, "over-the-roots.inputs", {pip, dorro}},
      {demo + "/sap-pool.level.toml", "through-the-sap.inputs", {pip, dorro}},
      {demo + "/crooked-hollow.level.toml", "around-the-burr.inputs", {pip, dorro}},
      {demo + "/swinging-gourd.level.toml", "over-the-gap.inputs", {pip, dorro}}};
  for (const Scene& scene : scenes) {
    for (const std::string& tuning : scene.tunings) {
      if (!print_runs(scene, demo, tuning)) return 2;
    }
  }
  return 0;
}
