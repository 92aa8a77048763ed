#include "bushbaby/lab/drills.h"

#include <algorithm>

#include "drill_runs.h"
#include "rehearsal.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): the table names its drills

std::vector<Drill> make_table() {
  using D = Dimension;
  return {
      {"stand_jump",
       "From rest, jump and hold the button until landing; if the body stays on the ground, "
       "release after 2 s.",
       Terrain::floor,
       {{"stand_jump.height", D::length, "Highest point of the feet above take-off."},
        {"stand_jump.apex_time", D::time, "Take-off to apex."},
        {"stand_jump.air_time", D::time, "Take-off to landing."},
        {"stand_jump.launch_speed", D::speed, "Vertical speed right after launch."},
        {"stand_jump.landing_speed", D::speed, "Speed into the floor at landing."},
        {"stand_jump.response", D::ticks,
         "From the tick of the press (or release) to the tick in which the feet rise; 0: the same "
         "tick."}},
       stand_jump,
       record_full_jump},
      {"hop",
       "From rest, press jump for one tick.",
       Terrain::floor,
       {{"hop.height", D::length, "Highest point of the feet above take-off."},
        {"hop.apex_time", D::time, "Take-off to apex."},
        {"hop.air_time", D::time, "Take-off to landing."}},
       hop,
       record_tap},
      {"running_jump",
       "At full run, jump; hold button and direction until landing.",
       Terrain::floor,
       {{"running_jump.distance", D::length, "Horizontal distance, take-off to landing."},
        {"running_jump.height", D::length, "Highest point of the feet above take-off."},
        {"running_jump.air_time", D::time, "Take-off to landing."},
        {"running_jump.mean_speed", D::speed, "Distance ÷ air time."}},
       running_jump,
       record_leap},
      {"run_up",
       "From rest, hold a direction until the speed no longer changes.",
       Terrain::floor,
       {{"run_up.time", D::time, "From the first held tick until top speed is reached."},
        {"run_up.distance", D::length, "Distance covered in that time."},
        {"run_up.top_speed", D::speed, "The final speed."}},
       run_up},
      {"stop",
       "At full run, release everything.",
       Terrain::floor,
       {{"stop.time", D::time, "From release until the speed is 0."},
        {"stop.distance", D::length, "Distance covered in that time."}},
       stop},
      {"turn",
       "At full run, hold the opposite direction until the speed no longer changes.",
       Terrain::floor,
       {{"turn.time", D::time, "Until full speed in the other direction, in whole ticks."},
        {"turn.reversal_time", D::time, "Until it moves in the other direction, in whole ticks."},
        {"turn.overshoot", D::length, "How far it still slides in the old direction."}},
       turn},
      {"hold_heights",
       "From rest, jump once for each number of ticks that the button can be held while rising "
       "(where ticks are shorter than 1/240 s, in steps of about 1/240 s). Not for charged jumps: "
       "see charge.",
       Terrain::floor,
       {{"hold_heights.lowest", D::length, "Lowest of the heights."},
        {"hold_heights.highest", D::length, "Highest of the heights."},
        {"hold_heights.distinct", D::number,
         "Number of heights that differ from the next by more than 1e-6 body heights."},
        {"hold_heights.largest_step", D::length,
         "Largest difference that one more step of holding makes."}},
       hold_heights},
      {"drop",
       "Run off a ledge 4 body heights above a floor, and keep holding.",
       Terrain::ledge,
       {{"drop.time", D::time, "From leaving the ledge to landing."},
        {"drop.landing_speed", D::speed, "Speed into the floor at landing."},
        {"drop.distance", D::length, "Horizontal distance in that time."}},
       drop},
      {"coyote",
       "Run off a ledge and press jump late, once for each delay.",
       Terrain::ledge,
       {{"coyote.window_ticks", D::ticks,
         "Last tick in the air, counted from 1, in which a press still jumps."},
        {"coyote.window_ms", D::milliseconds, "The same in ms."},
        {"coyote.past_edge", D::length,
         "How far the rear of the body is past the edge at that press; 0 without a window."}},
       coyote},
      {"buffer",
       "Jump, release at the apex, and press again before landing, once for each lead; from higher "
       "and higher ledges if the jump is too short for that.",
       Terrain::floor,
       {{"buffer.window_ticks", D::ticks,
         "How many ticks before the first tick on the ground a press still jumps on landing."},
        {"buffer.window_ms", D::milliseconds, "The same in ms."},
        {"buffer.height", D::length,
         "Height of the feet above the floor at that press; 0 without a window."}},
       buffer},
      {"impact",
       "Run into a high wall at full speed and keep holding; and be pushed into one in the air at "
       "20 body heights per second, at angles from 75° down to 75° up.",
       Terrain::wall,
       {{"impact.gap", D::length, "Gap between body and wall on the tick of the impact."},
        {"impact.speed", D::speed, "Run speed on the tick before the impact."},
        {"impact.rebound", D::speed, "Highest speed away from the wall in the 10 ticks after it."},
        {"impact.widest_gap", D::length,
         "Widest gap at any of these angles, on the tick of each impact."}},
       impact},
      {"air_jump",
       "Jump, release for a tick and press again, once for each tick of the arc; and press again "
       "and again.",
       Terrain::floor,
       {{"air_jump.count", D::number, "Number of air jumps before landing; 0 if none."},
        {"air_jump.chances", D::ticks,
         "Number of ticks of the arc in which a press jumps. Few of many: an air jump that works "
         "only at the apex."},
        {"air_jump.height", D::length,
         "From the feet at the second press, one tick past the apex (or in the first tick that "
         "jumps), to their highest point."},
        {"air_jump.total_height", D::length, "From the floor to that point."},
        {"air_jump.earliest", D::ticks,
         "Minimum number of ticks between the two presses for an air jump."}},
       air_jump},
      {"charge",
       "Hold jump on the ground and release, once for each number of ticks held.",
       Terrain::floor,
       {{"charge.lowest", D::length, "Height after the shortest hold."},
        {"charge.highest", D::length, "Greatest height that holding gives."},
        {"charge.full_time", D::time, "Shortest hold that gives it."},
        {"charge.largest_step", D::length,
         "Largest difference that one more step of holding makes."}},
       charge},
      {"air_control",
       "Jump, and hold a direction from take-off to landing.",
       Terrain::floor,
       {{"air_control.from_rest", D::length, "Distance of a jump from rest, steered forward."},
        {"air_control.shortest", D::length, "Distance of a jump from full run, steered back."},
        {"air_control.span", D::length, "How much farther it lands when steered forward instead."}},
       air_control},
      {"fast_fall",
       "Jump, hold to the apex, and press down until landing.",
       Terrain::floor,
       {{"fast_fall.time_saved", D::time, "How much sooner it lands than without the press."},
        {"fast_fall.landing_speed", D::speed, "Speed into the floor at landing."}},
       fast_fall},
      {"glide",
       "Run off a ledge 40 body heights high, use up the air jumps, and hold jump until landing.",
       Terrain::ledge,
       {{"glide.speed", D::speed, "Fall speed before landing."},
        {"glide.time_gained", D::time, "How much later it lands than without holding."}},
       glide},
      {"dash",
       "From rest, press dash with a direction, then nothing; and again, on the ground and in a "
       "fall.",
       Terrain::floor,
       {{"dash.distance", D::length, "Distance covered at dash speed."},
        {"dash.time", D::time, "How long it has that speed."},
        {"dash.speed", D::speed, "Dash speed."},
        {"dash.kept_speed", D::speed, "Horizontal speed at its end."},
        {"dash.cooldown", D::ticks, "Minimum number of ticks from its end to the next start."},
        {"dash.in_air", D::number, "Number of dashes in one fall; 0 if none."}},
       dash},
      {"sprint",
       "Like run_up and running_jump with the sprint button held; and jump at that speed and "
       "release the sprint button.",
       Terrain::floor,
       {{"sprint.top_speed", D::speed, "The final speed."},
        {"sprint.time", D::time, "From rest until it is reached, in whole ticks."},
        {"sprint.jump_distance", D::length,
         "Distance of a running jump with the sprint button held."},
        {"sprint.landing_speed", D::speed,
         "Horizontal speed at landing if the sprint button is released after launch."}},
       sprint},
      {"push",
       "From rest, be pushed at 6 body heights per second to the left and 4 up, and hold nothing, "
       "or right.",
       Terrain::floor,
       {{"push.distance", D::length, "How far away it comes to rest, with nothing held."},
        {"push.time_to_control", D::time, "How long holding right makes no difference."},
        {"push.lock_ticks", D::ticks, "The same in ticks."}},
       push},
      {"wall_slide",
       "Fall along a high wall, holding towards it.",
       Terrain::wall,
       {{"wall_slide.speed", D::speed, "Final slide speed."},
        {"wall_slide.cling", D::ticks, "Number of ticks it sticks before it slides."}},
       wall_slide},
      {"wall_press",
       "Leave a wall and press jump late, or come to it and press early, once for each delay.",
       Terrain::wall,
       {{"wall_press.late", D::ticks,
         "Last tick away from the wall, counted from 1, in which a press still jumps."},
        {"wall_press.early", D::ticks,
         "How many ticks before the first tick at the wall a press still jumps there."},
        {"wall_press.standing", D::number,
         "1 if a press while standing at a wall and holding towards it jumps away from it; 0 if "
         "not."}},
       wall_press},
      {"wall_gain",
       "Jump from a wall holding towards it until it is touched again, again and again; where a "
       "jump never leaves the wall, until the body no longer rises.",
       Terrain::wall,
       {{"wall_gain.jumps", D::number,
         "Number of jumps that one wall gives before a landing; 0 if none."},
        {"wall_gain.height", D::length,
         "Height gained from the press until the wall is touched again, or the body no longer "
         "rises; negative: lost."},
        {"wall_gain.time", D::time, "Time in between, in whole ticks."}},
       wall_gain},
      {"climb",
       "In the air at a high wall, hold towards it and up until it no longer rises, or down; and "
       "at the foot of a wall 2 body heights high, hold towards it and up.",
       Terrain::wall,
       {{"climb.up_speed", D::speed, "Final speed upward."},
        {"climb.down_speed", D::speed, "Final speed downward, after a climb."},
        {"climb.time", D::time, "How long it rises, in whole ticks."},
        {"climb.height", D::length, "Height gained in that time."},
        {"climb.over", D::number,
         "1 if it ends up standing on top of the lower wall; 0 if not, or if it does not climb."}},
       climb},
      {"wall_push_off",
       "Jump from a wall holding towards it, and holding nothing.",
       Terrain::wall,
       {{"wall_push_off.height", D::length, "Height gained above the press, with the button held."},
        {"wall_push_off.away", D::length,
         "Farthest from the wall it gets while holding towards it."},
        {"wall_push_off.lock_ticks", D::ticks, "For how many ticks steering makes no difference."},
        {"wall_push_off.lock_time", D::time, "The same in seconds."}},
       wall_push_off},
      {"slope",
       "At full run, onto a slope of 30°, up and down; and from rest, hold a direction at the foot "
       "of less and less steep ones.",
       Terrain::level,
       {{"slope.uphill_speed", D::speed, "Speed along the slope, uphill, after 1.5 s."},
        {"slope.downhill_speed", D::speed, "Speed along the slope, downhill, after 1.5 s."},
        {"slope.contact", D::ratio, "Share of ticks downhill in which it is grounded."},
        {"slope.steepest_walked", D::angle,
         "Steepest slope, in whole degrees, that it walks up by a quarter of its height from "
         "rest."}},
       slope},
      {"crest",
       "At full run, up 30°, over a crest, and down 40°.",
       Terrain::level,
       {{"crest.air_ticks", D::ticks, "Number of ticks off the ground."},
        {"crest.speed_kept", D::ratio, "Lowest speed along the ground ÷ the speed before it."}},
       crest},
      {"seam",
       "At full run, over ground of many pieces whose tops differ by 1e-13 body heights; and by "
       "more and more.",
       Terrain::level,
       {{"seam.lost", D::ratio, "Largest share of its speed that it loses."},
        {"seam.air_ticks", D::ticks, "Number of ticks off the ground."},
        {"seam.step", D::length,
         "Highest step that it runs over without losing a thousandth of its speed."}},
       seam},
      {"drop_through",
       "On the top one of 4 one-way platforms, 2 body heights apart, hold down, or jump with down "
       "held; and jump up through one.",
       Terrain::level,
       {{"drop_through.platforms", D::number,
         "Number of platforms that one press drops it through, held; 0 if none."},
        {"drop_through.response", D::ticks,
         "From the tick of the press to the tick in which the feet go down; 0: the same tick."},
        {"drop_through.time", D::time, "Until it is one body height lower, in whole ticks."},
        {"drop_through.up", D::number,
         "1 if a jump comes up through a platform and lands on it; 0 if not."}},
       drop_through},
      {"platform_carry",
       "Stand on a platform that moves round a square, 5 body heights a side, at 5 body heights "
       "per second.",
       Terrain::level,
       {{"platform_carry.slip", D::length,
         "Farthest that the feet get from where they stood on it."},
        {"platform_carry.in_air", D::ticks, "Number of ticks not grounded."}},
       platform_carry},
      {"platform_momentum",
       "Jump from a platform that moves at 5 body heights per second: to the right, up, and down.",
       Terrain::level,
       {{"platform_momentum.horizontal", D::ratio,
         "Share of the platform's speed that the body keeps, in its first tick in the air, off one "
         "that moves to the right."},
        {"platform_momentum.vertical", D::ratio,
         "Share of the platform's speed that is added to the jump, off one that rises."},
        {"platform_momentum.height", D::length,
         "Highest point of the feet above take-off, off one that rises."},
        {"platform_momentum.down", D::ratio,
         "Share of the platform's speed that is taken from the jump, off one that sinks."}},
       platform_momentum},
      {"zone_entry",
       "Run through the zone (--in) at full speed; and fall into it from 4 body heights above.",
       Terrain::zone,
       {{"zone_entry.kept_in", D::ratio, "Share of the run speed left after the tick of entering."},
        {"zone_entry.speed_inside", D::speed,
         "Speed before it leaves again, 12 body heights later."},
        {"zone_entry.kept_out", D::ratio, "Share of that left after the tick of leaving."},
        {"zone_entry.fall_kept", D::ratio,
         "Share of a fall speed left after the tick of entering."}},
       zone_entry},
      {"swim",
       "Deep in the fluid (--in): hold nothing, a direction, or down for 3 s; press jump; and "
       "press it at the surface, with the head out.",
       Terrain::zone,
       {{"swim.drift", D::speed, "Vertical speed with nothing held."},
        {"swim.top_speed", D::speed, "Horizontal speed with a direction held."},
        {"swim.dive", D::speed, "Downward speed with down held."},
        {"swim.stroke", D::length, "Height gained by a press that is released at once."},
        {"swim.stroke_every", D::ticks, "Minimum number of ticks between two strokes."},
        {"swim.exit_jump", D::length, "Height gained by a press at the surface, held."}},
       swim},
      {"round_walk",
       "On a round planet with a radius of 2 body heights in the zone (--in), which pulls towards "
       "its "
       "centre: walk right round it; and jump.",
       Terrain::zone,
       {{"round_walk.time", D::time, "Once round."},
        {"round_walk.in_air", D::ticks, "Number of ticks not grounded."},
        {"round_walk.jump", D::length, "Height of a jump."}},
       round_walk},
  };
}

}  // namespace

