#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/names.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/playing.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/records/trace_csv.h"

#include "output.h"
#include "verb.h"

#ifdef BUSHBABY_HAS_WINDOW
#include "window/window.h"
#endif

namespace bushbaby::tool {
namespace {

#ifdef BUSHBABY_HAS_WINDOW

// The files of a call; those of the demo where none are given.
struct Files {
  std::string tuning;
  std::string level;
  std::string targets;
  bool is_demo = false;
};

std::optional<Files> files_of(const Call& call) {
  Files files{call.text("TUNING"), call.text("--level"), call.text("--targets")};
  if (!files.tuning.empty() && !files.level.empty()) return files;
  const auto demo = find_demo_data(call);
  if (!demo) return std::nullopt;
  files.is_demo = files.tuning.empty();
  if (files.is_demo) {
    files.tuning = (*demo / "pip.tuning.toml").string();
    if (files.targets.empty()) files.targets = (*demo / "pip.targets.toml").string();
  }
  if (files.level.empty()) files.level = (*demo / "first-limbs.level.toml").string();
  return files;
}

// Who is played beside: another tuning, a recorded run, or the character with the file's numbers.
std::optional<live::Ghost> ghost_of(const Call& call, const LevelFile& level, const Files& files,
                                    double tick_rate, std::vector<Problem>& problems) {
  if (call.has("--against") && call.has("--recorded")) {
    problems.push_back(call_problem("--recorded", "--against beside it", "one of them"));
    return std::nullopt;
  }
  const auto same_rate = [&](const char* option, double rate) {
    if (rate == tick_rate) return true;
    problems.push_back(call_problem(option, fmt::format("{} Hz and {} Hz", tick_rate, rate),
                                    "the same tick rate"));
    return false;
  };
  if (call.has("--against")) {
    const auto other = load_tuning(call.text("--against"));
    if (!other) {
      append(problems, other.error());
      return std::nullopt;
    }
    const auto book = compile_for(*other, level, files.level, other->units());
    if (!book) {
      append(problems, book.error());
      return std::nullopt;
    }
    if (!same_rate("--against", other->tuning.loop.tick_rate)) return std::nullopt;
    return live::Ghost::of_tuning(other->tuning.name, *book);
  }
  if (call.has("--recorded")) {
    const auto trace = load_trace(call.text("--recorded"));
    if (!trace) {
      append(problems, trace.error());
      return std::nullopt;
    }
    if (!same_rate("--recorded", trace->trace.tick_rate)) return std::nullopt;
    return live::Ghost::of_trace(call.text("--recorded"), trace->trace);
  }
  return live::Ghost::of_file();
}

// The settings of the person; a file that cannot be read is reported, and left alone.
live::Settings settings_in(const std::string& path, std::vector<Problem>& problems) {
  if (path.empty() || !exists(path)) return live::Settings::defaults();
  const auto text = read_file(path);
  const auto settings = text ? live::parse_settings_file(*text, path)
                             : Result<live::Settings>(tl::unexpected(text.error()));
  if (settings) return *settings;
  append(problems, settings.error());
  return live::Settings::defaults();
}

std::vector<live::ScriptLine> script_of(const Call& call, const Units& units,
                                        std::vector<Problem>& problems) {
  if (!call.has("--script")) return {};
  const auto text = read_file(call.text("--script"));
  if (!text) {
    append(problems, text.error());
    return {};
  }
  auto script = live::parse_script(*text, call.text("--script"), units);
  if (script) return std::move(*script);
  append(problems, script.error());
  return {};
}

// What frames cost: half of them no more than this, and nearly all no more than that.
void report(const live::FrameCosts& costs) {
  const auto at = [](const std::vector<double>& sorted, double share) {
    if (sorted.empty()) return 0.0;
    return sorted[static_cast<std::size_t>(share * static_cast<double>(sorted.size() - 1))];
  };
  constexpr double kHalf = 0.5;
  constexpr double kNearlyAll = 0.99;
  say(
      fmt::format("bushbaby: {} frames, ms of the processor for each: playing {:.3f} (99 of 100: "
                  "{:.3f}), drawing {:.3f} (99 of 100: {:.3f})",
                  costs.playing.size(), at(costs.playing, kHalf), at(costs.playing, kNearlyAll),
                  at(costs.drawing, kHalf), at(costs.drawing, kNearlyAll)));
}

int play(const Call& call) {
  const auto files = files_of(call);
  if (!files) {
    return fail({call_problem("", "no demo data", "TUNING --level LEVEL, files of your own")});
  }
  const auto clashes = find_clashes(call, {files->tuning, files->level});
  if (!clashes.empty()) return fail(clashes);
  auto file = load_tuning(files->tuning);
  const auto changed = load_tuning(files->tuning, settings_of(call));
  auto level = load_level_file(files->level);
  std::vector<Problem> problems;
  if (!file) {
    append(problems, file.error());
  } else if (!changed) {
    append(problems, changed.error());
  }
  if (!level) append(problems, level.error());
  if (!problems.empty()) return fail(problems);
  const Units units = changed->units();
  const auto book = compile_for(*file, *level, files->level, file->units());
  if (!book) return fail(book.error());
  const auto changed_book = compile_for(*changed, *level, files->level, units);
  if (!changed_book) return fail(changed_book.error());

  live::WindowOpening setup;
  if (!files->targets.empty()) {
    auto targets = load_targets(files->targets, units);
    if (targets) {
      setup.session.targets = std::move(*targets);
    } else {
      append(problems, targets.error());
    }
  }
  CharacterSubject subject(*changed_book, changed->tuning.name);
  if (!subject.place(level_stage(level->level))) {
    append(problems, no_room(files->level, level->level, changed_book->rules(0), units));
  }
  if (call.has("--inputs")) {
    const auto inputs = load_inputs(call.text("--inputs"), units);
    const auto excess =
        inputs ? find_excess(*inputs, units.tick_rate, call.text("--inputs")) : inputs.error();
    append(problems, excess);
    if (excess.empty() && problems.empty()) {
      const auto played = bushbaby::play(subject, level_stage(level->level), *inputs);
      setup.session.inputs = controls_of(played->trace);
    }
  }
  const auto ghost = ghost_of(call, *level, *files, changed->tuning.loop.tick_rate, problems);
  live::WindowOptions options;
  options.script = script_of(call, units, problems);
  options.script_path = call.text("--script");
  setup.settings_path = live::settings_path();
  // What only the pictures of a script show must not depend on who makes them.
  setup.settings = call.has("--script") ? live::Settings::defaults()
                                        : settings_in(setup.settings_path, problems);
  if (call.has("--scale")) {
    const auto scale = parse_number(call.text("--scale"));
    constexpr double kLeast = 0.5;
    constexpr double kMost = 4;
    if (scale && *scale >= kLeast && *scale <= kMost) {
      options.scale = *scale;
    } else {
      problems.push_back(call_problem("--scale", call.text("--scale"), "a number from 0.5 to 4"));
    }
  }
  if (!problems.empty()) return fail(problems);
  remark_on(*changed);

  options.title = fmt::format("Bushbaby: {} on {}", character_name(file->tuning.name),
                              shortened(level->level.name));
  if (call.has("--set")) setup.session.present = changed->tuning;
  setup.session.file = std::move(*file);
  setup.session.level = std::move(level->level);
  setup.session.book = *book;
  setup.session.ghost = *ghost;
  setup.is_borrowed = files->is_demo;
  live::App app(std::move(setup));
  live::FrameCosts costs;
  if (const auto problem = live::run_window(app, options, costs)) return fail({*problem});
  if (call.has("--costs")) report(costs);
  return kDone;
}

#else

int play(const Call&) {
  return fail({call_problem("play", "a build without the window", "one with BUSHBABY_WINDOW on")});
}

#endif

}  // namespace

Verb play_verb() {
  return {"play",
          "play a character in a window and change it while you play",
          {{"TUNING", "", "the tuning file; if omitted, Pip in the grove"},
           {"--level", "LEVEL", "the level file, or a drawing (*.svg)"},
           {"--targets", "TARGETS", "targets to draw on the level and judge as you play"},
           {"--against", "TUNING",
            "a second character on the same inputs; if omitted, the file's own numbers"},
           {"--recorded", "TRACE", "a recorded run as the second character"},
           {"--inputs", "INPUTS", "inputs to play first"},
           set_parameter(),
           {"--scale", "NUMBER", "scale of the interface; if omitted, as the display asks"},
           {"--script", "FILE", "follow a script, take its screenshots, and quit"},
           knobs_parameter(),
           {"--costs", "", "at the end, show what frames cost", Role::gives}},
          "Keys: arrows or A and D to run, Space to jump, Shift to dash; P to pause, comma and "
          "full stop to step tick by tick; hold Tab for the file's numbers, E to amplify the "
          "chosen knob; F4 gives the keyboard to the knobs, F2 saves. The page \"keys\" lists and "
          "changes them all.",
          "Pip in the grove, with what he should be like",
          "bushbaby play demo/pip.tuning.toml --level demo/first-limbs.level.toml \\\n"
          "             --targets demo/pip.targets.toml",
          play};
}

}  // namespace bushbaby::tool
