#include "bushbaby/lab/derive.h"

#include <fmt/format.h>

#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// Reads the quantities of a call in their units; collects what is wrong with them.
class Quantities {
 public:
  Quantities(const Call& call, const Units& units) : call_(call), units_(units) {}

  std::optional<double> read(const char* option, Dimension dimension) {
    if (!call_.has(option)) return std::nullopt;
    const auto value = parse_quantity(call_.text(option), dimension, units_);
    if (!value) {
      problems.push_back(
          call_problem(option, call_.text(option), describe_quantity(dimension, units_)));
    }
    return value;
  }

  std::vector<Problem> problems;

 private:
  const Call& call_;
  const Units& units_;
};

// What the call sets in the tuning that everything but the jump comes from.
std::vector<Setting> settings_in(const Call& call) {
  std::vector<Setting> settings = settings_of(call);
  const std::pair<const char*, const char*> options[] = {
      {"--tick-rate", "loop.tick_rate"},
      {"--integrator", "loop.integrator"},
      {"--fall-factor", "fall.factor"},
      {"--terminal-speed", "fall.terminal_speed"}};
  for (const auto& [option, knob] : options) {
    if (call.has(option))
      settings.emplace_back(fmt::format("{}={}", knob, call.text(option)), option);
  }
  if (call.has("--no-launch-gravity")) {
    settings.emplace_back("loop.gravity_on_launch_tick=false", "--no-launch-gravity");
  }
  return settings;
}

// The tuning that everything but the jump comes from: --from, else what --write names, else none.
// Without one, --units says how the numbers of the call are meant.
Result<TuningFile> base_of(const Call& call) {
  std::string source = call.text("--from");
  const std::string write = call.text("--write");
  if (source.empty() && exists(write)) source = write;
  if (!source.empty()) {
    const auto text = read_file(source);
    if (!text) return tl::unexpected(text.error());
    return parse_tuning(*text, source, settings_in(call));
  }
  const auto units = units_of(call, {});
  if (!units) return tl::unexpected(units.error());
  auto bare = parse_tuning(write_tuning({}, units->convention), "", settings_in(call));
  if (bare) bare->text.clear();
  return bare;
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
  const auto base = base_of(call);
  if (!base) return fail(base.error());
  const auto units = units_of(call, *base);
  if (!units) return fail(units.error());
  remark_on(*base);

  const Units own = base->units();
  Quantities quantities(call, own);
  ArcAsk ask;
  ask.jump.height = quantities.read("--height", Dimension::length);
  ask.jump.apex_time = quantities.read("--apex-time", Dimension::time);
  ask.jump.launch_speed = quantities.read("--launch-speed", Dimension::speed);
  ask.jump.gravity = quantities.read("--gravity", Dimension::acceleration);
  ask.air_time = quantities.read("--air-time", Dimension::time);
  ask.distance = quantities.read("--distance", Dimension::length);
  ask.top_speed = quantities.read("--top-speed", Dimension::speed);
  if (!quantities.problems.empty()) return fail(quantities.problems);
  // A tuning that was given has a top speed of its own, if it runs at all.
  const double own_speed = base->path.empty() ? 0 : base->tuning.run.top_speed;
  if (!ask.top_speed && own_speed > 0) ask.top_speed = own_speed;

  const auto derivation = bushbaby::derive(base->tuning, ask);
  if (!derivation) return fail("derive: " + describe(derivation.error(), own));
  print(call.has("--json") ? derivation_json(*derivation, *units)
                           : derivation_table(*derivation, *units));

  if (call.has("--plot")) {
    CharacterSubject subject(compile(derivation->tuning).rules, derivation->tuning.name);
    const int code =
        draw_to(draw(record_jump_chart(subject, describe_loop(derivation->tuning), *units)),
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
          "find the constants that give the jump you want in your loop",
          {quantity("--height", "LENGTH", "height of a full jump: 3.25, \"3.25 u\""),
           quantity("--apex-time", "TIME", "take-off to apex: 0.38, 380ms or 23ticks"),
           quantity("--launch-speed", "SPEED", "vertical speed at launch"),
           quantity("--gravity", "RATE", "gravity while rising"),
           quantity("--air-time", "TIME", "take-off to landing on level ground"),
           quantity("--distance", "LENGTH", "distance of a jump at top speed; needs --top-speed"),
           quantity("--top-speed", "SPEED", "run speed"),
           quantity("--fall-factor", "FACTOR", "gravity while falling ÷ gravity while rising"),
           quantity("--terminal-speed", "SPEED", "fastest fall"),
           quantity("--tick-rate", "HZ", "ticks per second of your loop; 60 if omitted"),
           quantity("--integrator", "NAME",
                    "your loop: exact, trapezoidal, semi_implicit or explicit; exact if omitted"),
           quantity("--no-launch-gravity", "",
                    "your loop applies no gravity on the tick that launches"),
           quantity("--from", "TUNING", "take everything but the jump from this tuning"),
           set_parameter(),
           units_parameter(),
           {"--write", "TUNING",
            "write the answer into this tuning; an existing file keeps its text and comments",
            Role::gives},
           knobs_parameter(),
           plot_parameter("the arcs of the answer"),
           json_parameter()},
          "Give two of --height --apex-time --launch-speed --gravity, or one of them with "
          "--air-time or --distance. Bare numbers are in the units of the tuning; without one, in "
          "those of --units, or in u and s.",
          "3.25 u high, top after 0.38 s, falls 1.7 times as hard, in a loop that adds gravity "
          "before it moves",
          "bushbaby derive --height 3.25 --apex-time 0.38 --fall-factor 1.7 --top-speed 7 \\\n"
          "                --tick-rate 60 --integrator semi_implicit",
          derive};
}

}  // namespace bushbaby::tool
