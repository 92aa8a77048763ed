#include "lists.h"

#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/answer_reports.h"
#include "bushbaby/records/catalogue.h"

#include "output.h"

namespace bushbaby::tool {

bool lists_only(const Call& call) {
  return call.has("--knobs") || call.has("--facts") || call.has("--words");
}

int print_lists(const Call& call) {
  TuningFile none;
  const TuningFile* file = nullptr;
  Result<TuningFile> read = none;
  if (call.has("TUNING")) {
    read = load_tuning(call.text("TUNING"), settings_of(call));
    if (!read) return fail(read.error());
    file = &*read;
  }
  const bool json = call.has("--json");
  if (call.has("--facts")) print(json ? fact_list_json(file) : fact_list(file));
  if (call.has("--words")) print(complaints_table());
  if (call.has("--knobs")) print(json ? knob_list_json(file) : knob_list(file));
  return kDone;
}

}  // namespace bushbaby::tool
