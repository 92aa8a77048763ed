// Ways: the smallest changes of few knobs that meet all of some targets.
//
//     for (const Change& change : find_changes(pip, targets, {})) print(change);
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include <bushbaby/lab/fit.h>

namespace bushbaby {

struct Change {
  std::vector<KnobMove> knobs;  ///< that are turned, the one that is turned farthest first
  Tuning tuning;
  double size = 0;  ///< of the change: logarithms of ratios, added up
};

struct ChangeSearch {
  std::vector<FreeKnob> knobs{};  ///< among which to choose; none: `free_knobs`
  std::size_t most = 3;           ///< ways
  std::size_t most_knobs = 2;     ///< that one turns: 1 or 2
  Rounder round{};                ///< for numbers that are short in units
};

/// Options that turn one knob and, if there are fewer than asked for, such that turn two, none of
/// which would do alone; the smallest change first, where one knob more counts as a quarter.
/// Nothing if all is met, or no two knobs do.
[[nodiscard]] std::vector<Change> find_changes(const Tuning& tuning,
                                               const std::vector<Target>& targets,
                                               const ChangeSearch& options);

/// The longest runs, together, of the targets that `find_quiet_changes` looks after.
inline constexpr std::int64_t kMostQuietTicks = 2000;

/// Ways that meet a target which is missed and break none that is met; nothing where the runs of
/// these targets are longer than `kMostQuietTicks`. `missed` is a verdict of `before`.
[[nodiscard]] std::vector<Change> find_quiet_changes(const Tuning& tuning, const Judgement& before,
                                                     const Verdict& missed,
                                                     const ChangeSearch& options);

}  // namespace bushbaby
