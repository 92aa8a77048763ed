// The built command in a folder of its own, which holds a copy of the demo data.
#pragma once

#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <string>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/wait.h>
#include <unistd.h>

#include "demo_folder.h"

namespace bushbaby::test {

// Before a command: a display of its own. The key to it lies in the folder that the command runs
// in: the one that is made for it otherwise is at times not empty yet when it is taken away again,
// which counts as a failure. Drivers of displays keep what they allocate.
inline constexpr const char* kOnDisplay =
    "ASAN_OPTIONS=detect_leaks=0 xvfb-run -a -f display.key -s '-screen 0 1280x800x24'";

struct Outcome {
  int code = -1;  // -1: ended by a signal, or by hanging
  std::string out;
  std::string err;
};

class CommandTest : public DemoFolder {
 protected:
  // Runs the command through the shell, with words of the shell before and behind it. What takes
  // longer than some minutes counts as hanging (sanitizers make everything some 20 times as slow).
  [[nodiscard]] Outcome run(const std::string& arguments, const std::string& before = "",
                            const std::string& behind = "2>stderr.txt") const {
    const std::string line =
        fmt::format("cd '{}' && {} timeout {} '{}' {} {}", folder_.string(), before,
                    BUSHBABY_SLOW ? 600 : 120, BUSHBABY_COMMAND, arguments, behind);
    Outcome outcome;
    std::FILE* pipe = ::popen(line.c_str(), "r");
    std::array<char, 4096> block{};
    while (const std::size_t n = std::fread(block.data(), 1, block.size(), pipe)) {
      outcome.out.append(block.data(), n);
    }
    const int status = ::pclose(pipe);
    // The shell and `timeout` report signals and of hanging by codes from 124 on.
    constexpr int kLeastOfTheirs = 124;
    const bool own = WIFEXITED(status) && WEXITSTATUS(status) < kLeastOfTheirs;
    outcome.code = own ? WEXITSTATUS(status) : -1;
    if (exists(path("stderr.txt"))) outcome.err = text_of("stderr.txt");
    return outcome;
  }

  [[nodiscard]] nlohmann::json json_of(const std::string& arguments) const {
    const Outcome outcome = run(arguments + " --json");
    EXPECT_EQ(outcome.code, 0) << arguments << "\n" << outcome.err;
    return nlohmann::json::parse(outcome.out);
  }

  void put(const std::string& name, const std::string& text) const {
    std::ofstream(folder_ / name, std::ios::binary) << text;
  }
};

}  // namespace bushbaby::test