const std::vector<Drill>& drills() {
  static const std::vector<Drill> table = make_table();
  return table;
}

const Drill* find_drill(std::string_view name) {
  const auto& table = drills();
  const auto at = std::find_if(table.begin(), table.end(),
                               [name](const Drill& drill) { return drill.name == name; });
  return at == table.end() ? nullptr : &*at;
}

DrillReport run_drill(const Drill& drill, Subject& subject) {
  DrillReport report;
  report.drill = &drill;
  if (drill.needs == Terrain::zone && !subject.traits().zone) {
    report.skipped = "no zone is given to measure in (--in ZONE)";
  } else if (!subject.can_stand_on(drill.needs)) {
    report.skipped = "the subject cannot be put on a " + std::string(name_of(drill.needs));
  } else if (drill.needs != Terrain::zone && !prepare(subject, floor_stage(size_of(subject)))) {
    report.skipped = "the subject could not be placed";
  } else {
    Measured measured = drill.run(subject, drill);
    report.facts = std::move(measured.facts);
    report.series = std::move(measured.series);
  }
  return report;
}

std::vector<DrillReport> run_drills(Subject& subject, const std::vector<std::string>& only) {
  std::vector<DrillReport> reports;
  for (const Drill& drill : drills()) {
    const bool named = std::find(only.begin(), only.end(), drill.name) != only.end();
    // Where there is no zone, what is measured in one is not missed.
    const bool fits = drill.needs != Terrain::zone || subject.traits().zone.has_value();
    const bool chosen = only.empty() ? fits : named;
    if (chosen) reports.push_back(run_drill(drill, subject));
  }
  return reports;
}

const Drill* drill_of_fact(std::string_view fact) {
  for (const Drill& drill : drills()) {
    for (const FactInfo& info : drill.facts) {
      if (info.name == fact) return &drill;
    }
  }
  return nullptr;
}

std::optional<double> value_of(const std::vector<DrillReport>& reports, std::string_view fact) {
  for (const DrillReport& report : reports) {
    for (const Fact& measured : report.facts) {
      if (measured.info->name == fact) return measured.value;
    }
  }
  return std::nullopt;
}

}  // namespace bushbaby
