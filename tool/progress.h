// How far something is, on a line that is written over, where somebody watches.
#pragma once

#include <string>

namespace bushbaby::tool {

class Progress {
 public:
  Progress();
  ~Progress();
  Progress(const Progress&) = delete;
  Progress& operator=(const Progress&) = delete;

  [[nodiscard]] bool is_watched() const noexcept { return watched_; }
  void report(const std::string& text);

 private:
  bool watched_;
  std::size_t wide_ = 0;
};

}  // namespace bushbaby::tool
