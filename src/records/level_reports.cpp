#include "bushbaby/records/level_reports.h"

#include <fmt/format.h>

#include "bushbaby/records/path_text.h"
#include "bushbaby/records/zone_words.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::place_json;

std::string name_of(LevelSlip slip) {
  switch (slip) {
    case LevelSlip::start_in_solid: return "start_in_solid";
    case LevelSlip::start_in_air: return "start_in_air";
    case LevelSlip::no_ground: return "no_ground";
    case LevelSlip::name_twice: return "name_twice";
    case LevelSlip::same_place: return "same_place";
    case LevelSlip::zone_name_twice: return "zone_name_twice";
    case LevelSlip::zone_shut: return "zone_shut";
    case LevelSlip::platform_in_solid: return "platform_in_solid";
    case LevelSlip::step: break;
  }
  return "step";
}

std::string place_text(Vec place, const Units& units) {
  const Vec reported = units.shown(Dimension::length, place);
  const std::string unit = units.name(Dimension::length);
  return fmt::format("x {:.6g} {}, y {:.6g} {}", reported.x, unit, reported.y, unit);
}

// Where the file says what a finding is about.
FilePlace place_of(const LevelFinding& finding, const LevelFile& file) {
  const bool at_start =
      finding.slip == LevelSlip::start_in_solid || finding.slip == LevelSlip::start_in_air;
  const bool in_zone =
      finding.slip == LevelSlip::zone_name_twice || finding.slip == LevelSlip::zone_shut;
  if (in_zone) return file.zones[finding.solid].zone;
  return at_start ? file.start : file.solids[finding.solid];
}

std::string finding_text(const LevelFinding& finding, const LevelReport& report) {
  const Level& level = report.file.level;
  const Units& units = report.units;
  const auto length = [&units](double value) { return units.text(Dimension::length, value, 4); };
  switch (finding.slip) {
    case LevelSlip::start_in_solid:
      return fmt::format("at the start the body is inside {}, {} deep",
                         solid_name(level, finding.solid), length(finding.amount));
    case LevelSlip::start_in_air: return "nothing lies under the start";
    case LevelSlip::no_ground:
      return "nothing in the level can be stood on: every surface is too steep, or has ground = "
             "false";
    case LevelSlip::name_twice:
      return fmt::format("{} is the name of solids {} and {}", solid_name(level, finding.solid),
                         finding.other + 1, finding.solid + 1);
    case LevelSlip::same_place:
      return fmt::format("solids {} and {} are the same shape in the same place", finding.other + 1,
                         finding.solid + 1);
    case LevelSlip::zone_name_twice:
      return fmt::format("{} is the name of zones {} and {}",
                         zone_name(level, static_cast<ZoneId>(finding.solid)), finding.other + 1,
                         finding.solid + 1);
    case LevelSlip::zone_shut:
      return fmt::format("nowhere is there room for the body to be in {}",
                         zone_name(level, static_cast<ZoneId>(finding.solid)));
    case LevelSlip::platform_in_solid:
      return fmt::format("on its way {} goes through {}, at {} for the first time",
                         solid_name(level, finding.solid), solid_name(level, finding.other),
                         units.text(Dimension::time, finding.amount, 3));
    case LevelSlip::step: break;
  }
  return fmt::format("{} and {} meet with a step of {} at {}: too high to be walked over",
                     solid_name(level, finding.solid), solid_name(level, finding.other),
                     length(finding.amount), place_text(finding.place, units));
}

std::string count_text(std::size_t count, const char* one, const char* many) {
  return fmt::format("{} {}", count, count == 1 ? one : many);
}

}  // namespace

