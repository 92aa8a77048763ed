// Trials: tunings around one, with some knobs turned, each weighed once; and the search among them.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <vector>

#include "least_squares.h"
#include "misfit.h"
#include "turning.h"

namespace bushbaby::detail {

/// Amounts that were tried.
struct Attempt {
  Amounts amounts;
  Weighed weighed;
};

class Trials {
 public:
  /// The tuning must outlive them.
  Trials(const Tuning& tuning, std::vector<Target> targets, const std::vector<FreeKnob>& knobs);

  [[nodiscard]] const Tuning& tuning() const noexcept { return tuning_; }
  [[nodiscard]] const std::vector<Target>& targets() const noexcept { return misfit_.targets(); }
  [[nodiscard]] const std::vector<Variable>& variables() const noexcept { return variables_; }
  [[nodiscard]] std::size_t residuals() const noexcept { return misfit_.residuals(); }
  /// What the tuning itself has.
  [[nodiscard]] const Amounts& home() const noexcept { return home_; }
  /// How many tunings were weighed.
  [[nodiscard]] int evaluations() const noexcept { return evaluations_; }

  [[nodiscard]] std::optional<Tuning> tuning_at(const Amounts& amounts) const;
  /// Nothing if the tuning cannot be. May be called from several threads at once.
  std::optional<Weighed> weigh(const Amounts& amounts);

 private:
  const Tuning& tuning_;
  Misfit misfit_;
  std::vector<Variable> variables_;
  Amounts home_;
  std::mutex mutex_;
  std::map<Amounts, std::optional<Weighed>> known_;
  int evaluations_ = 0;
};

/// The nearest place downhill from a trial, variables that are held staying where they are.
[[nodiscard]] std::optional<Attempt> descend(Trials& trials, const Amounts& from,
                                             const std::vector<bool>& held, int most_rounds);

/// What the closed forms say to a height, an apex time and a launch speed that targets ask for;
/// else as the tuning is.
[[nodiscard]] Amounts amounts_of_formulas(const Trials& trials);

/// The slopes of the residuals at a trial, by variable, along their scales.
[[nodiscard]] std::vector<std::vector<double>> slopes_of(Trials& trials, const Attempt& trial);

struct SearchLimits {
  int starts = 6;
  int most_evaluations = 6000;  ///< of the trials, those made before included
  std::uint64_t seed = 1;
  bool wanders = true;  ///< whether chance has its turn where no start leads to an answer
  std::function<void(int evaluations, std::size_t missed)> progress{};
};

struct Searched {
  Attempt best;
  int starts = 0;
};

/// From the formulas' answer, then from the tuning, then from random places, and at last by
/// chance alone, until all targets are met or a limit is reached. The tuning itself must be one
/// that can be.
[[nodiscard]] Searched search(Trials& trials, const SearchLimits& limits);

}  // namespace bushbaby::detail
