// Names of files that name one another.
#pragma once

#include <string>

namespace bushbaby::detail {

// A path without detours.
std::string normal_path(const std::string& path);

// The path of a file that another one, at `path`, names.
std::string path_beside(const std::string& path, const std::string& name);

// How a file at `path` names another one.
std::string name_beside(const std::string& path, const std::string& other);

// Whether two files lie in one folder, as their paths say.
bool is_same_folder(const std::string& a, const std::string& b);

}  // namespace bushbaby::detail
