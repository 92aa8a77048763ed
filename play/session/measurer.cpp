#include "measurer.h"

#include <system_error>
#include <utility>

#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/lab/drills.h"

namespace bushbaby::live {

Measurer::Measurer(std::vector<std::string> drills, std::vector<Target> targets)
    : drills_(std::move(drills)), targets_(std::move(targets)) {
  try {
    thread_ = std::thread([this] { work(); });
  } catch (const std::system_error&) {
    // Whoever asks waits.
  }
}

Measurer::~Measurer() {
  {
    const std::lock_guard lock(mutex_);
    ends_ = true;
    ++asked_version_;
  }
  changed_.notify_all();
  if (thread_.joinable()) thread_.join();
}

void Measurer::ask(std::uint64_t version, const Tuning& tuning) {
  {
    const std::lock_guard lock(mutex_);
    if (thread_.joinable()) asked_ = tuning;
    asked_version_ = version;
    busy_ = true;
  }
  if (thread_.joinable()) {
    changed_.notify_all();
  } else {
    measure_asked(tuning, version);
  }
}

std::optional<Measurement> Measurer::take() {
  const std::lock_guard lock(mutex_);
  return std::exchange(done_, std::nullopt);
}

bool Measurer::is_busy() const {
  const std::lock_guard lock(mutex_);
  return busy_;
}

void Measurer::wait() {
  std::unique_lock lock(mutex_);
  changed_.wait(lock, [this] { return !busy_; });
}

bool Measurer::is_outdated(std::uint64_t version) const {
  const std::lock_guard lock(mutex_);
  return ends_ || asked_version_ != version;
}

void Measurer::work() {
  while (true) {
    Tuning tuning;
    std::uint64_t version = 0;
    {
      std::unique_lock lock(mutex_);
      changed_.wait(lock, [this] { return ends_ || asked_.has_value(); });
      if (ends_) return;
      tuning = std::move(*asked_);
      asked_.reset();
      version = asked_version_;
    }
    measure_asked(tuning, version);
  }
}

void Measurer::measure_asked(const Tuning& tuning, std::uint64_t version) {
  auto measured = measure(version, tuning);
  const std::lock_guard lock(mutex_);
  if (measured) done_ = std::move(measured);
  busy_ = asked_.has_value();
  if (!busy_) changed_.notify_all();
}

std::optional<Measurement> Measurer::measure(std::uint64_t version, const Tuning& tuning) const {
  Measurement measured;
  measured.version = version;
  measured.tuning = tuning;
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return std::nullopt;
  CharacterSubject subject(compiled.rules, tuning.name);
  for (const std::string& drill : drills_) {
    if (is_outdated(version)) return std::nullopt;
    for (DrillReport& report : run_drills(subject, {drill})) {
      measured.drills.push_back(std::move(report));
    }
  }
  for (const Target& target : targets_) {
    if (is_outdated(version)) return std::nullopt;
    measured.judgement.verdicts.push_back(judge(target, tuning));
  }
  return measured;
}

}  // namespace bushbaby::live
