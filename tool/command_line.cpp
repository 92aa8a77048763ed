// The command line: names, help and examples of every verb. The only file that knows CLI11.
#include <algorithm>

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include "bushbaby/data/problem.h"
#include "bushbaby/version.h"

#include "output.h"
#include "verbs.h"

namespace bushbaby::tool {
namespace {

void add_settings(CLI::App& verb, std::vector<std::string>& settings) {
  verb.add_option("--set", settings, "Change a knob for this call: run.top_speed=8; repeatable")
      ->type_name("KNOB=VALUE")
      ->allow_extra_args(false);
}

void add_tuning(CLI::App& verb, std::string& tuning) {
  verb.add_option("tuning", tuning, "The tuning file")->required()->type_name("TUNING");
}

void add_json(CLI::App& verb, bool& json) {
  verb.add_flag("--json", json, "One JSON object on standard output, for machines");
}

void add_plot(CLI::App& verb, std::string& plot, const std::string& what) {
  verb.add_option("--plot", plot, what + ", as a .png or .svg picture")->type_name("FILE");
}

void add_derive(CLI::App& app, DeriveCall& call) {
  CLI::App& verb = *app.add_subcommand(
      "derive", "From the jump you want to the constants that give it in your loop");
  const auto quantity = [&verb](const char* name, std::optional<std::string>& text,
                                const char* help, const char* unit) {
    verb.add_option(name, text, help)->type_name(unit);
  };
  quantity("--height", call.height, "Height of a full jump", "U");
  quantity("--apex-time", call.apex_time, "Take-off to apex: 0.38, 380ms or 23t", "TIME");
  quantity("--launch-speed", call.launch_speed, "Speed along up at launch", "U/S");
  quantity("--gravity", call.gravity, "Gravity while rising", "U/S²");
  quantity("--air-time", call.air_time, "Take-off to landing on level ground", "TIME");
  quantity("--distance", call.distance, "Way of a jump at top speed; needs --top-speed", "U");
  quantity("--top-speed", call.top_speed, "Run speed", "U/S");
  quantity("--fall-factor", call.fall_factor, "Gravity while falling over gravity while rising",
           "FACTOR");
  quantity("--terminal-speed", call.terminal_speed, "Fastest fall", "U/S");
  quantity("--tick-rate", call.tick_rate, "Ticks in a second of your loop (60)", "HZ");
  quantity("--integrator", call.integrator,
           "Your loop: exact, averaged, semi_implicit or explicit (exact)", "NAME");
  verb.add_flag("--no-launch-gravity", call.no_launch_gravity,
                "Your loop applies no gravity on the tick that launches");
  verb.add_option("--from", call.from, "Take everything but the jump from this tuning")
      ->type_name("TUNING");
  verb.add_option("--write", call.write,
                  "Put the answer into this tuning; an existing one keeps its text and comments")
      ->type_name("TUNING");
  add_settings(verb, call.settings);
  add_plot(verb, call.plot, "The arcs of the answer");
  add_json(verb, call.json);
  verb.footer(
      "Give two of --height --apex-time --launch-speed --gravity and --air-time or --distance.\n\n"
      "Example: 3.25 u high, top after 0.38 s, falls 1.7 times as hard, in a loop that adds\n"
      "gravity before it moves:\n"
      "  bushbaby derive --height 3.25 --apex-time 0.38 --fall-factor 1.7 --top-speed 7 \\\n"
      "                  --tick-rate 60 --integrator semi_implicit");
}

void add_drill(CLI::App& app, DrillCall& call) {
  CLI::App& verb =
      *app.add_subcommand("drill", "Measure what a tuning really does, by standard manoeuvres");
  add_tuning(verb, call.tuning);
  verb.add_option("--only", call.only, "Run this drill only; repeatable")
      ->type_name("DRILL")
      ->allow_extra_args(false);
  add_settings(verb, call.settings);
  add_plot(verb, call.plot, "Full, tapped and running jumps");
  add_json(verb, call.json);
  verb.footer(
      "Example: how high and how far would Pip jump with a longer rise?\n"
      "  bushbaby drill demo/pip.tuning.toml --set jump.apex_time=0.45 --plot jumps.png");
}

void add_judge(CLI::App& app, JudgeCall& call) {
  CLI::App& verb = *app.add_subcommand(
      "judge", "Compare what a tuning does with targets; exit code 1 if one is missed");
  add_tuning(verb, call.tuning);
  verb.add_option("targets", call.targets, "The targets file")->required()->type_name("TARGETS");
  add_settings(verb, call.settings);
  add_plot(verb, call.plot, "The arcs against their reference, and every target");
  add_json(verb, call.json);
  verb.footer(
      "Example: which targets would a heavier fall miss, and by how much?\n"
      "  bushbaby judge demo/pip.tuning.toml demo/pip.targets.toml \\\n"
      "                 --set fall.factor=2.2 --plot verdict.png");
}

void add_run(CLI::App& app, RunCall& call) {
  CLI::App& verb = *app.add_subcommand("run", "Play a tape on a course and write down the trace");
  add_tuning(verb, call.tuning);
  verb.add_option("--course", call.course, "The course file")->required()->type_name("COURSE");
  verb.add_option("--tape", call.tape, "The tape: what is held, and for how long")
      ->required()
      ->type_name("TAPE");
  verb.add_option("--trace", call.trace, "Write the trace, a row a tick, as CSV")
      ->type_name("FILE");
  verb.add_option("--convention", call.convention,
                  "Write the trace in another convention: file (the tuning's), or written out, "
                  "such as \"one_unit=16 px, vertical=down, time=tick\"")
      ->type_name("CONVENTION");
  add_settings(verb, call.settings);
  add_plot(verb, call.plot, "The trail on the course, events marked");
  add_json(verb, call.json);
  verb.footer(
      "Example:\n"
      "  bushbaby run demo/pip.tuning.toml --course demo/first-limbs.course.toml \\\n"
      "               --tape demo/first-leaps.tape --trace pip.csv --plot pip.png");
}

void add_why(CLI::App& app, WhyCall& call) {
  CLI::App& verb = *app.add_subcommand(
      "why", "Explain what each press of a run did, or any tick; or where two runs part");
  verb.add_option("tuning", call.tuning, "The tuning file")->type_name("TUNING");
  verb.add_option("--course", call.course, "The course file")->type_name("COURSE");
  verb.add_option("--tape", call.tape, "The tape")->type_name("TAPE");
  verb.add_option("--tick", call.ticks,
                  "Explain this tick instead of every press of jump, dash and down; repeatable")
      ->type_name("TICK")
      ->allow_extra_args(false);
  verb.add_option("--against", call.against,
                  "Run this tuning too, and say where the two part and why")
      ->type_name("TUNING");
  verb.add_option("--against-set", call.other_settings,
                  "Change a knob for the second run only; repeatable")
      ->type_name("KNOB=VALUE")
      ->allow_extra_args(false);
  verb.add_option("--traces", call.traces, "Two recorded traces instead: say where they part")
      ->type_name("A.csv B.csv")
      ->expected(2);
  verb.add_option("--within", call.within,
                  "How far numbers of two runs may lie apart and still be the same (0)")
      ->type_name("NUMBER");
  add_settings(verb, call.settings);
  add_json(verb, call.json);
  verb.footer(
      "Example: what would a shorter time of grace change, and why?\n"
      "  bushbaby why demo/pip.tuning.toml --course demo/hollow-trunk.course.toml \\\n"
      "               --tape demo/moonlit-climb.tape --against-set jump.coyote=4t");
}

void add_demo(CLI::App& app, DemoCall& call) {
  CLI::App& verb = *app.add_subcommand(
      "demo", "Walk through the first minutes on the demo data, a night in the baobab grove");
  verb.add_option("--data", call.data, "Where the demo data is, if not where it was installed")
      ->type_name("FOLDER");
  verb.add_option("--out", call.out, "Where pictures, traces and a copy of the data go")
      ->type_name("FOLDER")
      ->capture_default_str();
  verb.footer("Example:\n  bushbaby demo --out /tmp/first-night");
}

// The name of an option or a verb that an unknown word was probably meant to be.
std::string nearest_word(const CLI::App& app, const std::string& word) {
  std::vector<std::string> names;
  for (const CLI::App* verb : app.get_subcommands(nullptr)) names.push_back(verb->get_name());
  for (const CLI::App* verb : app.get_subcommands()) {
    for (const CLI::Option* option : verb->get_options()) names.push_back(option->get_name());
  }
  const std::vector<std::string_view> views(names.begin(), names.end());
  return std::string(nearest_name(word.substr(0, word.find('=')), views));
}

std::string unknown_word(const CLI::App& app, const std::string& word, const char* kind) {
  const std::string near = nearest_word(app, word);
  return fmt::format("found {}, which is no {} here{}", word, kind,
                     near.empty() ? "" : fmt::format("; did you mean {}?", near));
}

int refuse(const CLI::App& app, const CLI::ParseError& error, const CLI::App& root) {
  std::string message = error.what();
  if (dynamic_cast<const CLI::RequiredError*>(&error) != nullptr && &app == &root) {
    message = "found no verb; expected derive, drill, judge, run, why or demo";
  }
  if (const auto* extras = dynamic_cast<const CLI::ExtrasError*>(&error); extras != nullptr) {
    const std::string extra = message.substr(message.rfind(' ') + 1);
    message = unknown_word(root, extra, "option");
  }
  return fail(fmt::format("{} (bushbaby {}--help tells more)", message,
                          &app == &root ? "" : app.get_name() + " "));
}

}  // namespace

int run_command(const std::vector<std::string>& arguments, const std::string& program) {
  CLI::App app(
      "Bushbaby tunes a platformer character's run, jump and fall: derive constants from the jump\n"
      "you want, run them on a course, and measure what they really do.",
      "bushbaby");
  app.set_version_flag("--version", std::string("bushbaby ") + kVersion);
  app.require_subcommand(1);
  app.footer("Start with: bushbaby demo");
  DeriveCall derive_call;
  DrillCall drill_call;
  JudgeCall judge_call;
  RunCall run_call;
  WhyCall why_call;
  DemoCall demo_call;
  add_derive(app, derive_call);
  add_drill(app, drill_call);
  add_judge(app, judge_call);
  add_run(app, run_call);
  add_why(app, why_call);
  add_demo(app, demo_call);

  const auto verbs = app.get_subcommands(nullptr);
  const auto is_named = [&](const CLI::App* verb) { return verb->get_name() == arguments[0]; };
  const bool names_verb = !arguments.empty() && arguments[0].substr(0, 1) != "-";
  if (names_verb && std::none_of(verbs.begin(), verbs.end(), is_named)) {
    return fail(unknown_word(app, arguments[0], "verb"));
  }
  try {
    app.parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
  } catch (const CLI::Success& success) {
    return app.exit(success);  // --help and --version
  } catch (const CLI::ParseError& error) {
    const auto chosen = app.get_subcommands();
    return refuse(chosen.empty() ? app : *chosen.front(), error, app);
  }
  const std::string verb = app.get_subcommands().front()->get_name();
  if (verb == "derive") return derive(derive_call);
  if (verb == "drill") return drill(drill_call);
  if (verb == "judge") return judge(judge_call);
  if (verb == "run") return run(run_call);
  if (verb == "why") return why(why_call);
  return demo(demo_call, program);
}

}  // namespace bushbaby::tool
