#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/export_table.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// How the numbers of a call's export are meant.
Result<ExportStyle> style_of(const Call& call, const TuningFile& file) {
  ExportStyle style;
  std::vector<Problem> problems;
  const auto units = units_of(call, file);
  if (units) {
    style.convention = units->convention;
  } else {
    append(problems, units.error());
  }
  if (call.has("--reference-gravity")) {
    const std::string text = call.text("--reference-gravity");
    style.reference_gravity = parse_quantity(text, Dimension::acceleration, file.units());
    if (!style.reference_gravity || !(*style.reference_gravity > 0)) {
      problems.push_back(call_problem("--reference-gravity", text, "an acceleration, more than 0"));
    }
  }
  if (call.has("--mass")) {
    style.mass = parse_number(call.text("--mass"));
    if (!style.mass || !(*style.mass > 0)) {
      problems.push_back(call_problem("--mass", call.text("--mass"), "a number, more than 0"));
    }
  }
  style.radians = call.has("--radians");
  style.single = call.has("--single");
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return style;
}

int export_numbers(const Call& call) {
  if (const auto clashes = find_clashes(call, {call.text("TUNING")}); !clashes.empty()) {
    return fail(clashes);
  }
  const auto form = export_form_of(call.text("--as"));
  std::vector<Problem> problems;
  if (!form) {
    problems.push_back(call_problem("--as", call.has("--as") ? call.text("--as") : "nothing",
                                    "one of toml, json, csv, cpp, c"));
  }
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  if (!file) append(problems, file.error());
  const auto style = style_of(call, file ? *file : TuningFile{});
  if (!style) append(problems, style.error());
  if (!problems.empty()) return fail(problems);
  remark_on(*file);
  const std::string text = write_export(file->tuning, *style, *form);
  if (!call.has("--out")) {
    print(text);
    return kDone;
  }
  if (const auto problem = write_file(call.text("--out"), text)) return fail({*problem});
  say_written(call.text("--out"));
  return kDone;
}

int import_numbers(const Call& call) {
  const std::string path = call.text("--out");
  if (is_same_file(path, call.text("TABLE"))) {
    return fail({call_problem("--out", path + ", which is the table", "a file of its own")});
  }
  const auto imported = load_export(call.text("TABLE"));
  if (!imported) return fail(imported.error());
  TuningFile source;
  source.convention = imported->style.convention;
  source.tuning = imported->tuning;
  if (const auto compiled = check_tuning(source); !compiled) return fail(compiled.error());
  if (!call.has("--out")) {
    print(write_tuning(imported->tuning, source.convention));
    return kDone;
  }
  if (exists(path)) {
    return fail({call_problem("--out", path + ", which is there already", "a new name")});
  }
  if (const auto problem = write_file(path, write_tuning(imported->tuning, source.convention))) {
    return fail({*problem});
  }
  say_written(path);
  return kDone;
}

}  // namespace

Verb export_verb() {
  return {"export",
          "write a tuning's numbers as a table for another program, in any units",
          {tuning_parameter(),
           {"--as", "FORM", "toml, json, csv, cpp (a header) or c (a header for C)", Role::needs},
           {"--reference-gravity", "GRAVITY",
            "also show gravities as multiples of this one, such as \"9.81 u/s²\""},
           {"--mass", "MASS", "also show the jump as an impulse on this mass"},
           {"--radians", "", "angles in radians; degrees if omitted"},
           {"--single", "",
            "single-precision numbers, with how far each is rounded; double if omitted"},
           set_parameter(),
           units_parameter(),
           knobs_parameter(),
           {"--out", "FILE", "the file to write; standard output if omitted", Role::gives}},
          "",
          "a header for a game that counts in pixels, y down, per tick",
          "bushbaby export demo/pip.tuning.toml --as cpp \\\n"
          "                --units \"one_unit=16 px, vertical=down, time=tick\" --out pip.h",
          export_numbers};
}

Verb import_verb() {
  return {"import",
          "turn a table that export wrote back into a tuning",
          {{"TABLE", "", "the table", Role::needs},
           {"--out", "FILE", "the tuning to write, a new file; standard output if omitted",
            Role::gives}},
          "",
          "the numbers of a header, as a tuning again",
          "bushbaby import pip.h --out pip-again.tuning.toml",
          import_numbers};
}

}  // namespace bushbaby::tool
