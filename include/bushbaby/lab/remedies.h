// Remedies: what to do about a target that is missed.
//
//     for (const Remedy& remedy : find_remedies(pip, targets, judgement.verdicts[2]))
//     print(remedy);
//
// Each knob is tried alone, the nearest value that meets the target being looked for by measuring
// again and again. What the answer costs is measured too: the targets that it would break.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include <bushbaby/lab/targets.h>

namespace bushbaby {

/// A value of one knob that would meet a target which is missed, all others staying as they are.
struct Remedy {
  KnobPlace place;
  KnobValue from;
  KnobValue to;
  double measured = 0;                ///< of the target, with it; in its own unit
  bool meets = true;                  ///< false: no value does, this one comes nearest
  bool switches_on = false;           ///< the tuning has it switched off
  double change = 0;                  ///< by how much: the logarithm of the ratio; of ticks and
                                      ///< counts that of one more; of a choice that of four
  std::vector<const Target*> breaks;  ///< those that are met now and would not be then
};

/// Rounds a quantity to N significant digits, in the numbers that people will read.
using Rounder = std::function<double(Dimension dimension, double value, int digits)>;

/// To find remedies a run is made some thousand times; one of more ticks is not.
inline constexpr std::int64_t kMostAdvisedTicks = 5000;

/// What each knob alone could do about the target of `missed`, which points into `targets`: what
/// meets it first, then the least broken targets, the smallest change, and what the tuning has
/// switched off last. If nothing meets it, what brings it nearest. Knobs of the loop and of the
/// body are what they are. Nothing for a run of more than `kMostAdvisedTicks`, nor is it reported
/// whether such a one would be missed. `round` chooses the numbers that are offered; by default
/// they are short in world units; it is called from several threads at once.
[[nodiscard]] std::vector<Remedy> find_remedies(const Tuning& tuning,
                                                const std::vector<Target>& targets,
                                                const Verdict& missed,
                                                const Rounder& round = nullptr);

}  // namespace bushbaby
