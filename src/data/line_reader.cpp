#include "machine.h"

#ifdef BUSHBABY_HAS_POSIX

#include <algorithm>
#include <array>
#include <cerrno>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/data/line_reader.h"

#include "descriptors.h"

namespace bushbaby {

struct LineReader::State {
  std::string path;
  detail::Descriptor file;
  std::array<char, 65536> block{};
  std::size_t at = 0;   // in the block
  std::size_t end = 0;  // of what it holds
  std::size_t number = 0;
  bool cut_off = false;
  std::optional<Problem> problem{};
};

LineReader::LineReader(std::unique_ptr<State> state) : state_(std::move(state)) {}
LineReader::LineReader(LineReader&& other) noexcept = default;
LineReader::~LineReader() = default;

Result<LineReader> LineReader::open(const std::string& path) {
  auto file = detail::open_to_read(path);
  if (!file) return tl::unexpected(file.error());
  return LineReader(std::make_unique<State>(State{path, std::move(*file)}));
}

bool LineReader::next(std::string& line) {
  constexpr std::size_t kLongest = 65536;
  State& state = *state_;
  line.clear();
  if (state.problem) return false;
  while (true) {
    if (state.at == state.end) {
      const ssize_t got =
          detail::read_some(state.file.get(), state.block.data(), state.block.size());
      if (got < 0) state.problem = detail::cannot_read(state.path, detail::reason_of(errno));
      if (got <= 0 && line.empty()) return false;
      if (got <= 0) {
        state.cut_off = true;
        break;
      }
      state.at = 0;
      state.end = static_cast<std::size_t>(got);
    }
    const char* const begin = state.block.data() + state.at;
    const char* const stop = state.block.data() + state.end;
    const char* const found = std::find(begin, stop, '\n');
    line.append(begin, found);
    state.at = static_cast<std::size_t>(found - state.block.data());
    if (line.size() > kLongest) {
      state.problem =
          detail::cannot_read(state.path, fmt::format("a line of more than {} bytes", kLongest));
      state.problem->line = static_cast<int>(std::min<std::size_t>(state.number + 1, 1U << 30U));
      return false;
    }
    if (found == stop) continue;
    ++state.at;
    break;
  }
  ++state.number;
  return true;
}

bool LineReader::is_cut_off() const noexcept { return state_->cut_off; }

std::size_t LineReader::number() const noexcept { return state_->number; }

const std::optional<Problem>& LineReader::problem() const noexcept { return state_->problem; }

}  // namespace bushbaby

#endif
