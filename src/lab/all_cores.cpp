#include "all_cores.h"

#include <future>
#include <system_error>
#include <thread>
#include <vector>

#include <tbb/global_control.h>
#include <tbb/info.h>

namespace bushbaby::detail {
namespace {

// Starts threads until one is refused: the library that spreads work would end the program then.
int count_threads() {
  const int cores = tbb::info::default_concurrency();
  std::promise<void> all_started;
  const std::shared_future<void> gate = all_started.get_future().share();
  std::vector<std::thread> threads;
  int count = 1;
  try {
    for (; count < cores; ++count) threads.emplace_back([gate] { gate.wait(); });
  } catch (const std::system_error&) {
    // These are all.
  }
  all_started.set_value();
  for (std::thread& thread : threads) thread.join();
  return count;
}

}  // namespace

int threads_to_be_had() {
  static const int count = count_threads();
  static const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                         static_cast<std::size_t>(count));
  return count;
}

}  // namespace bushbaby::detail
