// Puts the references of knobs, events, facts and complaints between the markers of the documents
// in a folder.
#include <cstdio>
#include <string>

#include "bushbaby/data/files.h"
#include "bushbaby/records/answer_reports.h"
#include "bushbaby/records/catalogue.h"

namespace {

bool refresh(const std::string& path, const std::string& what, const std::string& reference) {
  const auto text = bushbaby::read_file(path);
  if (!text) return false;
  const std::string begin = "<!-- generated: " + what + " -->\n";
  const std::size_t at = text->find(begin);
  const std::size_t end = text->find("<!-- generated: end -->", at);
  if (at == std::string::npos || end == std::string::npos) return false;
  const std::size_t start = at + begin.size();
  return !bushbaby::write_file(path, text->substr(0, start) + reference + text->substr(end));
}

}  // namespace

int main(int count, char** values) {
  if (count != 2) return 2;
  const std::string folder = values[1];
  const bool done =
      refresh(folder + "/formats.md", "knobs", bushbaby::knob_reference()) &&
      refresh(folder + "/formats.md", "events", bushbaby::event_reference()) &&
      refresh(folder + "/facts.md", "facts", bushbaby::fact_reference()) &&
      refresh(folder + "/complaints.md", "complaints", bushbaby::complaint_reference());
  if (!done) std::fprintf(stderr, "no markers, or no files, in %s\n", folder.c_str());
  return done ? 0 : 1;
}
