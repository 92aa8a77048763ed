#include "progress.h"

#include <algorithm>
#include <cstdio>

#include <unistd.h>

namespace bushbaby::tool {

Progress::Progress() : watched_(::isatty(STDERR_FILENO) == 1) {}

Progress::~Progress() {
  if (wide_ > 0) (void)std::fputs(("\r" + std::string(wide_, ' ') + "\r").c_str(), stderr);
}

void Progress::report(const std::string& text) {
  if (!watched_) return;
  const std::string line =
      "\r" + text + std::string(wide_ > text.size() ? wide_ - text.size() : 0, ' ');
  wide_ = std::max(wide_, text.size());
  (void)std::fputs(line.c_str(), stderr);
  (void)std::fflush(stderr);
}

}  // namespace bushbaby::tool
