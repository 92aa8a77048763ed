#include "bushbaby/data/course_file.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/tape_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/subject.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/records/trace_csv.h"
#include "bushbaby/views/course_map.h"

#include "output.h"
#include "verbs.h"

namespace bushbaby::tool {

int run(const RunCall& call) {
  // All three are read before anything is reported: what is wrong comes out in one go.
  const auto file = load_tuning(call.tuning, call.settings);
  const auto course = load_course(call.course);
  const auto tape = load_tape(call.tape);
  const auto written_out = call.convention == "file"
                               ? Result<Convention>{}
                               : parse_convention(call.convention, "--convention");
  std::vector<Problem> problems;
  if (!written_out) append(problems, written_out.error());
  if (!file) append(problems, file.error());
  if (!course) append(problems, course.error());
  if (!tape) append(problems, tape.error());
  if (!problems.empty()) return fail(problems);
  const auto compiled = check_tuning(*file);
  if (!compiled) return fail(compiled.error());

  CharacterSubject subject(compiled->rules, file->tuning.name);
  const SubjectTraits traits = subject.traits();
  const auto trace = run_tape(subject, course_stage(*course), controls_of(*tape, traits.tick_rate));
  if (!trace) {
    return fail({{ProblemCode::contradiction, call.course, 0, 0, "start",
                  "a place where the body is inside a solid", "room for the body", ""}});
  }
  const RunReport report{file->tuning.name, course->name, *trace};
  print(call.json ? run_json(report) : run_table(report));
  if (!call.trace.empty()) {
    const Convention& convention = call.convention == "file" ? file->convention : *written_out;
    const auto problem = write_file(call.trace, write_trace(*trace, convention));
    if (problem) return fail({*problem});
    say_written(convention.is_default()
                    ? call.trace
                    : call.trace + " in " + unit_in(convention, Dimension::length) + ", " +
                          unit_in(convention, Dimension::speed) + ", y " +
                          (convention.vertical_down ? "down" : "up"));
  }
  return draw_if_asked(
      draw(RunMap{file->tuning.name, *course, *trace, traits.body_width, traits.body_height}),
      call.plot);
}

}  // namespace bushbaby::tool
