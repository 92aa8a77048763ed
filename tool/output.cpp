#include "output.h"

#include <cstdio>

#include <fmt/format.h>

#include "verbs.h"

namespace bushbaby::tool {

int fail(const std::vector<Problem>& problems) {
  for (const Problem& problem : problems) fmt::print(stderr, "bushbaby: {}\n", describe(problem));
  return kWrong;
}

int fail(const std::string& message) {
  fmt::print(stderr, "bushbaby: {}\n", message);
  return kWrong;
}

void append(std::vector<Problem>& all, const std::vector<Problem>& more) {
  all.insert(all.end(), more.begin(), more.end());
}

void print(const std::string& text) { std::fwrite(text.data(), 1, text.size(), stdout); }

void say_written(const std::string& path) { fmt::print(stderr, "wrote {}\n", path); }

int draw_if_asked(const Drawing& drawing, const std::string& path) {
  if (path.empty()) return kDone;
  if (const auto problem = render(drawing, path)) return fail({*problem});
  say_written(path);
  return kDone;
}

}  // namespace bushbaby::tool
