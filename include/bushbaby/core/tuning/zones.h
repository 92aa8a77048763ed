// A tuning compiled for a level with zones: its rules in every combination of zones that a body can
// be in at once.
//
//     const CompiledBook compiled = compile_book(tuning, level.zones);
//     if (!compiled.ok()) report(compiled.violations);
//     advance(character, controls, compiled.book, world);
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/tuning/violation.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

/// A book has rules for at most N combinations of zones.
inline constexpr std::size_t kMostCombinations = 4096;

/// What is wrong with the zones of a level for a character.
struct ZoneViolation {
  std::vector<ZoneId> zones;  ///< those that it is about, in order; none: the tuning itself
  /// Of one override: which of its zone's; otherwise it is about all of them.
  std::optional<std::size_t> override_index;
  Violation violation;
};

struct CompiledBook {
  Rulebook book;                          ///< counts if there are no violations
  std::vector<ZoneViolation> violations;  ///< every one

  [[nodiscard]] bool ok() const noexcept { return violations.empty(); }
};

/// The rules of a tuning with and without zones. Every knob is made concrete first: a jump's
/// gravity and launch speed, the rates of the run, distance and time of a dash. Overrides apply to
/// that, those of zones of lower rank first, of the same rank in order. So another gravity changes
/// the height of a jump and not its launch speed; another height or time changes the launch speed
/// under the gravity in force. Knobs of the loop and of the body are the same everywhere.
[[nodiscard]] CompiledBook compile_book(const Tuning& tuning, const std::vector<Zone>& zones);

/// The tuning as it is in some zones of a level, for measuring in them: the rules are those that
/// `compile_book` has for them. Fails as that does.
[[nodiscard]] CompiledBook compile_in(const Tuning& tuning, const std::vector<Zone>& zones,
                                      const std::vector<ZoneId>& within);

}  // namespace bushbaby
