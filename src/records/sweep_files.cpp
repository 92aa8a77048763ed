// The files of sweeps: begun, gone on with, read back, put together.
#include <algorithm>
#include <limits>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"
#include "bushbaby/records/sweep_csv.h"

#include "sweep_rows.h"

namespace bushbaby {
namespace {

using detail::SweepRows;

// What is wrong with the rows of a file that is gone on with: they are those of the runs from
// `first` on (from 1), in order.
std::optional<Problem> check_begun(const std::string& path, std::size_t first) {
  auto rows = SweepRows::open(path);
  if (!rows) return rows.error().front();
  for (std::size_t run = first; rows->next(); ++run) {
    if (rows->run() != run) {
      return rows->wrong_row(fmt::format("run {}", rows->run()),
                             fmt::format("run {}; remove this file to begin again", run));
    }
  }
  return rows->problem();
}

// Begins a file, or goes on with one whose rows are all right.
Result<GrowingFile> go_on_with(const std::string& out, const std::string& header,
                               std::size_t first) {
  auto file = GrowingFile::open(out, header);
  if (!file || file->lines_before() == 0) return file;
  if (auto problem = check_begun(file->unfinished(), first)) {
    return tl::unexpected(std::vector<Problem>{std::move(*problem)});
  }
  return file;
}

}  // namespace

Result<GrowingFile> begin_sweep(const std::string& path, const KnobSweep& sweep, const Units& units,
                                std::size_t first) {
  return go_on_with(path, sweep_header(sweep, units), first + 1);
}

std::optional<Problem> read_sweep(const std::string& path, const KnobSweep& sweep,
                                  const Units& units, SweepTable& table) {
  auto rows = SweepRows::open(path);
  if (!rows) return rows.error().front();
  if (rows->header() != sweep_header(sweep, units)) {
    return Problem{ProblemCode::contradiction, path, 1, 0, "", "another first line",
                   "the sweep that was made",  ""};
  }
  while (rows->next()) {
    if (rows->run() > runs_of(sweep)) return rows->wrong_row(rows->cell(0), "a run of this sweep");
    SweepRun measured;
    for (std::size_t k = 0; k < sweep.facts.size(); ++k) {
      const auto reported = parse_number(rows->cell(1 + sweep.axes.size() + k));
      measured.push_back(reported ? std::optional(units.meant(sweep.facts[k]->dimension, *reported))
                                  : std::nullopt);
    }
    keep_runs(table, sweep, units, rows->run() - 1, {measured});
  }
  return rows->problem();
}

namespace {

struct SweepPart {
  std::string path;
  std::size_t first = 0;  // its first run
};

// The parts in the order of their runs, with the first line that all of them have.
std::optional<Problem> order_parts(const std::vector<std::string>& paths, std::string& header,
                                   std::vector<SweepPart>& ordered) {
  for (const std::string& path : paths) {
    auto rows = SweepRows::open(path);
    if (!rows) return rows.error().front();
    if (header.empty()) header = rows->header();
    if (rows->header() != header) {
      return Problem{ProblemCode::contradiction,        path, 1, 0, "", "a part of another sweep",
                     "one of that of " + paths.front(), ""};
    }
    std::size_t first = std::numeric_limits<std::size_t>::max();  // of an empty part: no matter
    if (rows->next()) first = rows->run();
    if (rows->problem()) return rows->problem();
    ordered.push_back({path, first});
  }
  std::sort(ordered.begin(), ordered.end(),
            [](const SweepPart& a, const SweepPart& b) { return a.first < b.first; });
  return std::nullopt;
}

// Appends the runs of a part, the next of which must be `next`.
std::optional<Problem> append_part(const SweepPart& part, GrowingFile& merged, std::size_t& next) {
  constexpr std::size_t kBlock = 1U << 20U;
  auto rows = SweepRows::open(part.path);
  if (!rows) return rows.error().front();
  std::string block;
  for (; rows->next(); ++next) {
    if (rows->run() != next) {
      return rows->wrong_row(fmt::format("run {}", rows->run()),
                             fmt::format("run {}: a part is missing, or there twice", next));
    }
    if (next > merged.lines_before()) block += rows->row() + "\n";
    if (block.size() < kBlock) continue;
    if (auto problem = merged.append(block)) return problem;
    block.clear();
  }
  return rows->problem() ? rows->problem() : merged.append(block);
}

}  // namespace

std::optional<Problem> merge_sweeps(const std::string& out, const std::vector<std::string>& parts) {
  std::vector<SweepPart> ordered;
  std::string header;
  if (auto problem = order_parts(parts, header, ordered)) return problem;
  auto merged = go_on_with(out, header, 1);
  if (!merged) return merged.error().front();
  std::size_t next = 1;
  std::optional<Problem> problem;
  for (const SweepPart& part : ordered) {
    if (!problem) problem = append_part(part, *merged, next);
  }
  const std::size_t begin = detail::kSweepStart.size();
  const auto whole = parse_number(header.substr(begin, header.find(' ', begin) - begin));
  if (!problem && (!whole || static_cast<double>(next - 1) != *whole)) {
    problem = Problem{ProblemCode::contradiction,
                      ordered.back().path,
                      0,
                      0,
                      "",
                      fmt::format("{} runs in all parts", next - 1),
                      fmt::format("{}: the last part is missing", whole.value_or(0)),
                      ""};
  }
  if (!problem) return merged->finish();
  // What was there before is another's, and stays.
  if (merged->lines_before() == 0) (void)merged->abandon();
  return problem;
}

}  // namespace bushbaby
