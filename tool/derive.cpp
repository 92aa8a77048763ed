#include "bushbaby/lab/derive.h"

#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/core/rules.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verbs.h"

namespace bushbaby::tool {
namespace {

// Reads the quantities of a call; collects what is wrong with them.
class Quantities {
 public:
  explicit Quantities(double tick_rate) : tick_rate_(tick_rate) {}

  std::optional<double> number(const std::optional<std::string>& text, const char* option) {
    if (!text) return std::nullopt;
    const auto value = parse_number(*text);
    if (!value) refuse(*text, option, "a number");
    return value;
  }

  std::optional<double> time(const std::optional<std::string>& text, const char* option) {
    if (!text) return std::nullopt;
    const auto duration = parse_duration(*text);
    if (!duration) {
      refuse(*text, option, "a time: 0.38 (seconds), 380ms or 23t (ticks)");
      return std::nullopt;
    }
    return seconds(*duration, tick_rate_);
  }

  std::vector<Problem> problems;

 private:
  void refuse(const std::string& text, const char* option, const char* expected) {
    problems.push_back({ProblemCode::wrong_type, option, 0, 0, "", text, expected, ""});
  }

  double tick_rate_;
};

// The tuning that everything but the jump comes from: --from, else what --write names, else none.
Result<TuningFile> base_of(const DeriveCall& call) {
  std::string source = call.from;
  if (source.empty() && std::filesystem::exists(call.write)) source = call.write;
  TuningFile none;
  if (source.empty()) return none;
  const auto text = read_file(source);
  if (!text) return tl::unexpected(text.error());
  return parse_tuning(*text, source);
}

// Turns the options that name a knob into settings, so that the table of knobs checks them.
std::vector<std::string> settings_of(const DeriveCall& call) {
  std::vector<std::string> settings = call.settings;
  const auto set = [&settings](const char* knob, const std::optional<std::string>& value) {
    if (value) settings.push_back(fmt::format("{}={}", knob, *value));
  };
  set("loop.tick_rate", call.tick_rate);
  set("loop.integrator", call.integrator);
  set("fall.factor", call.fall_factor);
  set("fall.terminal_speed", call.terminal_speed);
  if (call.no_launch_gravity) settings.emplace_back("loop.gravity_on_launch_tick=false");
  return settings;
}

// Puts the answer into the file that was asked for: an existing tuning keeps its text.
std::optional<Problem> write_answer(const std::string& path, const Tuning& answer) {
  if (!std::filesystem::exists(path)) return write_file(path, write_tuning(answer));
  const auto text = read_file(path);
  if (!text) return text.error().front();
  const auto existing = parse_tuning(*text, path);
  if (!existing) return existing.error().front();
  return write_file(path, rewrite_tuning(*existing, answer));
}

}  // namespace

int derive(const DeriveCall& call) {
  auto base = base_of(call);
  if (!base) return fail(base.error());
  std::vector<Problem> problems;
  for (const std::string& setting : settings_of(call)) {
    if (auto problem = apply_setting(*base, setting)) problems.push_back(*problem);
  }
  if (!problems.empty()) return fail(problems);

  Quantities read(base->tuning.loop.tick_rate);
  ArcAsk ask;
  ask.jump.height = read.number(call.height, "--height");
  ask.jump.apex_time = read.time(call.apex_time, "--apex-time");
  ask.jump.launch_speed = read.number(call.launch_speed, "--launch-speed");
  ask.jump.gravity = read.number(call.gravity, "--gravity");
  ask.air_time = read.time(call.air_time, "--air-time");
  ask.distance = read.number(call.distance, "--distance");
  ask.top_speed = read.number(call.top_speed, "--top-speed");
  if (!read.problems.empty()) return fail(read.problems);
  // A tuning that was given has a top speed of its own.
  if (!ask.top_speed && !base->path.empty()) ask.top_speed = base->tuning.run.top_speed;

  const auto derivation = bushbaby::derive(base->tuning, ask);
  if (!derivation) return fail(fmt::format("derive: {}", derivation.error()));
  print(call.json ? derivation_json(*derivation) : derivation_table(*derivation));

  if (!call.plot.empty()) {
    CharacterSubject subject(compile(derivation->tuning).rules, derivation->tuning.name);
    const int code = draw_if_asked(
        draw(record_jump_chart(subject, describe_loop(derivation->tuning))), call.plot);
    if (code != kDone) return code;
  }
  if (!call.write.empty()) {
    if (const auto problem = write_answer(call.write, derivation->tuning)) return fail({*problem});
    say_written(call.write);
  }
  return kDone;
}

}  // namespace bushbaby::tool
