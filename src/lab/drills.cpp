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
       "From rest, jump and hold the button until landing; a body that stays on the ground is let "
       "go "
       "after 2 s.",
       Terrain::floor,
       {{"stand_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"stand_jump.apex_time", D::time, "Take-off to the highest place."},
        {"stand_jump.air_time", D::time, "Take-off to landing."},
        {"stand_jump.launch_speed", D::speed, "Speed along up right after launch."},
        {"stand_jump.landing_speed", D::speed, "Speed into the floor at landing."},
        {"stand_jump.response", D::ticks,
         "From the tick of the press, or of letting go, to that in which the feet rise; 0 is the "
         "same."}},
       stand_jump,
       record_full_jump},
      {"hop",
       "From rest, jump and hold the button for one tick.",
       Terrain::floor,
       {{"hop.height", D::length, "Highest place of the feet above their take-off."},
        {"hop.apex_time", D::time, "Take-off to the highest place."},
        {"hop.air_time", D::time, "Take-off to landing."}},
       hop,
       record_tap},
      {"running_jump",
       "At full run, jump and hold button and direction until landing.",
       Terrain::floor,
       {{"running_jump.distance", D::length, "Way along the floor, take-off to landing."},
        {"running_jump.height", D::length, "Highest place of the feet above their take-off."},
        {"running_jump.air_time", D::time, "Take-off to landing."},
        {"running_jump.mean_speed", D::speed, "The distance over the air time."}},
       running_jump,
       record_leap},
      {"run_up",
       "From rest, hold a direction until the speed no longer changes.",
       Terrain::floor,
       {{"run_up.time", D::time, "From the first held tick until top speed is reached."},
        {"run_up.distance", D::length, "Way covered in that time."},
        {"run_up.top_speed", D::speed, "The speed that no longer changes."}},
       run_up},
      {"stop",
       "At full run, let go of everything.",
       Terrain::floor,
       {{"stop.time", D::time, "From the first free tick until the speed is 0."},
        {"stop.distance", D::length, "Way covered in that time."}},
       stop},
      {"turn",
       "At full run, hold the other direction until the speed no longer changes.",
       Terrain::floor,
       {{"turn.time", D::time, "Until full speed the other way, in whole ticks."},
        {"turn.reversal_time", D::time, "Until the speed points the other way, in whole ticks."},
        {"turn.overshoot", D::length, "How far the farthest sample lies beyond the start."}},
       turn},
      {"hold_ladder",
       "From rest, jump once for each number of ticks that the button can be held while rising; "
       "where "
       "ticks are shorter than 1/240 s, in rungs of as many as fit into that. Not for jumps that "
       "charge: those are \"charge\"'s.",
       Terrain::floor,
       {{"hold_ladder.lowest", D::length, "The lowest of the heights."},
        {"hold_ladder.highest", D::length, "The highest of the heights."},
        {"hold_ladder.distinct", D::number,
         "How many heights differ from their neighbour's by more than 1e-6 body heights."},
        {"hold_ladder.largest_step", D::length, "The most that one rung of holding changes."}},
       hold_ladder},
      {"drop",
       "Run off a ledge 4 body heights above a floor and keep holding.",
       Terrain::ledge,
       {{"drop.time", D::time, "From losing the ground to landing."},
        {"drop.landing_speed", D::speed, "Speed into the floor at landing."},
        {"drop.distance", D::length, "Way covered in that time."}},
       drop},
      {"late_press",
       "Run off a ledge and press jump after it, once for each delay.",
       Terrain::ledge,
       {{"late_press.window_ticks", D::ticks,
         "The latest tick in the air, counted from 1, in which a press still jumps."},
        {"late_press.window_ms", D::milliseconds, "The same in ms."},
        {"late_press.past_edge", D::length,
         "How far the body's rear is past the edge at that press; 0 without a window."}},
       late_press},
      {"early_press",
       "Jump, let go at the apex, and press again before landing, once for each lead; from ever "
       "higher ledges if the jump is too short to tell.",
       Terrain::floor,
       {{"early_press.window_ticks", D::ticks,
         "The most ticks before the first one on the ground at which a press still jumps there."},
        {"early_press.window_ms", D::milliseconds, "The same in ms."},
        {"early_press.height", D::length,
         "How high the feet are above the floor at that press; 0 without a window."}},
       early_press},
      {"impact",
       "Run into a high wall at full speed and keep holding; and, in the air, be pushed into one "
       "at "
       "20 body heights a second, at angles from 75 degrees down to 75 up.",
       Terrain::wall,
       {{"impact.gap", D::length, "Between body and wall on the tick of the impact."},
        {"impact.speed", D::speed, "Run speed on the tick before the impact."},
        {"impact.rebound", D::speed, "Fastest speed away from the wall in the 10 ticks after it."},
        {"impact.widest_gap", D::length, "The widest gap over these angles, on the tick of each."}},
       impact},
      {"air_jump",
       "Jump, let go for a tick and press again, once for each tick of the arc; and press again "
       "and "
       "again.",
       Terrain::floor,
       {{"air_jump.count", D::number,
         "How often a press jumps in the air before landing; 0 if it never does."},
        {"air_jump.chances", D::ticks,
         "In how many ticks of the arc a press jumps. Few of many: a jump that only the apex "
         "gives."},
        {"air_jump.height", D::length,
         "From the feet at the second press, a tick past the apex (or in the first tick that gives "
         "one), to their highest place."},
        {"air_jump.total_height", D::length, "From the floor to that place."},
        {"air_jump.earliest", D::ticks,
         "The least ticks between the two presses at which the second lifts it."}},
       air_jump},
      {"charge",
       "Hold jump on the ground and let go, once for each number of ticks held.",
       Terrain::floor,
       {{"charge.lowest", D::length, "Height after the shortest hold."},
        {"charge.highest", D::length, "The most height that holding gives."},
        {"charge.full_time", D::time, "The shortest hold that gives it."},
        {"charge.largest_step", D::length, "The most that one rung of holding changes."}},
       charge},
      {"steer",
       "Jump, and hold a direction from take-off to landing.",
       Terrain::floor,
       {{"steer.from_rest", D::length, "How far a jump from rest lands, steered forward."},
        {"steer.shortest", D::length, "How far a jump from full run lands, steered back."},
        {"steer.span", D::length,
         "How much farther it lands steered forward: the room to change one's mind."}},
       steer},
      {"fast_fall",
       "Jump, hold to the apex, and press down until landing.",
       Terrain::floor,
       {{"fast_fall.time_saved", D::time, "How much sooner it lands than without the press."},
        {"fast_fall.landing_speed", D::speed, "Speed into the floor at landing."}},
       fast_fall},
      {"glide",
       "Run off a ledge 40 body heights high, spend the jumps in the air, and hold jump until "
       "landing.",
       Terrain::ledge,
       {{"glide.speed", D::speed, "Speed along down before landing."},
        {"glide.time_gained", D::time, "How much later it lands than without holding."}},
       glide},
      {"dash",
       "From rest, press dash with a direction, then nothing; and again, on the ground and in a "
       "fall.",
       Terrain::floor,
       {{"dash.distance", D::length, "Way covered at the dash's speed."},
        {"dash.time", D::time, "How long it has that speed."},
        {"dash.speed", D::speed, "That speed."},
        {"dash.kept_speed", D::speed, "Speed across at its end."},
        {"dash.cooldown", D::ticks, "The least ticks from its end to the start of the next."},
        {"dash.in_air", D::number, "How often it dashes in one fall; 0 if it never does."}},
       dash},
      {"pace",
       "The same as run_up and running_jump with the button of the second pace held; and at that "
       "speed, jump and let go of it.",
       Terrain::floor,
       {{"pace.top_speed", D::speed, "The speed that no longer changes."},
        {"pace.time", D::time, "From rest until it is reached, in whole ticks."},
        {"pace.jump_distance", D::length, "Way of a running jump, the button held."},
        {"pace.landing_speed", D::speed,
         "Speed across at the landing of one whose button was let go after the launch."}},
       pace},
      {"push",
       "From rest, be pushed by 6 body heights a second to the left and 4 up, and hold nothing, or "
       "right.",
       Terrain::floor,
       {{"push.distance", D::length, "How far away it comes to rest, with nothing held."},
        {"push.time_to_control", D::time, "For how long holding right makes no difference."},
        {"push.lock_ticks", D::ticks, "The same in ticks."}},
       push},
      {"wall_slide",
       "Fall along a high wall, holding towards it.",
       Terrain::wall,
       {{"wall_slide.speed", D::speed, "Speed along down that no longer changes."},
        {"wall_slide.cling", D::ticks, "For how many ticks it stays where it is first."}},
       wall_slide},
      {"wall_press",
       "Leave a wall and press jump after it, or come to it and press before, once for each delay.",
       Terrain::wall,
       {{"wall_press.late", D::ticks,
         "The latest tick away from the wall, counted from 1, in which a press still jumps."},
        {"wall_press.early", D::ticks,
         "The most ticks before the first one at the wall at which a press still jumps there."},
        {"wall_press.standing", D::number,
         "1 if a press at the wall's foot, towards it held, jumps away from it; 0 if not."}},
       wall_press},
      {"wall_regain",
       "Jump from a wall holding towards it, until it is touched again, and again and again; where "
       "a "
       "jump never leaves the wall, until the body no longer rises.",
       Terrain::wall,
       {{"wall_regain.jumps", D::number,
         "How many jumps one wall gives before a landing; 0 if it gives none."},
        {"wall_regain.height", D::length,
         "How much higher the feet are when it is touched again, or no longer rise, than at the "
         "press; negative: lower."},
        {"wall_regain.time", D::time, "Time in between, in whole ticks."}},
       wall_regain},
      {"climb",
       "In the air at a high wall, hold towards it and up until it no longer rises, or down; and "
       "at "
       "the foot of one 2 body heights high, hold towards it and up.",
       Terrain::wall,
       {{"climb.up_speed", D::speed, "Speed along up that no longer changes."},
        {"climb.down_speed", D::speed, "Speed along down, after a climb, that no longer changes."},
        {"climb.time", D::time, "How long it rises, in whole ticks."},
        {"climb.height", D::length, "How far it rises in that time."},
        {"climb.over", D::number,
         "1 if it comes to stand on the lower wall's top; 0 if not, or if it does not climb."}},
       climb},
      {"wall_cross",
       "Jump from a wall holding towards it, and holding nothing.",
       Terrain::wall,
       {{"wall_cross.height", D::length, "How high it gets above the press, the button held."},
        {"wall_cross.away", D::length, "How far from the wall it gets against the steering."},
        {"wall_cross.lock_ticks", D::ticks, "For how many ticks steering makes no difference."},
        {"wall_cross.lock_time", D::time, "The same in seconds."}},
       wall_cross},
      {"slope",
       "At full run, on to a slope of 30 degrees, up and down; and from rest, hold a direction at "
       "the foot of ever less steep ones.",
       Terrain::level,
       {{"slope.uphill_speed", D::speed, "Speed along it, uphill, after 1.5 s."},
        {"slope.downhill_speed", D::speed, "Speed along it, downhill, after 1.5 s."},
        {"slope.contact", D::ratio, "The share of ticks downhill in which it is on the ground."},
        {"slope.steepest_walked", D::angle,
         "The steepest one, in whole degrees, that it gets up a quarter of its height on, "
         "standing."}},
       slope},
      {"crest",
       "At full run, up 30 degrees, over a crest, and down 40.",
       Terrain::level,
       {{"crest.air_ticks", D::ticks, "For how many ticks it is off the ground."},
        {"crest.speed_kept", D::ratio, "The least speed along the ground over that before it."}},
       crest},
      {"seam",
       "At full run, over ground of many pieces whose tops differ by 1e-13 body heights; and by "
       "more and more.",
       Terrain::level,
       {{"seam.lost", D::ratio, "The most of its speed that it loses."},
        {"seam.air_ticks", D::ticks, "For how many ticks it is off the ground."},
        {"seam.step", D::length,
         "The highest step that it runs over without losing a thousandth of its speed."}},
       seam},
      {"drop_through",
       "On the highest of 4 platforms that block from above, 2 body heights apart, hold down, or "
       "jump with down held; and jump up through one.",
       Terrain::level,
       {{"drop_through.platforms", D::number,
         "How many platforms one press drops it through, held on; 0 if it drops through none."},
        {"drop_through.response", D::ticks,
         "From the tick of the press to that in which the feet sink; 0 is the same."},
        {"drop_through.time", D::time, "Until it is its height lower, in whole ticks."},
        {"drop_through.up", D::number,
         "1 if a jump comes up through a platform and lands on it; 0 if not."}},
       drop_through},
      {"carry",
       "Stand on a floor that goes round a square, 5 body heights a side, at 5 body heights a "
       "second.",
       Terrain::level,
       {{"carry.slip", D::length, "The farthest that the feet get from where they stood on it."},
        {"carry.in_air", D::ticks, "How many ticks they stand on nothing."}},
       carry},
      {"hand_over",
       "Jump from a floor that goes at 5 body heights a second: to the right, up, and down.",
       Terrain::level,
       {{"hand_over.across", D::ratio,
         "The share of the floor's speed that the body has across, in its first tick in the air."},
        {"hand_over.up", D::ratio,
         "The same along up, beyond what a jump from a floor at rest has, off one that rises."},
        {"hand_over.height", D::length,
         "Highest place of the feet above their take-off, off one that rises."},
        {"hand_over.down", D::ratio,
         "The share of the speed of a floor that sinks that is taken from the jump."}},
       hand_over},
      {"crossing",
       "Run through the zone that is measured in at full speed; and fall into it from 4 body "
       "heights above.",
       Terrain::zone,
       {{"crossing.kept_in", D::ratio,
         "The share of the speed that is left after the tick in which it is entered."},
        {"crossing.pace", D::speed, "The speed before it is left, 12 body heights later."},
        {"crossing.kept_out", D::ratio,
         "The share of that that is left after the tick in which it is left."},
        {"crossing.fall_kept", D::ratio,
         "The share of a falling speed that is left after the tick in which it is entered."}},
       crossing},
      {"swim",
       "Deep in the medium that is measured in: hold nothing, a direction, or down for 3 s; press "
       "jump; and press it at its surface, with the head out of it.",
       Terrain::zone,
       {{"swim.drift", D::speed, "Speed along up with nothing held."},
        {"swim.pace", D::speed, "Speed across with a direction held."},
        {"swim.dive", D::speed, "Speed along down with down held."},
        {"swim.paddle", D::length, "How much higher a press comes, let go at once."},
        {"swim.paddle_every", D::ticks, "The least ticks between two of them."},
        {"swim.leap", D::length, "How much higher a press at the surface comes, held on."}},
       swim},
      {"ball",
       "On a ball of a radius of 2 body heights in the zone that is measured in, which pulls "
       "towards its middle: walk right round it; and jump.",
       Terrain::zone,
       {{"ball.time", D::time, "Once round."},
        {"ball.in_air", D::ticks, "How many ticks of it it stands on nothing."},
        {"ball.jump", D::length, "How much farther from the middle a jump comes."}},
       ball},
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
    const bool wanted = only.empty() ? fits : named;
    if (wanted) reports.push_back(run_drill(drill, subject));
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
