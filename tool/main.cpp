#include <csignal>

#include "output.h"
#include "verb.h"

int main(int count, char** values) {
  // Who stops reading is reported by the exit code, not by an end without a word.
  std::signal(SIGPIPE, SIG_IGN);
  std::signal(SIGXFSZ, SIG_IGN);  // the largest file there may be is reported as a full disk
  const std::vector<std::string> arguments(values + (count > 0 ? 1 : 0), values + count);
  const std::string program = count > 0 ? values[0] : "bushbaby";
  return bushbaby::tool::finish(bushbaby::tool::run_command(arguments, program));
}
