#include <algorithm>
#include <cstdio>
#include <filesystem>

#include <fmt/format.h>

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

namespace fs = std::filesystem;

struct Step {
  std::string title;
  std::vector<std::string> arguments;
  std::string shows;
  std::string try_next;
};

// The steps, in the order in which people work. `at` names files in the demo's own folder.
std::vector<Step> steps_in(const fs::path& folder) {
  const auto at = [&folder](const char* name) { return (folder / name).string(); };
  return {
      {"From a picture in mind to constants",
       {"derive", "--height", "3.25", "--apex-time", "0.38", "--fall-factor", "1.7", "--top-speed",
        "7", "--tick-rate", "60", "--integrator", "semi_implicit"},
       "\"3.25 u high, top after 0.38 s, falls 1.7 times as hard\" as numbers for a loop that adds "
       "gravity before it moves. The height comes out as asked; the times are whole ticks, because "
       "such a loop knows nothing in between.",
       "--integrator explicit, or --tick-rate 30: other launch speeds, the same height."},
      {"The same jump in Pip's own loop, into Pip's file",
       {"derive", "--height", "3.25", "--apex-time", "0.38", "--write", at("pip.tuning.toml")},
       "Without a loop of its own the call takes the one in the file (exact, 60 Hz), and "
       "everything "
       "else too. The file keeps its comments.",
       "open the tuning and read it: it is meant to be written by hand."},
      {"Measure what Pip does",
       {"drill", at("pip.tuning.toml"), "--plot", at("pip-jumps.png")},
       "Facts, each measured by a standard test move, none read from the file.",
       "--set jump.cut.keep=0.8: only the hop changes. --set fall.factor=1: air time and "
       "distance."},
      {"Compare it with the targets",
       {"judge", at("pip.tuning.toml"), at("pip.targets.toml"), "--plot", at("pip-verdict.png")},
       "Every target is met: exit code 0. A miss says by how much, and which value of which knob "
       "alone would meet it.",
       "--set jump.coyote=3ticks, --set fall.factor=2.4: which targets are missed, and by how "
       "much?"},
      {"Somebody made him heavy: back to the targets",
       {"fit", at("pip.tuning.toml"), at("pip.targets.toml"), "--set", "fall.factor=2.2", "--set",
        "jump.height=4"},
       "Of the knobs that move what is missed, it changes the two it has to, and says what else "
       "would work.",
       "--leave jump.apex_time: another knob has to make up for it. --save FILE writes the "
       "answer."},
      {"Run inputs on a level",
       {"run", at("pip.tuning.toml"), "--level", at("first-limbs.level.toml"), "--inputs",
        at("first-leaps.inputs"), "--trace", at("pip.csv"), "--plot", at("pip-run.png")},
       "Every arc and event of the run; the trace has a row for each tick.",
       "edit the inputs, or shorten a run-up and see which limb Pip misses."},
      {"What would change? Variants on the same inputs",
       {"overlay", at("pip.tuning.toml"), "--try", "fall.factor=2.2", "--without", "jump.coyote",
        "--level", at("first-limbs.level.toml"), "--inputs", at("late-leaps.inputs"), "--plot",
        at("pip-overlay.png")},
       "The inputs say \"3 ticks after edge\" and \"until landed\", so they fit every variant. The "
       "heavier fall lands sooner, in the same places; without coyote time the press comes too "
       "late, waits for the ground, and Pip ends up under the limb.",
       "--with dorro.tuning.toml: another character. Without --level and --inputs: the same drill, "
       "and every fact that differs."},
      {"The whole moveset, up the hollow trunk",
       {"run", at("pip.tuning.toml"), "--level", at("hollow-trunk.level.toml"), "--inputs",
        at("moonlit-climb.inputs"), "--plot", at("pip-climb.png")},
       "Wall jumps, a coyote jump, a dash, an air jump, a glide, a fast fall, a bounce, a push: "
       "each is an event, and a mark on the map.",
       "--set wall.exit.1.steer_lock=0ticks: the held direction cancels the push off the bark."},
      {
          "Sprint, and a wall to climb",
          {"run", at("pip.tuning.toml"), "--level", at("old-bark.level.toml"), "--inputs",
           at("up-the-bark.inputs"), "--plot", at("pip-bark.png")},
          "A long jump at the speed he took off with; a climb; resin that keeps walls from holding "
          "him; "
          "a "
          "reserve that holding on uses up and standing restores.",
          "--set wall.climb.reserve=4: he comes over the trunk without going back to the knot. "
          "--set "
          "run.sprint.in_air=changes: he misses the roots, and climbs out of the gap.",
      },
      {"Roots, lianas and a round limb, drawn as a picture",
       {"run", at("pip.tuning.toml"), "--level", at("moonlit-roots.svg"), "--inputs",
        at("over-the-roots.inputs"), "--plot", at("pip-roots.png")},
       "The level is a drawing: open it in any vector editor. He runs uphill and downhill at one "
       "speed and never hops off a crest; slides down what is too steep; jumps up through the "
       "lianas and drops through them, one per press.",
       "--set run.steepest_ground=65: the steep root is ground. --set drop.by=nothing: the lianas "
       "hold him. Move a root in the drawing."},
      {"A pool of sap, warm air, thorns: zones",
       {"run", at("pip.tuning.toml"), "--level", at("sap-pool.level.toml"), "--inputs",
        at("through-the-sap.inputs"), "--plot", at("pip-sap.png")},
       "Entering and leaving a zone are events. In the sap he sinks, dives, strokes, and jumps out "
       "at the surface; warm air carries him up the trunk; in the thorns he may not jump.",
       "why with the same files and --tick 557: which zone forbids the jump. drill --in \"sap "
       "pool\" --level sap-pool.level.toml: everything as measured in the sap."},
      {"Down is to the right, and towards a point",
       {"run", at("pip.tuning.toml"), "--level", at("crooked-hollow.level.toml"), "--inputs",
        at("around-the-burr.inputs"), "--plot", at("pip-burr.png")},
       "In the hollow the trunk is his floor: he lands on it and runs up. Round the burr he runs "
       "at his usual speed, jumps off it, meets the bees, and is pulled back.",
       "in the level: turn_rate, keeps = { turns = false }, inputs = \"screen\"."},
      {"A gourd that swings, a seed pod that rides up",
       {"run", at("pip.tuning.toml"), "--level", at("swinging-gourd.level.toml"), "--inputs",
        at("over-the-gap.inputs"), "--plot", at("pip-gourd.png")},
       "Moving platforms carry whoever stands on them and add their speed to jumps: off the gourd "
       "he flies farther, off the pod higher than ever.",
       "in the level: inherit = { vertical = 0 } under a surface of the pod: he does not reach the "
       "limb. why with the same files and --tick 416: what carries him."},
      {"Why did he (not) jump just then?",
       {"why", at("pip.tuning.toml"), "--level", at("hollow-trunk.level.toml"), "--inputs",
        at("moonlit-climb.inputs"), "--tick", "240", "--tick", "272"},
       "Tick 240 jumps five ticks after the moss ended; at tick 272 nothing is pressed. For each "
       "tick: what was decided, by which knob, and why every other candidate failed.",
       "without --tick: a line for every press of the inputs."},
      {"The same with a shorter coyote time",
       {"why", at("pip.tuning.toml"), "--level", at("hollow-trunk.level.toml"), "--inputs",
        at("moonlit-climb.inputs"), "--against-set", "jump.coyote=4ticks"},
       "The runs diverge at that very tick: the press comes too late for a coyote jump and uses up "
       "the air jump.",
       "--against dorro.tuning.toml: another character on the same inputs."},
      {"Dorro, the heavy one",
       {"drill", at("dorro.tuning.toml"), "--only", "run_up", "--only", "charge", "--only", "push",
        "--only", "wall_gain"},
       "His file is based on Pip's and says only what differs: a slow start, a charged jump, and "
       "half the push.",
       "open dorro.tuning.toml; --set jump.charge.bend=-1."},
      {"Constants from a recording",
       {"recover", at("recordings/pip-at-dusk.csv"), "--plot", at("pip-recovered.png")},
       "A noisy log in pixels, y down, with rows missing: gravity and launch speed, the hang band, "
       "the cut, the run, both windows, each with an interval, and the loop. Where the log does "
       "not show something, it says what to record.",
       "recordings/leap-off-a-picture.csv, thirty points read off the picture of his jump: --pin "
       "\"x 88 = 0 s\" --pin \"x 594 = 0.7 s\" --pin \"y 695 = 0 u\" --pin \"y 152 = 3.5 u\"."},
      {"\"He is too floaty\": less so, and just as high",
       {"answer", at("pip.tuning.toml"), "floaty", "--plot", at("pip-answer.png")},
       "The complaint as facts, what stays as it is, and up to three options, each with what it "
       "costs.",
       "answer pip.tuning.toml \"eats my jump\" \"wall jump too weak\". --option 1 --save "
       "less-floaty.tuning.toml writes one."},
  };
}

