#include "bushbaby/lab/derive.h"

#include <fmt/format.h>

#include "bushbaby/core/rules.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// Reads the quantities of a call; collects what is wrong with them.
class Quantities {
 public:
  Quantities(const Call& call, double tick_rate) : call_(call), tick_rate_(tick_rate) {}

  std::optional<double> number(const char* option) {
    if (!call_.has(option)) return std::nullopt;
    const auto value = parse_number(call_.text(option));
    if (!value) refuse(option, "a number");
    return value;
  }

  std::optional<double> time(const char* option) {
    if (!call_.has(option)) return std::nullopt;
    const auto duration = parse_duration(call_.text(option));
    if (!duration) {
      refuse(option, "a time: 0.38 (seconds), 380ms or 23ticks");
      return std::nullopt;
    }
    return seconds(*duration, tick_rate_);
  }

  std::vector<Problem> problems;

 private:
  void refuse(const char* option, const char* expected) {
    problems.push_back(call_problem(option, call_.text(option), expected));
  }

  const Call& call_;
  double tick_rate_;
};

// The tuning that everything but the jump comes from: --from, else what --write names, else none.
Result<TuningFile> base_of(const Call& call) {
  std::string source = call.text("--from");
  const std::string write = call.text("--write");
  if (source.empty() && exists(write)) source = write;
  TuningFile none;
  if (source.empty()) return none;
  const auto text = read_file(source);
  if (!text) return tl::unexpected(text.error());
  return parse_tuning(*text, source);
}

// Applies a setting that was typed as an option: what is wrong is said of the option.
void apply_option(const Call& call, const char* option, const char* knob, TuningFile& base,
                  std::vector<Problem>& problems) {
  if (!call.has(option)) return;
  auto problem = apply_setting(base, fmt::format("{}={}", knob, call.text(option)));
  if (!problem) return;
  problem->file = option;
  problem->key.clear();
  problem->found = call.text(option);
  problems.push_back(std::move(*problem));
}

std::vector<Problem> apply_options(const Call& call, TuningFile& base) {
  std::vector<Problem> problems;
  for (const std::string& setting : call.texts("--set")) {
    if (auto problem = apply_setting(base, setting)) problems.push_back(std::move(*problem));
  }
  apply_option(call, "--tick-rate", "loop.tick_rate", base, problems);
  apply_option(call, "--integrator", "loop.integrator", base, problems);
  apply_option(call, "--fall-factor", "fall.factor", base, problems);
  apply_option(call, "--terminal-speed", "fall.terminal_speed", base, problems);
  if (call.has("--no-launch-gravity")) base.tuning.loop.gravity_on_launch_tick = false;
  return problems;
}

// The file whose text the answer is written into: an existing one keeps its own.
Result<TuningFile> text_for(const std::string& path, const TuningFile& base) {
  if (!exists(path)) return base;
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_tuning(*text, path);
}

int derive(const Call& call) {
  const auto clashes = find_clashes(call, call.texts("--from"));
  if (!clashes.empty()) return fail(clashes);
  auto base = base_of(call);
  if (!base) return fail(base.error());
  if (const auto problems = apply_options(call, *base); !problems.empty()) return fail(problems);
  remark_on(*base);

  Quantities read(call, base->tuning.loop.tick_rate);
  ArcAsk ask;
  ask.jump.height = read.number("--height");
  ask.jump.apex_time = read.time("--apex-time");
  ask.jump.launch_speed = read.number("--launch-speed");
  ask.jump.gravity = read.number("--gravity");
  ask.air_time = read.time("--air-time");
  ask.distance = read.number("--distance");
  ask.top_speed = read.number("--top-speed");
  if (!read.problems.empty()) return fail(read.problems);
  // A tuning that was given has a top speed of its own, if it runs at all.
  const double own_speed = base->path.empty() ? 0 : base->tuning.run.top_speed;
  if (!ask.top_speed && own_speed > 0) ask.top_speed = own_speed;

  const auto derivation = bushbaby::derive(base->tuning, ask);
  if (!derivation) return fail("derive: " + describe(derivation.error()));
  print(call.has("--json") ? derivation_json(*derivation) : derivation_table(*derivation));

  if (call.has("--plot")) {
    CharacterSubject subject(compile(derivation->tuning).rules, derivation->tuning.name);
    const int code = draw_to(draw(record_jump_chart(subject, describe_loop(derivation->tuning))),
                             call.text("--plot"));
    if (code != kDone) return code;
  }
  if (!call.has("--write")) return kDone;
  const auto source = text_for(call.text("--write"), *base);
  if (!source) return fail(source.error());
  return save(*source, derivation->tuning, call.text("--write"));
}

}  // namespace

Verb derive_verb() {
  const auto quantity = [](const char* name, const char* value, const char* help) {
    return Parameter{name, value, help};
  };
  return {"derive",
          "from the jump you want to the constants that give it in your loop",
          {quantity("--height", "U", "height of a full jump, in u"),
           quantity("--apex-time", "TIME", "take-off to apex: 0.38 (seconds), 380ms or 23ticks"),
           quantity("--launch-speed", "U/S", "speed along up at launch, in u/s"),
           quantity("--gravity", "U/S²", "gravity while rising, in u/s²"),
           quantity("--air-time", "TIME", "take-off to landing on level ground"),
           quantity("--distance", "U", "way of a jump at top speed, in u; needs --top-speed"),
           quantity("--top-speed", "U/S", "run speed, in u/s"),
           quantity("--fall-factor", "FACTOR", "gravity while falling over gravity while rising"),
           quantity("--terminal-speed", "U/S", "fastest fall, in u/s"),
           quantity("--tick-rate", "HZ", "ticks in a second of your loop; 60 if not given"),
           quantity("--integrator", "NAME",
                    "your loop: exact, averaged, semi_implicit or explicit; exact if not given"),
           quantity("--no-launch-gravity", "",
                    "your loop applies no gravity on the tick that launches"),
           quantity("--from", "TUNING", "take everything but the jump from this tuning"),
           set_parameter(),
           {"--write", "TUNING",
            "put the answer into this tuning; one that exists keeps its text and comments",
            Role::gives},
           knobs_parameter(),
           plot_parameter("the arcs of the answer"),
           json_parameter()},
          "Give two of --height --apex-time --launch-speed --gravity, or one of them with "
          "--air-time or --distance.",
          "3.25 u high, top after 0.38 s, falls 1.7 times as hard, in a loop that adds gravity "
          "before it moves",
          "bushbaby derive --height 3.25 --apex-time 0.38 --fall-factor 1.7 --top-speed 7 \\\n"
          "                --tick-rate 60 --integrator semi_implicit",
          derive};
}

}  // namespace bushbaby::tool
