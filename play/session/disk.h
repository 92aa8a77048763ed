// Files that an editor changes while they are played with.
#pragma once

#include <string>
#include <vector>

#include "bushbaby/data/tuning_file.h"

namespace bushbaby::live {

/// Looks at a tuning file, and at the one that it is based on, twice a second.
class DiskWatch {
 public:
  /// What they hold now is known.
  void know(const TuningFile& file);

  /// Whether they hold something else than what is known, N seconds after the last look. It
  /// is known from then on.
  [[nodiscard]] bool look(double seconds);

 private:
  [[nodiscard]] std::vector<std::string> texts() const;

  std::vector<std::string> paths_;
  std::vector<std::string> known_;
  double since_ = 0;  // s
};

}  // namespace bushbaby::live