std::string level_text(const LevelReport& report) {
  const LevelCheck& check = report.check;
  const Level& level = report.file.level;
  const Units& units = report.units;
  std::string text = fmt::format(
      "\"{}\" for {}: {} ({}, {}, {}) in {}; {} from one side only\n", shortened(level.name),
      character_name(report.character), count_text(level.solids.size(), "solid", "solids"),
      count_text(check.boxes, "box", "boxes"), count_text(check.polygons, "polygon", "polygons"),
      count_text(check.lines, "line", "lines"),
      count_text(check.parts, "convex part", "convex parts"),
      count_text(check.one_sided, "blocks", "block"));
  text += fmt::format("  from {} to {}{}\n", place_text(check.bounds.lo, units),
                      place_text(check.bounds.hi, units),
                      units.convention.vertical_down ? " (y down)" : "");
  text += fmt::format("  the start is at {}", place_text(level.start, units));
  if (check.under_start && check.drop > 0) {
    text += fmt::format(", {} above {}", units.text(Dimension::length, check.drop, 4),
                        solid_name(level, *check.under_start));
  } else if (check.under_start) {
    text += ", on " + solid_name(level, *check.under_start);
  }
  text += fmt::format("\n  {} ground, {} too steep for it\n",
                      count_text(check.slopes, "slope gives", "slopes give"),
                      count_text(check.too_steep, "edge is", "edges are"));
  if (check.moving_platforms > 0) {
    text += fmt::format("  {}\n", count_text(check.moving_platforms, "path", "moving platforms"));
    for (std::size_t i = 0; i < level.solids.size(); ++i) {
      if (!level.solids[i].path) continue;
      text +=
          fmt::format("    {} {}\n", solid_name(level, i), path_text(*level.solids[i].path, units));
    }
  }
  if (check.zones > 0) {
    text += fmt::format("  {}, which a body can be in in {}\n",
                        count_text(check.zones, "zone", "zones"),
                        count_text(check.combinations - 1, "combination", "combinations"));
    for (ZoneId zone = 0; zone < check.zones; ++zone) {
      text += fmt::format("    {}: {}\n", zone_name(level, zone),
                          fmt::join(deeds_of(level.zones[zone], units), "; "));
    }
  }
  if (check.findings.empty()) return text + "nothing found\n";
  for (const LevelFinding& finding : check.findings) {
    const FilePlace place = place_of(finding, report.file);
    text += fmt::format("{}:{}:{}: {}\n", report.path, place.line, place.column,
                        finding_text(finding, report));
  }
  return text;
}

namespace {

Json moving_platforms_json(const Level& level, const Units& units) {
  Json moving_platforms = Json::array();
  for (std::size_t i = 0; i < level.solids.size(); ++i) {
    if (!level.solids[i].path) continue;
    const PlatformPath& path = *level.solids[i].path;
    const Timetable timetable(path);
    moving_platforms.push_back({{"solid", solid_name(level, i)},
                                {"loop", path.loop},
                                {"way", units.shown(Dimension::length, length_of(path))},
                                {"speed", units.shown(Dimension::speed, path.speed)},
                                {"period", units.shown(Dimension::time, timetable.period())}});
  }
  return moving_platforms;
}

}  // namespace

std::string level_json(const LevelReport& report) {
  const LevelCheck& check = report.check;
  const Level& level = report.file.level;
  const Units& units = report.units;
  Json findings = Json::array();
  for (const LevelFinding& finding : check.findings) {
    const FilePlace at = place_of(finding, report.file);
    findings.push_back({{"kind", name_of(finding.slip)},
                        {"line", at.line},
                        {"column", at.column},
                        {"says", finding_text(finding, report)}});
  }
  const Json json{
      {"level", level.name},
      {"tuning", report.character},
      {"solids", {{"boxes", check.boxes}, {"polygons", check.polygons}, {"lines", check.lines}}},
      {"convex_parts", check.parts},
      {"one_sided", check.one_sided},
      {"bounds",
       Json::array({place_json(check.bounds.lo, units), place_json(check.bounds.hi, units)})},
      {"start", place_json(level.start, units)},
      {"under_start", check.under_start ? Json(solid_name(level, *check.under_start)) : Json()},
      {"drop", units.shown(Dimension::length, check.drop)},
      {"slopes", check.slopes},
      {"too_steep", check.too_steep},
      {"moving platforms", moving_platforms_json(level, units)},
      {"zones", zone_names(level)},
      {"zone_combinations", check.combinations - 1},
      {"findings", findings},
      {"units",
       {{"lengths", units.name(Dimension::length)},
        {"speeds", units.name(Dimension::speed)},
        {"times", units.name(Dimension::time)}}}};
  return json_text(json);
}

}  // namespace bushbaby
