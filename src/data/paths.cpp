#include "paths.h"

#include "machine.h"

#ifndef BUSHBABY_PLAIN_LIBRARY

#include <filesystem>
#include <system_error>

namespace bushbaby::detail {

namespace fs = std::filesystem;

std::string normal_path(const std::string& path) {
  return fs::path(path).lexically_normal().string();
}

std::string path_beside(const std::string& path, const std::string& name) {
  return (fs::path(path).parent_path() / name).lexically_normal().string();
}

std::string name_beside(const std::string& path, const std::string& other) {
  std::error_code ignored;
  const fs::path folder = fs::absolute(path, ignored).lexically_normal().parent_path();
  const fs::path name = fs::absolute(other, ignored).lexically_normal().lexically_relative(folder);
  return name.generic_string();
}

bool is_same_folder(const std::string& a, const std::string& b) {
  const auto folder_of = [](const std::string& path) {
    return fs::path(path).parent_path().lexically_normal();
  };
  return folder_of(a) == folder_of(b);
}

}  // namespace bushbaby::detail

#else

namespace bushbaby::detail {
namespace {

std::string folder_of(const std::string& path) {
  const std::size_t slash = path.rfind('/');
  return slash == std::string::npos ? "" : path.substr(0, slash + 1);
}

}  // namespace

std::string normal_path(const std::string& path) { return path; }

std::string path_beside(const std::string& path, const std::string& name) {
  return !name.empty() && name.front() == '/' ? name : folder_of(path) + name;
}

std::string name_beside(const std::string& path, const std::string& other) {
  const std::string folder = folder_of(path);
  return other.substr(0, folder.size()) == folder ? other.substr(folder.size()) : other;
}

bool is_same_folder(const std::string& a, const std::string& b) {
  return folder_of(a) == folder_of(b);
}

}  // namespace bushbaby::detail

#endif
