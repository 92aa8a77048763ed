// Exports in JSON, read so that each value is known by its place.
#include <algorithm>
#include <cstddef>
#include <iterator>

#include <fmt/format.h>

#include "bushbaby/records/export_table.h"

#include "data/toml_text.h"
#include "export_rows.h"
#include "json_text.h"

namespace bushbaby::detail {
namespace {

constexpr const char* kValueWords = "a number, a word, or true or false";

// Goes through a text and leaves behind how far it has come.
class Reading {
 public:
  using iterator_category = std::input_iterator_tag;
  using value_type = char;
  using difference_type = std::ptrdiff_t;
  using pointer = const char*;
  using reference = const char&;

  Reading(const char* at, const char*& come) : at_(at), come_(&come) {}
  reference operator*() const { return *at_; }
  Reading& operator++() {
    *come_ = ++at_;
    return *this;
  }
  Reading operator++(int) {
    const Reading before = *this;
    ++*this;
    return before;
  }
  bool operator==(const Reading& other) const { return at_ == other.at_; }
  bool operator!=(const Reading& other) const { return at_ != other.at_; }

 private:
  const char* at_;
  const char** come_;
};

// Takes what the parser finds, and makes rows of it.
class RowTaker : public nlohmann::json_sax<Json> {
 public:
  RowTaker(std::string_view text, const std::string& path, std::vector<Problem>& problems)
      : text_(text), path_(path), places_(text), problems_(problems) {}

  // Where the parser has come to.
  const char*& come() { return come_; }
  std::vector<ReadRow> take_rows() { return std::move(rows_); }
  [[nodiscard]] bool is_export() const { return is_export_; }
  [[nodiscard]] const std::optional<Problem>& broken() const { return broken_; }

  bool null() override { return refuse("null"); }
  bool boolean(bool value) override { return take(value ? "true" : "false"); }
  bool number_integer(number_integer_t value) override {
    return take(fmt::format("{}", static_cast<double>(value)));
  }
  bool number_unsigned(number_unsigned_t value) override {
    return take(fmt::format("{}", static_cast<double>(value)));
  }
  bool number_float(number_float_t value, const string_t& /*text*/) override {
    return take(fmt::format("{}", value));
  }
  bool string(string_t& value) override { return take(value); }
  bool binary(binary_t& /*value*/) override { return true; }  // there is none in a text

  bool start_object(std::size_t /*elements*/) override {
    const Where where = here();
    if (where == Where::knob) {
      rows_.push_back({open_[1].key, "", "", key_at_, key_at_});
      has_value_ = false;
    } else if (where != Where::part) {
      (void)refuse("an object");
    }
    open_.push_back({false, ""});
    return true;
  }
  bool key(string_t& key) override {
    const auto end = static_cast<std::size_t>(come_ - text_.data());
    std::size_t begin = end > 1 ? end - 2 : 0;  // before the quotation mark that closes it
    while (begin > 0 && !is_quote(begin)) --begin;
    key_at_ = places_.at(begin);
    const std::size_t colon = std::min(text_.find(':', end), text_.size());
    const std::size_t value = text_.find_first_not_of(" \t\r\n", colon + 1);
    value_at_ = places_.at(std::min(value, text_.size()));
    open_.back().key = key;
    return true;
  }
  bool end_object() override {
    open_.pop_back();
    if (here() != Where::knob || has_value_) return true;
    problems_.push_back(
        wrong_row(path_, rows_.back().key_at, open_[1].key, "no value", kValueWords));
    rows_.pop_back();
    return true;
  }
  bool start_array(std::size_t /*elements*/) override {
    (void)refuse("a list");
    open_.push_back({true, ""});
    return true;
  }
  bool end_array() override {
    open_.pop_back();
    return true;
  }
  bool parse_error(std::size_t position, const std::string& token,
                   const nlohmann::json::exception& /*error*/) override {
    // It may lie before the value that was looked for last.
    const TextPlace at = TextPlaces(text_).at(std::max<std::size_t>(position, 1) - 1);
    const std::string found = position > text_.size() ? "the end" : shown(std::string_view(token));
    broken_ = wrong_row(path_, at, "", found, "JSON, as export writes it");
    return false;
  }

