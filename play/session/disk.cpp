#include "disk.h"

#include "bushbaby/data/files.h"

namespace bushbaby::live {

void DiskWatch::know(const TuningFile& file) {
  paths_ = {file.path};
  if (!file.based_on.empty()) paths_.push_back(file.based_on);
  known_ = texts();
  since_ = 0;
}

bool DiskWatch::look(double seconds) {
  constexpr double kApart = 0.5;  // s
  since_ += seconds;
  if (since_ < kApart) return false;
  since_ = 0;
  std::vector<std::string> now = texts();
  // An editor that writes again leaves no file, or an empty one, for a moment.
  for (const std::string& text : now) {
    if (text.empty()) return false;
  }
  if (now == known_) return false;
  known_ = std::move(now);
  return true;
}

std::vector<std::string> DiskWatch::texts() const {
  std::vector<std::string> all;
  all.reserve(paths_.size());
  for (const std::string& path : paths_) {
    const auto text = read_file(path);
    all.push_back(text ? *text : std::string());
  }
  return all;
}

}  // namespace bushbaby::live
