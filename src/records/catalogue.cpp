#include "bushbaby/records/catalogue.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/core/motion/events.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/lab/drills.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

// A knob as it is listed: in the convention of a file, if there is one.
struct Entry {
  std::string key;
  std::string value;  // in the tuning; empty without one
  std::string standard;
  std::string unit;
  std::string takes;
  std::string_view help;
};

// What a knob takes, shorter than in a message.
std::string takes_of(const Knob& knob, double per_unit) {
  if (const auto* choice = std::get_if<ChoiceBinding>(&knob.binding)) {
    return fmt::format("{}", fmt::join(choice->names, choice->names + choice->count, " | "));
  }
  if (std::holds_alternative<KnobAccess<bool>>(knob.binding)) return "true | false";
  if (std::holds_alternative<KnobAccess<std::string>>(knob.binding)) return "text";
  constexpr double kMost = std::numeric_limits<double>::max();
  Range range = knob.range;
  if (range.lo > -kMost) range.lo /= per_unit;
  if (range.hi < kMost) range.hi /= per_unit;
  return describe(range);
}

std::vector<Entry> entries_of(const TuningFile* file) {
  const Convention convention = file == nullptr ? Convention{} : file->convention;
  const Tuning standard;
  const double rate = file == nullptr ? standard.loop.tick_rate : file->tuning.loop.tick_rate;
  std::vector<Entry> entries;
  const auto add = [&](const KnobPlace& place) {
    const Knob& knob = *place.knob;
    const auto text_in = [&](const Tuning& tuning) {
      return describe(to_convention(convention, knob, get_knob(tuning, knob, place.row), rate));
    };
    const bool in_file = file != nullptr && knob.has_row(file->tuning, place.row);
    entries.push_back({file == nullptr ? std::string(knob.key) : place.key(),
                       in_file ? text_in(file->tuning) : "", text_in(standard),
                       unit_in(convention, knob.dimension),
                       takes_of(knob, knob.dimension == Dimension::time
                                          ? 1
                                          : factor_of(convention, knob.dimension, rate)),
                       knob.help});
  };
  if (file == nullptr) {
    for (const Knob& knob : knobs()) add({&knob, 0});
  } else {
    for (const KnobPlace& place : places_of(file->tuning)) add(place);
  }
  return entries;
}

}  // namespace

std::string knob_list(const TuningFile* file) {
  const std::vector<Entry> entries = entries_of(file);
  const auto width_of = [&entries](std::string Entry::*member, std::string_view heading) {
    std::size_t width = heading.size();
    for (const Entry& entry : entries) width = std::max(width, (entry.*member).size());
    return width;
  };
  const std::size_t key = width_of(&Entry::key, "knob");
  const std::size_t value = width_of(&Entry::value, "value");
  const std::size_t standard = width_of(&Entry::standard, "default");
  const std::size_t unit = width_of(&Entry::unit, "unit");
  const std::size_t takes = width_of(&Entry::takes, "takes");
  const auto row = [&](const std::string& k, const std::string& v, const std::string& d,
                       const std::string& u, const std::string& t, std::string_view help) {
    std::string text = fmt::format("{:<{}}  ", k, key);
    if (file != nullptr) text += fmt::format("{:<{}}  ", v, value);
    return text + fmt::format("{:<{}}  {:<{}}  {:<{}}  {}\n", d, standard, u, unit, t, takes, help);
  };
  std::string text = row("knob", "value", "default", "unit", "takes", "what it does");
  std::string mechanism;
  for (const Entry& entry : entries) {
    const std::string now = entry.key.substr(0, entry.key.find('.'));
    if (now != mechanism) text += "\n";
    mechanism = now;
    text += row(entry.key, entry.value, entry.standard, entry.unit, entry.takes, entry.help);
  }
  return text;
}

std::string knob_list_json(const TuningFile* file) {
  Json list = Json::array();
  for (const Entry& entry : entries_of(file)) {
    Json item{{"knob", entry.key}};
    if (file != nullptr) item["value"] = entry.value;
    item["default"] = entry.standard;
    item["unit"] = entry.unit;
    item["takes"] = entry.takes;
    item["help"] = entry.help;
    list.push_back(std::move(item));
  }
  return json_text({{"knobs", list}});
}

std::string fact_list(const TuningFile* file) {
  const Units units = file == nullptr ? Units{} : file->units();
  std::string text;
  for (const Drill& drill : drills()) {
    text += fmt::format("{}{}: {} Needs a {}.\n", text.empty() ? "" : "\n", drill.name, drill.help,
                        name_of(drill.needs));
    for (const FactInfo& fact : drill.facts) {
      text +=
          fmt::format("  {:<30} {:<8} {}\n", fact.name, units.name(fact.dimension), fact.measured);
    }
  }
  return text;
}

std::string fact_list_json(const TuningFile* file) {
  const Units units = file == nullptr ? Units{} : file->units();
  Json list = Json::array();
  for (const Drill& drill : drills()) {
    for (const FactInfo& fact : drill.facts) {
      list.push_back({{"fact", fact.name},
                      {"drill", drill.name},
                      {"unit", units.name(fact.dimension)},
                      {"measured", fact.measured}});
    }
  }
  return json_text({{"facts", list}});
}

std::string knob_reference() {
  const Tuning defaults;
  std::string text = "| key | takes | default | what it does |\n|---|---|---|---|\n";
  for (const Knob& knob : knobs()) {
    text += fmt::format("| `{}` | {} | {} | {} |\n", knob.key, describe(describe_expected(knob)),
                        describe(get_knob(defaults, knob)), knob.help);
  }
  return text;
}

std::string event_reference() {
  std::string text = "| event | what happened | detail | value |\n|---|---|---|---|\n";
  for (const EventMeaning& meaning : event_meanings()) {
    std::string details;
    for (const std::string_view word : meaning.words) {
      if (!word.empty()) details += fmt::format("{}`{}`", details.empty() ? "" : ", ", word);
    }
    const char* what = meaning.value == EventValue::speed ? "speed " : "";
    text += fmt::format("| `{}` | {} | {} | {}{} |\n", meaning.name, meaning.reports, details, what,
                        meaning.value_is);
  }
  return text;
}

std::string fact_reference() {
  std::string text;
  for (const Drill& drill : drills()) {
    text += fmt::format(
        "### {}\n\n{} Needs a {}.\n\n| fact | unit | how it is measured |\n|---|---|---|\n",
        drill.name, drill.help, name_of(drill.needs));
    for (const FactInfo& fact : drill.facts) {
      text +=
          fmt::format("| `{}` | {} | {} |\n", fact.name, unit_of(fact.dimension), fact.measured);
    }
    text += "\n";
  }
  return text;
}

}  // namespace bushbaby
