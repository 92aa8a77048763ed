#include "bushbaby/lab/overlay.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/overlay_reports.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/records/trace_csv.h"
#include "bushbaby/views/overlay_picture.h"

#include "entrants.h"
#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kMostVariants = 8;

// A recorded trace as a variant, in the lengths of the units in which all is reported.
Result<Variant> recorded(const std::string& path, const Units& units) {
  auto file = load_trace(path);
  if (!file) return tl::unexpected(file.error());
  auto trace = in_world_units(*file, units);
  if (!trace) {
    return tl::unexpected(std::vector<Problem>{call_problem(
        "--recorded",
        fmt::format("{}, whose lengths are in {}", path, file->units.convention.length_name),
        units.convention.length_name == "u"
            ? "a trace in u"
            : fmt::format("a trace in u or {}", units.convention.length_name))});
  }
  Variant variant{path, {}, std::move(*trace)};
  variant.traits.body_width = variant.traits.body_height = 0;
  return variant;
}

std::vector<Problem> find_overlay_gaps(const Call& call) {
  std::vector<Problem> problems;
  const bool on_level = call.has("--level") || call.has("--inputs");
  if (on_level && call.has("--drill")) {
    problems.push_back(call_problem("--drill", "a level or inputs beside it",
                                    "--drill DRILL, or --level LEVEL --inputs INPUTS"));
  } else if (on_level && !(call.has("--level") && call.has("--inputs"))) {
    problems.push_back(call_problem("", call.has("--level") ? "no --inputs" : "no --level",
                                    "--level LEVEL --inputs INPUTS"));
  }
  if (on_level && call.has("--reference")) {
    problems.push_back(call_problem("--reference", "a level beside it", "a drill"));
  }
  if (!on_level && call.has("--recorded")) {
    problems.push_back(call_problem("--recorded", "no level to run on beside it",
                                    "--level LEVEL --inputs INPUTS, what was recorded there"));
  }
  if (!on_level && call.has("--drill")) {
    const std::string name = call.text("--drill");
    std::vector<std::string_view> known;
    for (const Drill& drill : drills()) {
      if (drill.record != nullptr) known.push_back(drill.name);
    }
    if (std::find(known.begin(), known.end(), name) == known.end()) {
      problems.push_back({ProblemCode::unknown_name, "--drill", 0, 0, "", name,
                          fmt::format("a drill that is a jump: one of {}", fmt::join(known, ", ")),
                          std::string(nearest_name(name, known))});
    }
  }
  const std::size_t others = call.texts("--try").size() + call.texts("--without").size() +
                             call.texts("--with").size() + call.texts("--recorded").size();
  if (others == 0 || others >= kMostVariants) {
    problems.push_back(call_problem(
        "", others == 0 ? "nothing to compare with" : fmt::format("{} variants", others + 1),
        fmt::format("--try, --without, --with or --recorded, up to {} variants", kMostVariants)));
  }
  return problems;
}

// Everything that is laid over one another, and what of it is compared.
struct OverlayMaterial {
  std::string on;
  std::optional<Level> level;
  std::vector<Variant> variants;
  std::vector<Compared> rows;
  std::optional<Curve> reference;
};

// On a level.
Result<OverlayMaterial> run_all(const Call& call, const std::vector<Entrant>& entrants,
                                const Units& units) {
  const std::string path = call.text("--level");
  const auto level = load_level_file(path);
  const auto inputs = load_inputs(call.text("--inputs"), entrants.front().file.units());
  std::vector<Problem> problems;
  if (!level) append(problems, level.error());
  if (!inputs) append(problems, inputs.error());
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  OverlayMaterial material;
  material.on = fmt::format("\"{}\"", level->level.name.empty() ? path : level->level.name);
  material.level = level->level;
  for (const Entrant& entrant : entrants) {
    append(problems,
           find_excess(*inputs, entrant.file.tuning.loop.tick_rate, call.text("--inputs")));
    const auto book = compile_for(entrant.file, *level, path, units);
    if (!book) append(problems, book.error());
    if (!problems.empty()) return tl::unexpected(std::move(problems));
    auto variant = record_run(CharacterSubject(*book, entrant.name), entrant.name,
                              level_stage(level->level), *inputs);
    if (!variant) {
      return tl::unexpected(no_room(path, level->level, book->rules(0), units));
    }
    material.variants.push_back(std::move(*variant));
  }
  for (const std::string& trace : call.texts("--recorded")) {
    auto variant = recorded(trace, entrants.front().file.units());
    if (!variant) return tl::unexpected(variant.error());
    material.variants.push_back(std::move(*variant));
  }
  material.rows = compare_arcs(material.variants);
  return material;
}

