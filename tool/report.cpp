#include <optional>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/windows.h"
#include "bushbaby/records/explanations.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/views/character_page.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// What the page shows of one tuning.
Result<Variant> measured(const TuningFile& file, CharacterPage& page) {
  const auto compiled = check_tuning(file);
  if (!compiled) return tl::unexpected(compiled.error());
  const std::string name = file.tuning.name.empty() ? file.path : file.tuning.name;
  CharacterSubject subject(compiled->rules, name);
  page.windows.push_back(windows_of(subject, name));
  // One that makes no such jump has its facts all the same.
  auto variant = record_drill(subject, name, *find_drill("running_jump"));
  if (!variant) variant = Variant{name, subject.traits(), {}};
  variant->facts = run_drills(subject);
  return std::move(*variant);
}

// What a call names.
struct PageMaterial {
  TuningFile file;
  std::optional<TuningFile> other;
  Units units;
  std::vector<Target> targets;
};

Result<PageMaterial> read(const Call& call) {
  std::vector<Problem> problems;
  PageMaterial material;
  const auto take = [&problems](auto&& found, auto& place) {
    if (found) {
      place = std::move(*found);
    } else {
      append(problems, found.error());
    }
  };
  take(load_tuning(call.text("TUNING"), settings_of(call)), material.file);
  take(units_of(call, material.file), material.units);
  if (call.has("--against")) take(load_tuning(call.text("--against")), material.other);
  if (call.has("--targets")) {
    take(load_targets(call.text("--targets"), material.file.units()), material.targets);
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return material;
}

Result<CharacterPage> page_with(const PageMaterial& material) {
  const TuningFile& file = material.file;
  const auto compiled = check_tuning(file);
  if (!compiled) return tl::unexpected(compiled.error());
  CharacterPage page;
  page.name = file.tuning.name;
  page.loop = describe_loop(file.tuning);
  page.units = material.units;
  page.tuning = file.tuning;
  page.remarks = unit_remarks(file);
  page.roundings = compiled->roundings;
  CharacterSubject subject(compiled->rules, file.tuning.name);
  page.jumps = record_jump_chart(subject, page.loop, material.units);
  for (const TuningFile* one : {&file, material.other ? &*material.other : nullptr}) {
    if (one == nullptr) continue;
    auto variant = measured(*one, page);
    if (!variant) return tl::unexpected(variant.error());
    page.variants.push_back(std::move(*variant));
  }
  if (material.other) {
    page.differing_knobs = knob_differences(file.tuning, material.other->tuning, material.units);
  }
  if (!material.targets.empty()) page.judgement = judge(material.targets, file.tuning);
  return page;
}

int report(const Call& call) {
  std::vector<std::string> paths{call.text("TUNING")};
  for (const char* option : {"--against", "--targets"}) {
    if (call.has(option)) paths.push_back(call.text(option));
  }
  if (const auto clashes = find_clashes(call, paths); !clashes.empty()) return fail(clashes);
  const auto material = read(call);
  if (!material) return fail(material.error());
  const auto page = page_with(*material);
  if (!page) return fail(page.error());
  const auto html = html_of(page_of(*page));
  if (!html) return fail(html.error());
  if (const auto problem = write_file(call.text("--out"), *html)) return fail({*problem});
  say_written(call.text("--out"));
  return page->judgement && !page->judgement->met() ? kFindings : kDone;
}

}  // namespace

Verb report_verb() {
  return {
      "report",
      "write everything about a tuning on one self-contained page (HTML)",
      {tuning_parameter(),
       {"--out", "FILE", "the page to write", Role::needs},
       {"--against", "TUNING", "compare with another tuning"},
       {"--targets", "TARGETS", "add the verdicts on these targets; exit code 1 if one is missed"},
       set_parameter(),
       units_parameter(),
       knobs_parameter()},
      "",
      "Pip beside Dorro, for the team",
      "bushbaby report demo/pip.tuning.toml --against demo/dorro.tuning.toml \\\n"
      "                --targets demo/pip.targets.toml --out pip.html",
      report};
}

}  // namespace bushbaby::tool
