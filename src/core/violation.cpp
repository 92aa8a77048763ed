#include "bushbaby/core/violation.h"

namespace bushbaby {

std::string describe(const Violation& violation) {
  return (violation.key.empty() ? "" : violation.key + ": ") + "found " + violation.found +
         ", expected " + violation.expected;
}

}  // namespace bushbaby