// In a drill; the facts of that one, or of all.
Result<OverlayMaterial> drill_all(const Call& call, const std::vector<Entrant>& entrants) {
  const Drill& drill = *find_drill(call.has("--drill") ? call.text("--drill") : "running_jump");
  OverlayMaterial material;
  material.on = fmt::format("the drill {}", drill.name);
  if (call.has("--reference")) {
    const auto curve = load_curve(call.text("--reference"), entrants.front().file.units());
    if (!curve) return tl::unexpected(curve.error());
    material.reference = *curve;
  }
  for (const Entrant& entrant : entrants) {
    const auto compiled = check_tuning(entrant.file);
    if (!compiled) return tl::unexpected(compiled.error());
    CharacterSubject subject(compiled->rules, entrant.name);
    auto variant = record_drill(subject, entrant.name, drill);
    if (!variant) {
      return tl::unexpected(std::vector<Problem>{call_problem(
          "--drill", fmt::format("{}, in which {} makes no jump", drill.name, entrant.name),
          "a jump that all of them make and land from")});
    }
    variant->facts =
        call.has("--drill") ? run_drills(subject, {call.text("--drill")}) : run_drills(subject);
    material.variants.push_back(std::move(*variant));
  }
  material.rows = compare_facts(material.variants);
  for (const Compared& row : compare_readiness(material.variants)) material.rows.push_back(row);
  if (material.reference) {
    material.rows.push_back(
        compare_misses(*material.reference, call.text("--reference"), material.variants));
  }
  return material;
}

int overlay(const Call& call) {
  auto problems = find_overlay_gaps(call);
  if (!problems.empty()) return fail(problems);
  std::vector<std::string> read{call.text("TUNING"), call.text("--level"), call.text("--inputs"),
                                call.text("--reference")};
  for (const char* option : {"--with", "--recorded"}) {
    const auto& paths = call.texts(option);
    read.insert(read.end(), paths.begin(), paths.end());
  }
  if (const auto clashes = find_clashes(call, read); !clashes.empty()) return fail(clashes);
  const std::vector<Entrant> entrants = entrants_of(call, problems);
  if (!problems.empty()) return fail(problems);
  const auto units = units_of(call, entrants.front().file);
  if (!units) return fail(units.error());
  remark_on(entrants.front().file);
  const auto material =
      call.has("--level") ? run_all(call, entrants, *units) : drill_all(call, entrants);
  if (!material) return fail(material.error());

  OverlayReport report{material->on, *units, material->variants, {}, material->rows};
  report.knobs = differences_of(call, entrants, *units);
  print(call.has("--json") ? overlay_json(report) : overlay_table(report));
  if (call.has("--plot")) {
    const OverlayPicture picture{material->on, material->variants,
                                 material->level ? &*material->level : nullptr,
                                 material->reference ? &*material->reference : nullptr, *units};
    if (const int code = draw_to(draw(picture), call.text("--plot")); code != kDone) return code;
  }
  const bool stalled =
      std::any_of(material->variants.begin(), material->variants.end(),
                  [](const Variant& variant) { return variant.stall.has_value(); });
  return stalled ? kFindings : kDone;
}

}  // namespace

Verb overlay_verb() {
  return {"overlay",
          "compare variants of a tuning on the same inputs or in the same drill",
          {tuning_parameter(),
           try_parameter(),
           without_parameter(),
           with_parameter(),
           {"--recorded", "TRACE", "a recorded trace on the same level; can be repeated",
            Role::takes, true},
           {"--level", "LEVEL", "the level to run on"},
           {"--inputs", "INPUTS", "the inputs to run"},
           {"--drill", "DRILL",
            "compare the jump of a drill: stand_jump, hop or running_jump (the default), and its "
            "facts"},
           {"--reference", "CURVE", "a curve to compare the drill's jump with"},
           set_parameter(),
           units_parameter(),
           knobs_parameter(),
           plot_parameter("all paths on one map; speed, windows and buttons over time"),
           json_parameter()},
          "",
          "what does coyote time change on this level?",
          "bushbaby overlay demo/pip.tuning.toml --without jump.coyote \\\n"
          "             --level demo/first-limbs.level.toml --inputs demo/late-leaps.inputs --plot "
          "overlay.png",
          overlay};
}

}  // namespace bushbaby::tool
