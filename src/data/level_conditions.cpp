// Conditions under which solids of level files are solid.
#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/core/motion/character.h"

#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr std::size_t kMostNodes = 64;
constexpr int kMostDepth = 16;

// What a statement of a file is about.
struct Subject {
  std::string_view name;
  Stated of;
  Dimension dimension;                    // of numbers
  std::array<std::string_view, 3> words;  // for -1, 0, 1; none: a number, or a name
};
constexpr std::array<Subject, 7> kSubjects{
    {{"height", Stated::height, Dimension::length, {}},
     {"speed_horizontal", Stated::speed_horizontal, Dimension::speed, {}},
     {"speed_vertical", Stated::speed_vertical, Dimension::speed, {}},
     {"held_horizontal", Stated::held_horizontal, Dimension::number, {"left", "nothing", "right"}},
     {"held_vertical", Stated::held_vertical, Dimension::number, {"down", "nothing", "up"}},
     {"stance", Stated::stance, Dimension::number, {}},
     {"zone", Stated::zone, Dimension::number, {}}}};

class ConditionReader : private FieldReader {
 public:
  ConditionReader(const Convention& convention, Condition& condition, ZoneNames& names,
                  std::size_t solid, ProblemList& problems)
      : FieldReader(convention, problems), condition_(condition), names_(names), solid_(solid) {}

  void read(const toml::node& node) {
    read_group(node, "solid.solid_when", 0);
    if (condition_.nodes.size() > kMostNodes) {
      problems_.add(ProblemCode::out_of_range, node.source(), "solid.solid_when",
                    fmt::format("{} statements and groups", condition_.nodes.size()),
                    fmt::format("at most {}", kMostNodes));
    }
  }

 private:
  // A table: what stands in it holds all at once.  NOLINTNEXTLINE(misc-no-recursion)
  void read_group(const toml::node& node, const std::string& name, int depth) {
    const toml::table* table = as_table(node, name);
    if (table == nullptr) return;
    if (table->empty() || depth > kMostDepth) {
      problems_.add(ProblemCode::out_of_range, node.source(), name,
                    table->empty() ? "nothing" : "groups too deep",
                    table->empty() ? "a statement, all, any or not"
                                   : fmt::format("at most {} in one another", kMostDepth));
      return;
    }
    const bool several = table->size() > 1;
    const std::size_t group = several ? open(Condition::Kind::all) : 0;
    for (const auto& [key, value] : *table) {
      read_key(key, value, name + "." + std::string(key.str()), depth);
    }
    if (several) close(group);
  }

  // NOLINTNEXTLINE(misc-no-recursion)
  void read_key(const toml::key& key, const toml::node& value, const std::string& name, int depth) {
    if (key.str() == "all" || key.str() == "any") {
      read_list(value, name, key.str() == "all" ? Condition::Kind::all : Condition::Kind::any,
                depth);
    } else if (key.str() == "not") {
      const std::size_t group = open(Condition::Kind::no);
      read_group(value, name, depth + 1);
      close(group);
    } else {
      const auto* subject = std::find_if(kSubjects.begin(), kSubjects.end(),
                                         [&key](const Subject& s) { return s.name == key.str(); });
      if (subject != kSubjects.end()) {
        read_statement(value, name, *subject);
      } else {
        problems_.unknown(key, std::string(key.str()),
                          {"height", "speed_horizontal", "speed_vertical", "held_horizontal",
                           "held_vertical", "stance", "zone", "all", "any", "not"});
      }
    }
  }

