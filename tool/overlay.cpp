#include "bushbaby/lab/overlay.h"

#include <algorithm>
#include <set>
#include <sstream>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/explanations.h"
#include "bushbaby/records/overlay_reports.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/records/trace_csv.h"
#include "bushbaby/views/overlay_picture.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kMostVariants = 8;

// A tuning that is laid over the others.
struct Cast {
  std::string name;
  TuningFile file;
};

std::string without_blanks_around(const std::string& text) {
  const std::size_t first = text.find_first_not_of(' ');
  if (first == std::string::npos) return {};
  return text.substr(first, text.find_last_not_of(' ') - first + 1);
}

// Settings written on one line, with commas between them: "fall.factor = 2.2, jump.coyote=4ticks".
std::vector<Setting> settings_in(const std::string& text, const std::string& option) {
  std::vector<Setting> settings;
  std::istringstream parts(text);
  for (std::string part; std::getline(parts, part, ',');) {
    const std::size_t equals = std::min(part.find('='), part.size());
    std::string setting = without_blanks_around(part.substr(0, equals));
    if (equals < part.size()) setting += "=" + without_blanks_around(part.substr(equals + 1));
    if (!setting.empty()) settings.emplace_back(std::move(setting), option);
  }
  return settings;
}

// The keys that --without knows: every knob and every group of them.
std::vector<std::string_view> switchable_keys() {
  std::set<std::string_view> keys;
  for (const Knob& knob : knobs()) {
    for (std::size_t dot = knob.key.find('.'); dot != std::string_view::npos;
         dot = knob.key.find('.', dot + 1)) {
      keys.insert(knob.key.substr(0, dot));
    }
    keys.insert(knob.key);
  }
  return {keys.begin(), keys.end()};
}

// The tunings of a call: TUNING, then what --try, --without and --with say.
std::vector<Cast> casts_of(const Call& call, std::vector<Problem>& problems) {
  std::vector<Cast> casts;
  const auto add = [&](const std::string& name, const std::string& path,
                       const std::vector<Setting>& settings) {
    auto file = load_tuning(path, settings);
    if (file) {
      casts.push_back({name.empty() ? file->tuning.name : name, std::move(*file)});
    } else {
      append(problems, file.error());
    }
    return file.has_value();
  };
  const std::string path = call.text("TUNING");
  const std::vector<Setting> base = settings_of(call);
  if (!add("", path, base)) return casts;
  for (const std::string& text : call.texts("--try")) {
    std::vector<Setting> settings = base;
    const auto more = settings_in(text, "--try");
    if (more.empty()) {
      problems.push_back(call_problem("--try", text, "settings: \"fall.factor=2.2\""));
    }
    settings.insert(settings.end(), more.begin(), more.end());
    add(text, path, settings);
  }
  for (const std::string& key : call.texts("--without")) {
    Cast cast{"without " + key, casts.front().file};
    if (reset_knobs(cast.file.tuning, key)) {
      casts.push_back(std::move(cast));
    } else {
      problems.push_back({ProblemCode::unknown_name, "--without", 0, 0, "", key,
                          "a knob or a group of knobs: jump.coyote, dash, wall.exit",
                          std::string(nearest_name(key, switchable_keys()))});
    }
  }
  for (const std::string& other : call.texts("--with")) add("", other, {});
  return casts;
}

// A recorded trace as a variant, in the lengths of the units in which all is told.
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

