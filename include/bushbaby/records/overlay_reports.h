// What differs between variants, as a table for people and as JSON for machines.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/overlay.h>

namespace bushbaby {

/// Variants side by side; each is compared with the first.
struct OverlayReport {
  std::string on;  ///< the level, or the drill
  Units units{};   ///< in which numbers are reported
  const std::vector<Variant>& variants;
  std::vector<std::vector<std::string>> knobs{};  ///< by variant: in which it differs, in words
  std::vector<Compared> rows{};  ///< what else is compared: arcs, facts, a reference
};

/// "A", "B", …: what a variant is called in a table and beside its line.
[[nodiscard]] std::string letter_of(std::size_t variant);

/// A line for each variant that says where it diverges from the first, and a table of what differs.
[[nodiscard]] std::string overlay_table(const OverlayReport& report);
[[nodiscard]] std::string overlay_json(const OverlayReport& report);

}  // namespace bushbaby
