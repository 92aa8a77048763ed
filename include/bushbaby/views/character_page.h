// Everything about a character on one page, for a team to look at.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/overlay.h>
#include <bushbaby/lab/targets.h>
#include <bushbaby/records/explanations.h>
#include <bushbaby/records/export_table.h>
#include <bushbaby/records/window_reports.h>
#include <bushbaby/views/charts.h>
#include <bushbaby/views/page.h>

namespace bushbaby {

struct CharacterPage {
  std::string name;
  std::string loop;  ///< "60 Hz, exact loop"
  Units units{};     ///< in which numbers are reported
  Tuning tuning{};
  std::vector<Rounding> roundings{};
  std::vector<std::string> remarks{};
  JumpChart jumps{};
  std::vector<WindowsOf> windows{};  ///< its own, and of the other
  std::vector<Variant> variants{};   ///< its own facts and running jump, and those of the other
  std::vector<KnobDifference> differing_knobs{};
  std::optional<Judgement> judgement{};
};

/// The page: the arcs, the facts, the windows, the verdicts, the comparison, the numbers.
[[nodiscard]] Page page_of(const CharacterPage& character);

}  // namespace bushbaby
