// Every command of the README, the guide and the help pages runs, and what they show of its output
// is what it prints.
#include <algorithm>
#include <regex>

#include "command.h"

namespace bushbaby {
namespace {

using test::CommandTest;
using test::Outcome;

// A command of a page, and the lines that the page shows of its output.
struct Shown {
  std::string call;  // without the program's name
  std::vector<std::string> output;
};

std::vector<std::string> lines_of(const std::string& text) {
  std::vector<std::string> lines;
  std::istringstream in(text);
  for (std::string line; std::getline(in, line);) lines.push_back(line);
  return lines;
}

// Commands stand on lines of their own, indented, and go on behind a backslash; blocks of kind
// `text` show the output of the one before.
std::vector<Shown> commands_of(const std::string& page) {
  std::vector<Shown> all;
  const std::vector<std::string> lines = lines_of(page);
  const std::regex start("^ +bushbaby ([a-z].*)$");
  for (std::size_t i = 0; i < lines.size(); ++i) {
    std::smatch match;
    if (std::regex_match(lines[i], match, start)) {
      std::string call = match[1];
      while (!call.empty() && call.back() == '\\' && i + 1 < lines.size()) {
        call.pop_back();
        call += lines[++i];
      }
      all.push_back({call, {}});
    } else if (lines[i] == "```text" && !all.empty()) {
      while (++i < lines.size() && lines[i] != "```") all.back().output.push_back(lines[i]);
    }
  }
  return all;
}

class Docs : public CommandTest {
 protected:
  // As the README has it: the data in `demo`, pictures and traces beside it.
  void SetUp() override {
    CommandTest::SetUp();
    std::filesystem::create_directories(folder_ / "demo");
    std::filesystem::copy(std::string(BUSHBABY_SOURCE_DIR) + "/demo", folder_ / "demo",
                          std::filesystem::copy_options::recursive);
    put("look.script", "# bushbaby script 1\nplay right jump for 5 ticks\n");
  }

  void expect_all(const std::string& page, const std::string& name) const {
    for (const Shown& shown : commands_of(page)) {
      // A window stays until it is closed; here it is opened, and shows a few ticks.
      const bool opens = shown.call.rfind("play ", 0) == 0;
      const bool ends = shown.call.find("--script") != std::string::npos;
      const Outcome outcome = run(shown.call + (opens && !ends ? " --script look.script" : ""),
                                  opens ? test::kOnDisplay : "");
      EXPECT_TRUE(outcome.code == 0 || outcome.code == 1) << name << ": " << shown.call << "\n"
                                                          << outcome.err;
      std::size_t at = 0;
      for (const std::string& line : shown.output) {
        const std::size_t found = outcome.out.find(line + "\n", at);
        EXPECT_NE(found, std::string::npos) << name << " shows of " << shown.call << ":\n"
                                            << line << "\nwhich it does not print there:\n"
                                            << outcome.out;
        if (found == std::string::npos) break;
        at = found + line.size();
      }
    }
  }

  static std::string page(const std::string& name) {
    const auto text = read_file(std::string(BUSHBABY_SOURCE_DIR) + "/" + name);
    EXPECT_TRUE(text) << name;
    return text.value_or("");
  }
};

TEST_F(Docs, CommandsOfTheReadmeDoWhatItShows) {
  const std::string readme = page("README.md");
  EXPECT_GE(commands_of(readme).size(), 5U);
  expect_all(readme, "README.md");
  EXPECT_EQ(text_of("demo/moth.tuning.toml"), page("demo/moth.tuning.toml"));
  constexpr std::ptrdiff_t kMostLines = 200;
  EXPECT_LT(std::count(readme.begin(), readme.end(), '\n'), kMostLines);
}

TEST_F(Docs, CommandsOfTheTourDoWhatItShows) {
  const std::string tour = page("docs/tour.md");
  const auto commands = commands_of(tour);
  EXPECT_GE(commands.size(), 10U);
  std::size_t shown = 0;
  for (const Shown& one : commands) shown += one.output.size();
  EXPECT_GE(shown, 25U) << "lines of output are shown";
  expect_all(tour, "docs/tour.md");
  const std::string tuning = text_of("demo/pip.tuning.toml");
  EXPECT_EQ(tuning, page("demo/pip.tuning.toml")) << "the tour leaves Pip as he is";
}

TEST_F(Docs, CommandsOfTheFirstCharacterDoWhatItShows) {
  const std::string first = page("docs/first-character.md");
  EXPECT_EQ(commands_of(first).size(), 12U) << "one for each step";
  expect_all(first, "docs/first-character.md");
}

TEST_F(Docs, CommandsOfTheGuideDoWhatItShows) {
  const std::string guide = page("docs/guide.md");
  EXPECT_GE(commands_of(guide).size(), 3U);
  expect_all(guide, "docs/guide.md");
}

TEST_F(Docs, ExamplesOfTheHelpPagesRun) {
  for (const char* verb : {"derive", "drill", "judge", "run", "why", "play", "demo"}) {
    const std::string help = run(std::string(verb) + " --help").out;
    const auto examples = commands_of(help.substr(help.find("example")));
    EXPECT_EQ(examples.size(), 1U) << verb;
    if (std::string(verb) != "demo") expect_all(help.substr(help.find("example")), verb);
  }
}

// Every picture that the README shows is there, and those that are there are shown.
TEST_F(Docs, PicturesAreThere) {
  const std::string readme = page("README.md");
  for (const auto& entry : std::filesystem::directory_iterator(std::string(BUSHBABY_SOURCE_DIR) +
                                                               "/docs/screenshots")) {
    const std::string name = "docs/screenshots/" + entry.path().filename().string();
    EXPECT_NE(readme.find("(" + name + ")"), std::string::npos) << name;
  }
}

}  // namespace
}  // namespace bushbaby
