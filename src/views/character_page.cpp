#include "bushbaby/views/character_page.h"

#include <fmt/format.h>

#include "bushbaby/records/reports.h"
#include "bushbaby/views/overlay_picture.h"
#include "bushbaby/views/windows_picture.h"

#include "words.h"

namespace bushbaby {
namespace {

PageSection arcs_section(const CharacterPage& character) {
  PageSection section{"Jumps"};
  section.words.emplace_back(
      "Left the standing jumps over time, held and released after a tick; right the running ones "
      "over "
      "the way, with the body at take-off, apex and landing. A dot is a tick.");
  section.pictures.push_back(draw(character.jumps));
  return section;
}

std::string value_text(const std::optional<double>& value, Dimension dimension,
                       const Units& units) {
  return value ? fmt::format("{:.5g}", units.shown(dimension, *value)) : std::string("none");
}

// Every fact; beside those of another, how far its own are from them.
PageSection facts_section(const CharacterPage& character) {
  PageSection section{"What it does"};
  section.words.emplace_back(
      "Each fact is measured by a standard test move, none is read from the tuning.");
  const bool two = character.variants.size() > 1;
  PageTable table{{"fact", "unit", character.variants.front().name}, {}};
  if (two) table.heads.push_back(character.variants[1].name);
  table.heads.emplace_back("how it is measured");
  for (const DrillReport& report : character.variants.front().facts) {
    for (const Fact& fact : report.facts) {
      const Dimension dimension = fact.info->dimension;
      const auto other =
          two ? value_of(character.variants[1].facts, fact.info->name) : std::optional<double>();
      if (!fact.value && !other) continue;
      std::vector<std::string> row{std::string(fact.info->name), character.units.name(dimension),
                                   value_text(fact.value, dimension, character.units)};
      if (two) row.push_back(value_text(other, dimension, character.units));
      row.emplace_back(fact.info->measured);
      table.rows.push_back(std::move(row));
    }
  }
  section.tables.push_back(std::move(table));
  return section;
}

PageSection windows_section(const CharacterPage& character) {
  PageSection section{"Windows"};
  section.words.emplace_back(
      "A press of jump in every tick around an edge, a landing and a wall: what each does. Below, "
      "the height of a standing jump over the ticks for which the button is held.");
  section.pictures.push_back(draw(WindowsPicture{character.windows, character.units}));
  return section;
}

PageSection comparison_section(const CharacterPage& character) {
  PageSection section{
      fmt::format("{} against {}", character.variants[0].name, character.variants[1].name)};
  section.words.emplace_back("Both running jumps on one map; below, over time.");
  section.pictures.push_back(draw(OverlayPicture{"the drill running_jump", character.variants,
                                                 nullptr, nullptr, character.units}));
  if (character.differing_knobs.empty()) return section;
  PageTable table{{"knob that differs", character.variants[0].name, character.variants[1].name},
                  {}};
  for (const KnobDifference& one : character.differing_knobs) {
    table.rows.push_back({one.key, one.in_a, one.in_b});
  }
  section.tables.push_back(std::move(table));
  return section;
}

PageSection verdicts_section(const CharacterPage& character) {
  PageSection section{character.judgement->met() ? "Targets: all met" : "Targets: some are missed"};
  PageTable table{{"target", "unit", "aim", "measured", "verdict"}, {}};
  for (const Verdict& verdict : character.judgement->verdicts) {
    const Target& target = *verdict.target;
    const Dimension dimension = dimension_of(target);
    std::string outcome = verdict.met                           ? "met"
                          : target.priority == Priority::should ? "missed (should)"
                                                                : "MISSED";
    const std::string& why = verdict.measured ? verdict.reported : verdict.why_not;
    if (!verdict.met && !why.empty()) outcome += ": " + why;
    table.rows.push_back({subject_of(target), character.units.name(dimension),
                          bound_text(target, character.units),
                          value_text(verdict.measured, dimension, character.units), outcome});
  }
  section.tables.push_back(std::move(table));
  return section;
}

PageSection numbers_section(const CharacterPage& character) {
  PageSection section{"Numbers"};
  section.words.push_back(fmt::format(
      "In {}. Mechanisms that are switched off are not listed; what begins with \"loop.\" "
      "follows from the others for this loop.",
      character.units.describe()));
  for (const Rounding& rounding : character.roundings) {
    section.words.emplace_back("Rounded: " + describe(rounding, character.tuning.loop.tick_rate));
  }
  for (const std::string& remark : character.remarks)
    section.words.emplace_back("Remark: " + remark);
  PageTable table{{"knob", "value", "unit"}, {}};
  ExportStyle style;
  style.convention = character.units.convention;
  for (const ExportRow& row : export_rows(character.tuning, style)) {
    table.rows.push_back({row.key, row.text, row.unit});
  }
  section.tables.push_back(std::move(table));
  return section;
}

}  // namespace

Page page_of(const CharacterPage& character) {
  Page page;
  page.title = detail::character_name(character.name);
  page.subtitle = fmt::format(
      "{}; body {} by {}; full jump {}", character.loop,
      character.units.text(Dimension::length, character.tuning.body.width, 4),
      character.units.text(Dimension::length, character.tuning.body.height, 4),
      character.jumps.full
          ? fmt::format(
                "{} high, {} in the air",
                character.units.text(Dimension::length, character.jumps.full->arc.height(), 4),
                character.units.text(Dimension::time, character.jumps.full->arc.air_time(), 4))
          : std::string("none"));
  if (character.judgement) page.sections.push_back(verdicts_section(character));
  if (character.variants.size() > 1) page.sections.push_back(comparison_section(character));
  page.sections.push_back(arcs_section(character));
  page.sections.push_back(windows_section(character));
  page.sections.push_back(facts_section(character));
  page.sections.push_back(numbers_section(character));
  return page;
}

}  // namespace bushbaby
