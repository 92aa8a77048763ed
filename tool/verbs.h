// The verbs of the command: what each is asked, and what does it.
//
// Every verb prints its report on standard output and its problems on standard error, and returns
// the exit code: 0 done, 1 findings, 2 the call or an input file is wrong.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace bushbaby::tool {

inline constexpr int kDone = 0;
inline constexpr int kFindings = 1;
inline constexpr int kWrong = 2;

struct DeriveCall {
  // Quantities as they were typed; checked by the verb, so that all are refused alike.
  std::optional<std::string> height, apex_time, launch_speed, gravity, air_time, distance;
  std::optional<std::string> fall_factor, terminal_speed, top_speed, tick_rate, integrator;
  bool no_launch_gravity = false;
  std::string from;   ///< a tuning to start from
  std::string write;  ///< a tuning to put the answer into
  std::vector<std::string> settings;
  std::string plot;
  bool json = false;
};

struct DrillCall {
  std::string tuning;
  std::vector<std::string> only;
  std::vector<std::string> settings;
  std::string plot;
  bool json = false;
};

struct JudgeCall {
  std::string tuning;
  std::string targets;
  std::vector<std::string> settings;
  std::string plot;
  bool json = false;
};

struct RunCall {
  std::string tuning;
  std::string course;
  std::string tape;
  std::string trace;
  std::string convention;  ///< of the trace: empty, "file", or written out
  std::vector<std::string> settings;
  std::string plot;
  bool json = false;
};

struct WhyCall {
  std::string tuning;
  std::string course;
  std::string tape;
  std::vector<std::int64_t> ticks;
  std::string against;  ///< a second tuning
  std::vector<std::string> settings;
  std::vector<std::string> other_settings;
  std::vector<std::string> traces;  ///< two, or none
  double within = 0;
  bool json = false;
};

struct DemoCall {
  std::string data;
  std::string out = "bushbaby-demo";
};

int derive(const DeriveCall& call);
int drill(const DrillCall& call);
int judge(const JudgeCall& call);
int run(const RunCall& call);
int why(const WhyCall& call);
int demo(const DemoCall& call, const std::string& program);

/// Reads a command line, without the program's name, and does what it says.
int run_command(const std::vector<std::string>& arguments, const std::string& program);

}  // namespace bushbaby::tool
