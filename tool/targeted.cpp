#include "targeted.h"

#include <utility>

#include "bushbaby/lab/subject.h"
#include "bushbaby/records/reports.h"

#include "output.h"

namespace bushbaby::tool {

Result<Targeted> read_targeted(const Call& call) {
  auto clashes = find_clashes(call, {call.text("TUNING"), call.text("TARGETS")});
  if (!clashes.empty()) return tl::unexpected(std::move(clashes));
  auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto units = units_of(call, file ? *file : TuningFile{});
  auto targets = load_targets_file(call.text("TARGETS"), file ? file->units() : Units{});
  std::vector<Problem> problems;
  if (!file) append(problems, file.error());
  if (!units) append(problems, units.error());
  if (!targets) append(problems, targets.error());
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  const auto compiled = check_tuning(*file);
  if (!compiled) return tl::unexpected(compiled.error());
  remark_on(*file);
  CharacterSubject subject(compiled->rules, file->tuning.name);
  for (const std::string& remark : curve_remarks(targets->targets, subject)) {
    say("bushbaby: remark: " + remark);
  }
  return Targeted{std::move(*file), *units, std::move(*targets), compiled->rules};
}

}  // namespace bushbaby::tool
