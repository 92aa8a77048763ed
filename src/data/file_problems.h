// What may be wrong with a file as a whole.
#pragma once

#include <cstring>
#include <string>
#include <system_error>
#include <utility>
#include <vector>

#include "bushbaby/data/problem.h"

#include "machine.h"

namespace bushbaby::detail {

inline Problem cannot_read(const std::string& path, std::string found) {
  return {ProblemCode::cannot_read, path, 0, 0, "", std::move(found), "a readable file", ""};
}

inline Problem cannot_write(const std::string& path, const std::string& why) {
  return {ProblemCode::cannot_write, path, 0, 0, "", why, "a place that can be written to", ""};
}

inline tl::unexpected<std::vector<Problem>> alone(Problem problem) {
  return tl::unexpected(std::vector<Problem>{std::move(problem)});
}

inline std::string reason_of(int error) {
#ifdef BUSHBABY_PLAIN_LIBRARY
  return std::strerror(error);
#else
  return std::system_category().message(error);  // strerror need not stand several threads
#endif
}

}  // namespace bushbaby::detail
