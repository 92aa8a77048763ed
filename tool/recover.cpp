#include "bushbaby/lab/recover.h"

#include <cmath>
#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/recording_csv.h"
#include "bushbaby/records/recover_reports.h"
#include "bushbaby/views/recovered_picture.h"

#include "output.h"
#include "progress.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// A quantity of the call, more than 0.
std::optional<double> quantity_of(const Call& call, const char* option, Dimension dimension,
                                  const Units& units, std::vector<Problem>& problems) {
  if (!call.has(option)) return std::nullopt;
  const auto value = parse_quantity(call.text(option), dimension, units);
  if (value && *value > 0 && std::isfinite(*value)) return value;
  problems.push_back(call_problem(option, call.text(option), describe_quantity(dimension, units)));
  return std::nullopt;
}

// What a call says beside the recording.
struct Asked {
  TuningFile base;  // without a path if there is none
  RecordingOptions reading;
  RecoverOptions recovering;
};

Result<Asked> read_call(const Call& call) {
  Asked asked;
  std::vector<Problem> problems;
  if (call.has("--base")) {
    const auto base = load_tuning(call.text("--base"));
    if (!base) return tl::unexpected(base.error());
    asked.base = *base;
    asked.reading.units = base->units();
  }
  if (call.has("--units")) {
    const auto convention = parse_convention(call.text("--units"), "--units");
    if (convention) {
      asked.reading.units = Units{*convention};
    } else {
      append(problems, convention.error());
    }
  }
  Units units = asked.reading.units.value_or(Units{});
  const auto rate = quantity_of(call, "--tick-rate", Dimension::frequency, units, problems);
  if (rate) {
    constexpr double kMostRate = 10000;
    if (*rate < 1 || *rate > kMostRate) {
      problems.push_back(
          call_problem("--tick-rate", call.text("--tick-rate"), "from 1 to 10000 Hz"));
    }
    asked.recovering.tick_rate = rate;
  } else if (call.has("--base")) {
    asked.recovering.tick_rate = asked.base.tuning.loop.tick_rate;
  }
  if (call.has("--loop")) {
    Tuning loop;
    if (!set_knob(loop, *find_knob("loop.integrator"), call.text("--loop"))) {
      asked.recovering.integrator = loop.loop.integrator;
    } else {
      problems.push_back(call_problem("--loop", call.text("--loop"),
                                      "exact, trapezoidal, semi_implicit or explicit"));
    }
  }
  asked.reading.tick_rate = asked.recovering.tick_rate;
  units.tick_rate = asked.recovering.tick_rate.value_or(units.tick_rate);
  asked.reading.speed = quantity_of(call, "--at-speed", Dimension::speed, units, problems);
  for (const std::string& text : call.texts("--pin")) {
    auto pin = parse_pin(text, units);
    if (pin) {
      asked.reading.pins.push_back(std::move(*pin));
    } else {
      append(problems, pin.error());
    }
  }
  asked.recovering.base = asked.base.tuning;
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return asked;
}

// The recovered tuning as the text of the base with what changed, or as a new file.
int write_recovered(const Call& call, const Asked& asked, const Recovered& recovered,
                    const Units& units) {
  TuningFile source = asked.base;
  Tuning tuning = recovered.tuning;
  if (!call.has("--base")) {
    source.convention = units.convention;
    tuning.name = "recovered";
    source.tuning = Tuning{};
    source.tuning.loop = tuning.loop;
  }
  TuningFile meant = source;
  meant.tuning = tuning;
  if (const auto compiled = check_tuning(meant); !compiled) return fail(compiled.error());
  return save(source, tuning, call.text("--out"));
}

int recover(const Call& call) {
  const std::string path = call.text("RECORDING");
  if (const auto clashes = find_clashes(call, {path, call.text("--base")}); !clashes.empty()) {
    return fail(clashes);
  }
  const auto asked = read_call(call);
  if (!asked) return fail(asked.error());
  const auto file = load_recording(path, asked->reading);
  if (!file) return fail(file.error());
  Recovered recovered;
  {
    Progress progress;
    progress.report("recovering …");
    recovered = recover_motion(file->recording, asked->recovering);
  }
  Units units = file->units;
  units.tick_rate = recovered.tick_rate;
  if (file->left_out > 0) {
    recovered.remarks.insert(recovered.remarks.begin(),
                             fmt::format("{} rows have no place: gaps", file->left_out));
  }
  if (file->scale_is_guessed) {
    recovered.remarks.insert(
        recovered.remarks.begin(),
        fmt::format("nothing says how many {0} make a unit: taken as {1:g}; say it with --units "
                    "\"one_unit={1:g} {0}\"",
                    units.convention.length_name, units.convention.lengths_per_unit));
  }
  print(call.has("--json") ? recovered_json(path, units, recovered)
                           : recovered_table(path, units, recovered));
  const bool none = !recovered.refusal.empty();
  for (const char* option : {"--plot", "--curve", "--out"}) {
    if (none && call.has(option)) say(fmt::format("nothing was recovered for {}", option));
  }
  if (none) return kFindings;
  if (call.has("--plot")) {
    const int code = draw_to(draw(recovered, std::filesystem::path(path).stem().string(), units),
                             call.text("--plot"));
    if (code != kDone) return code;
  }
  if (call.has("--curve")) {
    const std::string to = call.text("--curve");
    if (recovered.curve.empty()) {
      return fail("--curve: the way down was not recorded, and so there is no whole jump");
    }
    if (const auto problem = write_file(to, recovered_curve_csv(recovered, units))) {
      return fail({*problem});
    }
    say_written(to);
  }
  return call.has("--out") ? write_recovered(call, *asked, recovered, units) : kDone;
}

}  // namespace

Verb recover_verb() {
  return {
      "recover",
      "find the constants behind a recording of jumps and runs; exit code 1 if it holds no jump",
      {{"RECORDING", "", "a table (CSV) with time, x and y, and whatever else is known",
        Role::needs},
       {"--base", "TUNING", "a tuning for what the recording does not show, and its convention"},
       {"--tick-rate", "HZ",
        "tick rate of the game's loop; if omitted, that of the points if they look like ticks"},
       {"--loop", "LOOP",
        "the game's loop, if it is known: exact, trapezoidal, semi_implicit or explicit"},
       {"--units", "UNITS",
        "units of columns whose headings name none, such as \"one_unit=16 px, vertical=down\""},
       {"--pin", "PIN",
        "for points read off a picture: what a position on an axis means, such as \"x 130 = 0 s\" "
        "or \"y "
        "640 = 0 u\"; two on each axis",
        Role::takes, true},
       {"--at-speed", "SPEED",
        "with positions pinned on x: the horizontal speed, such as \"7 u/s\""},
       {"--out", "FILE", "write the recovered tuning", Role::gives},
       {"--curve", "FILE", "write the recovered full jump as a reference curve", Role::gives},
       plot_parameter("the recording and the recovered jumps"),
       json_parameter()},
      "Beside time (s; \"time ms\") or tick, x and y (\"x px\", \"y px down\") these columns are "
      "used: vx, vy, grounded, jump, left, right, run, held. Rows may be unevenly spaced, noisy or "
      "missing.",
      "Pip's numbers from a noisy log of him, in pixels, y down",
      "bushbaby recover demo/recordings/pip-at-dusk.csv --plot dusk.png --out dusk.tuning.toml",
      recover};
}

}  // namespace bushbaby::tool