std::vector<Problem> find_gaps(const Call& call) {
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
struct Material {
  std::string on;
  std::optional<Level> level;
  std::vector<Variant> variants;
  std::vector<Compared> rows;
  std::optional<Curve> reference;
};

// On a level.
Result<Material> run_all(const Call& call, const std::vector<Cast>& casts, const Units& units) {
  const std::string path = call.text("--level");
  const auto level = load_level_file(path);
  const auto inputs = load_inputs(call.text("--inputs"), casts.front().file.units());
  std::vector<Problem> problems;
  if (!level) append(problems, level.error());
  if (!inputs) append(problems, inputs.error());
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  Material material;
  material.on = fmt::format("\"{}\"", level->level.name.empty() ? path : level->level.name);
  material.level = level->level;
  for (const Cast& cast : casts) {
    append(problems, find_excess(*inputs, cast.file.tuning.loop.tick_rate, call.text("--inputs")));
    const auto book = compile_for(cast.file, *level, path, units);
    if (!book) append(problems, book.error());
    if (!problems.empty()) return tl::unexpected(std::move(problems));
    auto variant = record_run(CharacterSubject(*book, cast.name), cast.name,
                              level_stage(level->level), *inputs);
    if (!variant) {
      return tl::unexpected(no_room(path, level->level, book->rules(0), units));
    }
    material.variants.push_back(std::move(*variant));
  }
  for (const std::string& trace : call.texts("--recorded")) {
    auto variant = recorded(trace, casts.front().file.units());
    if (!variant) return tl::unexpected(variant.error());
    material.variants.push_back(std::move(*variant));
  }
  material.rows = compare_arcs(material.variants);
  return material;
}

// How far the arcs lie from a reference.
Compared compare_with(const Curve& curve, const std::string& name,
                      const std::vector<Variant>& variants) {
  Compared row{"farthest from " + name, Dimension::length, {}};
  for (const Variant& variant : variants) {
    row.values.emplace_back(measure_miss(curve, *variant.jump).distance);
  }
  return row;
}

// In a drill; the facts of that one, or of all.
Result<Material> drill_all(const Call& call, const std::vector<Cast>& casts) {
  const Drill& drill = *find_drill(call.has("--drill") ? call.text("--drill") : "running_jump");
  Material material;
  material.on = fmt::format("the drill {}", drill.name);
  if (call.has("--reference")) {
    const auto curve = load_curve(call.text("--reference"), casts.front().file.units());
    if (!curve) return tl::unexpected(curve.error());
    material.reference = *curve;
  }
  for (const Cast& cast : casts) {
    const auto compiled = check_tuning(cast.file);
    if (!compiled) return tl::unexpected(compiled.error());
    CharacterSubject subject(compiled->rules, cast.name);
    auto variant = record_drill(subject, cast.name, drill);
    if (!variant) {
      return tl::unexpected(std::vector<Problem>{call_problem(
          "--drill", fmt::format("{}, in which {} makes no jump", drill.name, cast.name),
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
        compare_with(*material.reference, call.text("--reference"), material.variants));
  }
  return material;
}

int overlay(const Call& call) {
  auto problems = find_gaps(call);
  if (!problems.empty()) return fail(problems);
  std::vector<std::string> read{call.text("TUNING"), call.text("--level"), call.text("--inputs"),
                                call.text("--reference")};
  for (const char* option : {"--with", "--recorded"}) {
    const auto& paths = call.texts(option);
    read.insert(read.end(), paths.begin(), paths.end());
  }
  if (const auto clashes = find_clashes(call, read); !clashes.empty()) return fail(clashes);
  const std::vector<Cast> casts = casts_of(call, problems);
  if (!problems.empty()) return fail(problems);
  const auto units = units_of(call, casts.front().file);
  if (!units) return fail(units.error());
  remark_on(casts.front().file);
  const auto material = call.has("--level") ? run_all(call, casts, *units) : drill_all(call, casts);
  if (!material) return fail(material.error());

  OverlayReport report{material->on, *units, material->variants, {}, material->rows};
  for (const Cast& cast : casts) {
    // What was tried says itself what differs.
    const bool tells = cast.file.path != call.text("TUNING");
    report.knobs.push_back(
        tells ? differing_knobs(casts.front().file.tuning, cast.file.tuning, *units)
              : std::vector<std::string>{});
  }
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
  return {
      "overlay",
      "lay variants of a tuning over one another, on the same inputs or in the same drill, and say "
      "what differs",
      {tuning_parameter(),
       {"--try", "SETTINGS",
        "a variant: the tuning with these knobs, commas between them: "
        "\"fall.factor=2.2, jump.coyote=4ticks\"; can be repeated",
        Role::takes, true},
       {"--without", "KNOB",
        "a variant: the tuning with this knob, or all of this group, switched off: jump.coyote, "
        "dash, wall.exit; can be repeated",
        Role::takes, true},
       {"--with", "TUNING", "a variant: another tuning; can be repeated", Role::takes, true},
       {"--recorded", "TRACE", "a recorded trace of the same level; can be repeated", Role::takes,
        true},
       {"--level", "LEVEL", "the level to run on"},
       {"--inputs", "INPUTS", "the inputs to run"},
       {"--drill", "DRILL",
        "the jump of a drill instead: stand_jump, hop or running_jump, which it is if nothing is "
        "said; its facts are compared, or those of all drills"},
       {"--reference", "CURVE", "a curve that the drill's jump is compared with"},
       set_parameter(),
       units_parameter(),
       knobs_parameter(),
       plot_parameter("all trails on one map; speed, windows and buttons over time"),
       json_parameter()},
      "",
      "what does coyote time change on this level?",
      "bushbaby overlay demo/pip.tuning.toml --without jump.coyote \\\n"
      "             --level demo/first-limbs.level.toml --inputs demo/late-leaps.inputs --plot "
      "overlay.png",
      overlay};
}

}  // namespace bushbaby::tool
