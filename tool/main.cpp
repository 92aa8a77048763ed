#include "verb.h"

int main(int count, char** values) {
  const std::vector<std::string> arguments(values + 1, values + count);
  return bushbaby::tool::run_command(arguments, values[0]);
}