  // NOLINTNEXTLINE(misc-no-recursion)
  void read_list(const toml::node& node, const std::string& name, Condition::Kind kind, int depth) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->empty()) {
      problems_.add(ProblemCode::wrong_type, node.source(), name,
                    list == nullptr ? shown(node) : "an empty list",
                    "a list of statements: [{ speed_vertical = { at_least = -6 } }, …]");
      return;
    }
    const std::size_t group = open(kind);
    for (const toml::node& item : *list) read_group(item, name, depth + 1);
    close(group);
  }

  std::size_t open(Condition::Kind kind) {
    condition_.nodes.push_back({kind, 1, {}});
    return condition_.nodes.size() - 1;
  }
  void close(std::size_t group) {
    condition_.nodes[group].size = static_cast<std::uint32_t>(condition_.nodes.size() - group);
  }

  void read_statement(const toml::node& node, const std::string& name, const Subject& subject) {
    condition_.nodes.push_back({Condition::Kind::statement, 1, {subject.of}});
    const toml::table* table = as_table(node, name);
    if (table == nullptr) return;
    if (table->size() != 1) {
      problems_.add(ProblemCode::contradiction, node.source(), name,
                    fmt::format("{} bounds", table->size()),
                    "one of at_least, at_most, between and is");
      return;
    }
    for (const auto& [key, value] : *table) {
      read_bound(key, value, name + "." + std::string(key.str()), subject,
                 condition_.nodes.back().statement);
    }
  }

  void read_bound(const toml::key& key, const toml::node& value, const std::string& name,
                  const Subject& subject, Statement& statement) {
    const bool is_number = subject.dimension != Dimension::number;
    if (!is_number) {
      if (key.str() == "is") {
        read_name(value, name, subject, statement);
      } else {
        problems_.unknown(key, std::string(key.str()), {"is"});
      }
    } else if (key.str() == "at_least" || key.str() == "at_most" || key.str() == "is") {
      double bound = 0;
      set_number(value, name, {-kMostAmount, kMostAmount}, subject.dimension, bound);
      if (key.str() != "at_most") statement.at_least = bound;
      if (key.str() != "at_least") statement.at_most = bound;
    } else if (key.str() == "between") {
      const toml::array* list = value.as_array();
      if (list == nullptr || list->size() != 2) {
        problems_.add(ProblemCode::wrong_type, value.source(), name, shown(value), "[least, most]");
        return;
      }
      set_number(*list->get(0), name, {-kMostAmount, kMostAmount}, subject.dimension,
                 statement.at_least);
      set_number(*list->get(1), name, {-kMostAmount, kMostAmount}, subject.dimension,
                 statement.at_most);
    } else {
      problems_.unknown(key, std::string(key.str()), {"at_least", "at_most", "between", "is"});
    }
  }

  void read_name(const toml::node& value, const std::string& name, const Subject& subject,
                 Statement& statement) {
    if (subject.of == Stated::zone) {
      const auto text = read_text(value, name, problems_);
      if (text) names_.add({solid_, condition_.nodes.size() - 1, *text, value.source()});
      return;
    }
    std::vector<std::string_view> names(subject.words.begin(), subject.words.end());
    int first = -1;
    if (subject.of == Stated::stance) {
      names.clear();
      first = 0;
      for (int stance = 0; stance <= static_cast<int>(Stance::swimming); ++stance) {
        names.push_back(name_of(static_cast<Stance>(stance)));
      }
    }
    const auto choice = read_choice(value, name, names, problems_);
    if (choice) statement.at_least = statement.at_most = static_cast<double>(*choice) + first;
  }

  Condition& condition_;
  ZoneNames& names_;
  std::size_t solid_;
};

}  // namespace

void ZoneNames::resolve(Level& level, ProblemList& problems) const {
  std::vector<std::string_view> known;
  for (const Zone& zone : level.zones) known.emplace_back(zone.name);
  for (const Named& named : named_) {
    const auto at = std::find(known.begin(), known.end(), named.name);
    if (at == known.end()) {
      problems.add(ProblemCode::unknown_name, named.where, "solid.solid_when", shown(named.name),
                   known.empty() ? "the name of a zone: this level has none"
                                 : fmt::format("one of {}", fmt::join(known, ", ")),
                   std::string(nearest_name(named.name, known)));
      continue;
    }
    Statement& statement = level.solids[named.solid].solid_when.nodes[named.node].statement;
    statement.at_least = statement.at_most = static_cast<double>(at - known.begin());
  }
}

void read_condition(const toml::node& node, const Convention& convention, std::size_t solid,
                    Condition& condition, ZoneNames& names, ProblemList& problems) {
  ConditionReader(convention, condition, names, solid, problems).read(node);
}

}  // namespace bushbaby::detail