 private:
  struct Open {
    bool list;
    std::string key;  // the one of an object that was read last
  };

  // What stands where the parser is.
  enum class Where {
    format,
    part,   // the style, or the knobs
    style,  // a word of the style
    knob,
    value,
    unit,
    elsewhere,  // whatever stands there is not read
  };
  [[nodiscard]] Where here() const {
    const std::size_t depth = open_.size();
    if (depth == 0 || depth > 3) return Where::elsewhere;  // however deep a stranger's file goes
    const bool in_list =
        std::any_of(open_.begin(), open_.end(), [](const Open& one) { return one.list; });
    if (in_list) return Where::elsewhere;
    const std::string& part = open_[0].key;
    const bool knobs = part == "knobs";
    if (depth == 1 && part == "format") return Where::format;
    if (!knobs && part != "convention") return Where::elsewhere;
    if (depth == 1) return Where::part;
    if (depth == 2) return knobs ? Where::knob : Where::style;
    if (knobs && open_[2].key == "value") return Where::value;
    return knobs && open_[2].key == "unit" ? Where::unit : Where::elsewhere;
  }

  [[nodiscard]] bool is_quote(std::size_t at) const {
    if (text_[at] != '"') return false;
    std::size_t slashes = 0;
    while (slashes < at && text_[at - 1 - slashes] == '\\') ++slashes;
    return slashes % 2 == 0;
  }

  bool take(const std::string& text) {
    switch (here()) {
      case Where::format: is_export_ = is_export_ || text == kExportFormat; return true;
      case Where::style:
        rows_.push_back({"convention." + open_[1].key, text, "", key_at_, value_at_});
        return true;
      case Where::value:
        rows_.back().text = text;
        rows_.back().value_at = value_at_;
        has_value_ = true;
        return true;
      case Where::unit: rows_.back().unit = text; return true;
      default: return refuse(text);
    }
  }

  // What should not stand where it does.
  bool refuse(const std::string& found) {
    const Where where = here();
    if (where == Where::elsewhere) return true;
    if (where == Where::value) has_value_ = true;  // reported here
    const char* expected = where == Where::part   ? "{…}"
                           : where == Where::knob ? "{\"value\": …, \"unit\": …}"
                           : where == Where::unit ? "the name of a unit"
                                                  : kValueWords;
    problems_.push_back(wrong_row(path_, value_at_, open_[open_.size() > 1 ? 1 : 0].key,
                                  shown(std::string_view(found)), expected));
    return true;
  }

  std::string_view text_;
  const std::string& path_;
  TextPlaces places_;
  std::vector<Problem>& problems_;
  const char* come_ = text_.data();
  std::vector<ReadRow> rows_;
  std::vector<Open> open_;  // objects and lists within each other
  bool has_value_ = false;  // the knob that is open
  bool is_export_ = false;
  TextPlace key_at_;
  TextPlace value_at_;
  std::optional<Problem> broken_;
};

}  // namespace

Result<std::vector<ReadRow>> rows_of_json(std::string_view text, const std::string& path,
                                          std::vector<Problem>& problems) {
  std::vector<Problem> found;
  RowTaker taker(text, path, found);
  const Reading begin(text.data(), taker.come());
  const Reading end(text.data() + text.size(), taker.come());
  const bool whole = Json::sax_parse(begin, end, &taker);
  // Of anybody's file nothing is shown.
  const bool ours = taker.is_export() || text.find(kExportFormat) != std::string_view::npos;
  if (!ours || (whole && !taker.is_export())) return no_export(path);
  if (taker.broken()) return tl::unexpected(std::vector<Problem>{*taker.broken()});
  problems.insert(problems.end(), found.begin(), found.end());
  return taker.take_rows();
}

}  // namespace bushbaby::detail
