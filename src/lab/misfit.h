// The objective of a search: how far a tuning is from its targets, each in its own tolerance.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "bushbaby/lab/targets.h"

namespace bushbaby::detail {

/// What a tuning comes to.
struct Weighed {
  /// Of an aim its distance in tolerances; of bounds the way into what is met, 0 within; of a curve
  /// the differences of heights at places of it. As many for every tuning.
  std::vector<double> residuals;
  std::vector<bool> met;  ///< by target
  std::size_t missed_musts = 0;
  std::size_t missed = 0;

  [[nodiscard]] double cost() const noexcept;
};

/// How many residuals a target has.
[[nodiscard]] std::size_t residuals_of(const Target& target) noexcept;

class Misfit {
 public:
  explicit Misfit(std::vector<Target> targets);

  [[nodiscard]] const std::vector<Target>& targets() const noexcept { return targets_; }
  [[nodiscard]] std::size_t residuals() const noexcept { return residuals_; }
  /// Nothing if the tuning cannot be.
  [[nodiscard]] std::optional<Weighed> weigh(const Tuning& tuning) const;

 private:
  std::vector<Target> targets_;
  std::size_t residuals_ = 0;
};

/// How much of what a target measures is one unit of its misfit.
[[nodiscard]] double tolerance_of(const Target& target) noexcept;

/// Fewer missed musts are better, then fewer missed, then the smaller cost.
[[nodiscard]] bool is_better(const Weighed& a, const Weighed& b) noexcept;

}  // namespace bushbaby::detail
