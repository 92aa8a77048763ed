#include <cstdio>
#include <string>

#include <bushbaby/core/advance.h>
#include <bushbaby/data/course_file.h>
#include <bushbaby/data/tuning_file.h>

int main(int count, char** values) {
  if (count != 2) return 2;
  const std::string demo = values[1];
  const auto file = bushbaby::load_tuning(demo + "/pip.tuning.toml");
  const auto course = bushbaby::load_course(demo + "/first-limbs.course.toml");
  if (!file || !course) return 1;
  const auto rules = bushbaby::compile(file->tuning).rules;
  const bushbaby::CourseWorld world(*course);
  bushbaby::Character character;
  if (!bushbaby::place(character, course->start, rules, world) || !character.grounded()) return 1;
  std::printf("%s stands at %g u\n", file->tuning.name.c_str(), character.feet.x);
  return 0;
}
