#include "target_arc.h"

#include <cmath>

namespace bushbaby::live {
namespace {

void take_in(TargetJump& jump, const std::string& drill, const Target& target) {
  if (target.follow && target.fact == drill) jump.curves.push_back(&target);
  if (target.follow || target.run) return;
  if (target.fact == drill + ".height") jump.height = target.bound;
  if (target.fact == drill + ".air_time") jump.air_time = target.bound;
  if (target.fact == drill + ".distance") jump.distance = target.bound;
}

std::optional<double> off(const std::optional<Bound>& bound, double value) {
  if (!bound) return std::nullopt;
  return off_by(*bound, value);
}

}  // namespace

TargetJumps target_jumps_of(const std::vector<Target>& targets) {
  TargetJumps target_jumps;
  for (const Target& target : targets) {
    take_in(target_jumps.standing, "stand_jump", target);
    take_in(target_jumps.running, "running_jump", target);
  }
  // A full jump from a run rises as one from rest does.
  if (!target_jumps.running.height) target_jumps.running.height = target_jumps.standing.height;
  if (!target_jumps.running.air_time)
    target_jumps.running.air_time = target_jumps.standing.air_time;
  return target_jumps;
}

double take_off_speed(const Trace& trace, const Arc& arc) {
  const Vec across{arc.up.y, -arc.up.x};
  double speed = 0;
  for (const Sample& sample : trace.samples) {
    // The first sample in the air.
    if (trace.time_of(sample) > arc.take_off_time + 1 / trace.tick_rate) break;
    speed = sample.velocity.x * across.x + sample.velocity.y * across.y;
  }
  return speed;
}

bool is_from_run(double take_off_speed, double top_speed) noexcept {
  return top_speed > 0 && std::abs(take_off_speed) >= top_speed / 2;
}

std::optional<Landing> landing_of(const Trace& trace, const TargetJumps& target_jumps,
                                  double top_speed) {
  const std::vector<Arc> arcs = find_arcs(trace);
  if (arcs.empty() || !arcs.back().landed || !arcs.back().from_jump) return std::nullopt;
  Landing landing;
  landing.arc = arcs.back();
  landing.tick = trace.samples.back().tick;
  landing.height = landing.arc.height();
  landing.air_time = landing.arc.air_time();
  landing.distance = std::abs(landing.arc.distance());
  landing.running = is_from_run(take_off_speed(trace, landing.arc), top_speed);
  const TargetJump& jump = landing.running ? target_jumps.running : target_jumps.standing;
  landing.height_off = off(jump.height, landing.height);
  landing.air_time_off = off(jump.air_time, landing.air_time);
  if (landing.running) landing.distance_off = off(jump.distance, landing.distance);
  return landing;
}

}  // namespace bushbaby::live
