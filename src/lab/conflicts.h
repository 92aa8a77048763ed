// Which targets cannot be met together.
#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <vector>

#include "trials.h"

namespace bushbaby::detail {

class Conflicts {
 public:
  /// After a search that ended with targets missed. All must outlive this.
  Conflicts(const Tuning& tuning, const std::vector<Target>& targets,
            const std::vector<FreeKnob>& knobs, const Attempt& nearest, int most_evaluations);

  /// How many weighings of all targets it was worth.
  [[nodiscard]] int evaluations() const noexcept { return evaluations_; }

  /// Sets of targets that were not found to go together, but do without any one of them; the
  /// smallest first.
  [[nodiscard]] std::vector<Conflict> find();

 private:
  using Set = std::vector<std::size_t>;  // of targets

  [[nodiscard]] std::vector<Target> targets_of(const Set& set) const;
  std::optional<Attempt> look_for(std::vector<Target> targets, const Amounts& from);
  bool can_be(const Set& set);
  Set smallest_in(Set set);
  [[nodiscard]] std::optional<double> measured_at(const Attempt& trial, std::size_t target) const;
  std::optional<double> nearest_beside(const Set& others, std::size_t one);

  const Tuning& tuning_;
  const std::vector<Target>& targets_;
  const std::vector<FreeKnob>& knobs_;
  const Attempt& nearest_;
  int budget_;
  int evaluations_ = 0;
  std::map<Set, bool> known_;
};

}  // namespace bushbaby::detail
