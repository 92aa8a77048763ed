// A folder of a test's own, which holds a copy of the demo data.
#pragma once

#include <filesystem>
#include <string>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <unistd.h>

#include "bushbaby/data/files.h"

namespace bushbaby::test {

class DemoFolder : public testing::Test {
 protected:
  void SetUp() override {
    const auto* info = testing::UnitTest::GetInstance()->current_test_info();
    folder_ = std::filesystem::temp_directory_path() /
              fmt::format("bushbaby-{}-{}", info->name(), ::getpid());
    std::filesystem::create_directories(folder_);
    std::filesystem::copy(std::string(BUSHBABY_SOURCE_DIR) + "/demo", folder_,
                          std::filesystem::copy_options::recursive);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }

  [[nodiscard]] std::string path(const std::string& name) const {
    return (folder_ / name).string();
  }
  // What a file has; nothing if it is not there.
  [[nodiscard]] std::string text_of(const std::string& name) const {
    return read_file(path(name), std::size_t{1} << 30).value_or(std::string());
  }

  std::filesystem::path folder_;
};

}  // namespace bushbaby::test