// Whether a folder, there or not, is another one or lies in it.
bool lies_in(const fs::path& inner, const fs::path& outer) {
  std::error_code ignored;
  const fs::path in = fs::weakly_canonical(fs::absolute(inner, ignored), ignored);
  const fs::path out = fs::weakly_canonical(fs::absolute(outer, ignored), ignored);
  return std::mismatch(out.begin(), out.end(), in.begin(), in.end()).first == out.end();
}

bool copy_data(const fs::path& from, const fs::path& to) {
  std::error_code error;
  fs::create_directories(to, error);
  if (error) return false;
  fs::copy(from, to, fs::copy_options::overwrite_existing | fs::copy_options::recursive, error);
  return !error;
}

std::string command_text(const std::vector<std::string>& arguments) {
  std::string text = "bushbaby";
  for (const std::string& argument : arguments) text += " " + argument;
  return text;
}

int demo(const Call& call) {
  const auto data = find_demo_data(call);
  if (!data) {
    return fail({call_problem("--data", call.has("--data") ? call.text("--data") : "no demo data",
                              "the folder with pip.tuning.toml")});
  }
  const std::string out = call.has("--out") ? call.text("--out") : "bushbaby-demo";
  if (lies_in(out, *data)) {
    return fail({call_problem("--out", out + ", which lies in the demo data", "another folder")});
  }
  if (!copy_data(*data, out)) {
    return fail({call_problem("--out", out, "a folder that the demo data can be copied to")});
  }
  print(
      fmt::format("A night in the baobab grove. Pip, a young bushbaby, learns to leap.\n"
                  "The data of this walk is in {}: play with it.\n",
                  out));
  int number = 0;
  std::vector<std::string> pictures;
  for (const Step& step : steps_in(out)) {
    const auto plot = std::find(step.arguments.begin(), step.arguments.end(), "--plot");
    if (plot != step.arguments.end()) pictures.push_back(*(plot + 1));
    print(fmt::format("\n== {}. {}\n\n$ {}\n", ++number, step.title, command_text(step.arguments)));
    std::fflush(stdout);
    const int code = run_command(step.arguments, call.program());
    if (code != kDone) return code;
    print(fmt::format("\nWhat it shows: {}\nTry next:      {}\n", step.shows, step.try_next));
  }
  print(fmt::format("\nThe pictures are {}.\n", fmt::join(pictures, ", ")));
  return kDone;
}

}  // namespace

Verb demo_verb() {
  return {"demo",
          "walk through the first minutes on the demo data, a night in the baobab grove",
          {{"--data", "FOLDER", "where the demo data is, if not where it was installed"},
           {"--out", "FOLDER",
            "where pictures, traces and a copy of the data go; bushbaby-demo if omitted"}},
          "",
          "the walk, in a folder of your choice",
          "bushbaby demo --out /tmp/first-night",
          demo};
}

}  // namespace bushbaby::tool
