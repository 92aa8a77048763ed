#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "reporting.h"
#include "run_ramps.h"

namespace bushbaby::detail {
namespace {

class RunRecoverer {
 public:
  RunRecoverer(const Surveyed& surveyed, Reporter& reporter)
      : recording_(surveyed.recording),
        flights_(surveyed.flights),
        reporter_(reporter),
        found_(reporter.found()) {}

  void recover() {
    const RunReadings run = read_run(recording_, flights_.standing);
    const char* const run_it =
        "run to one side until the speed no longer grows, release until it stands, then run to one "
        "side and turn to the other";
    if (run.top_speed.empty() || !(run.fastest > 0)) {
      reporter_.add("run.top_speed", RecoverEnd::undetermined, "no steady run was found", run_it);
      return;
    }
    const Reading top = pooled(run.top_speed);
    if (!(top.value > 4 * top.error) || !(top.value > 0.3 * run.fastest)) {
      reporter_.add("run.top_speed", RecoverEnd::undetermined, "no steady run was found", run_it);
      return;
    }
    if (reporter_.add_measured("run.top_speed", around(top.value, top.error, 30),
                               fmt::format("{} of steady speed",
                                           counted(run.top_speed.size(), "stretch", "stretches")),
                               run_it)) {
      found_.tuning.run.top_speed = top.value;
    }
    constexpr double kMuchBetter = 10;
    const bool damped = run.lag_score + kMuchBetter < run.rate_score;
    report_drive(run.ground, damped, "run.ground.", found_.tuning.run.ground, "on the ground");
    report_drive(run.air, damped, "run.air.", found_.tuning.run.air, "in the air");
  }

 private:
  void report_drive(const std::vector<RampReadings>& kinds, bool damped, const std::string& prefix,
                    RunDrive& drive, const char* where) {
    struct Kind {
      const char* name;
      const char* one;
      const char* many;
      const char* to_do;
      double* rate;
      Duration* lag;
    };
    const Kind table[] = {
        {"accelerate", "start", "starts", "start to run", &drive.accelerate, &drive.accelerate_lag},
        {"brake", "stop", "stops", "release at full run", &drive.brake, &drive.brake_lag},
        {"turn", "turn", "turns", "turn round at full run", &drive.turn, &drive.turn_lag}};
    bool at_once = true;
    bool any = false;
    for (const RampReadings& kind : kinds) {
      const std::vector<Reading>& readings = damped ? kind.lag : kind.rate;
      any = any || !readings.empty() || kind.at_once > 0;
      at_once = at_once && readings.empty();
    }
    if (damped && any) {
      reporter_
          .add(prefix + "style", RecoverEnd::measured, "speeds near their goal ever more slowly")
          .choice = "damped";
      drive.style = DriveStyle::damped;
    } else if (any && at_once) {
      reporter_
          .add(prefix + "style", RecoverEnd::measured, "speeds change from one point to the next")
          .choice = "instant";
      drive.style = DriveStyle::instant;
      return;
    }
    for (std::size_t i = 0; i < kinds.size(); ++i) {
      const Kind& kind = table[i];
      const std::string key = prefix + kind.name + (damped ? "_lag" : "");
      const std::vector<Reading>& readings = damped ? kinds[i].lag : kinds[i].rate;
      const std::string to_record =
          fmt::format("{} {}, from one steady speed to another", kind.to_do, where);
      if (readings.empty()) {
        reporter_.add(
            key, RecoverEnd::undetermined,
            kinds[i].at_once > 0
                ? "it takes less than from one point to the next"
                : fmt::format("no {} {} goes from one steady speed to another", kind.one, where),
            kinds[i].at_once > 0 ? "the same with more points a second" : to_record);
        continue;
      }
      const Reading all = pooled(readings);
      constexpr double kFreedom = 8;
      const bool reported = reporter_.add_measured(
          key, around(all.value, all.error, kFreedom),
          fmt::format("{} {}", counted(readings.size(), kind.one, kind.many), where),
          "more often: " + to_record);
      if (!reported) continue;
      if (damped) {
        *kind.lag = {all.value};
      } else {
        *kind.rate = all.value;
      }
    }
  }

  const Recording& recording_;
  const Flights& flights_;
  Reporter& reporter_;
  Recovered& found_;
};

}  // namespace

void recover_run(const Surveyed& surveyed, Reporter& reporter) {
  RunRecoverer(surveyed, reporter).recover();
}

}  // namespace bushbaby::detail
