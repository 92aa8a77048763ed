// Work spread over the cores of the machine.
#pragma once

#include <cstddef>

#include <tbb/parallel_for.h>

namespace bushbaby::detail {

// How many threads can be had, this one included: no more than there are cores, and fewer where a
// machine has no room for them. Asked once, and what spreads work keeps to it from then on.
int threads_to_be_had();

// Does `work` of 0 to `count` - 1, each once, in any order and at the same time: none may touch
// what another writes. Where no thread is to be had, this one does it all.
template <class Work>
void on_all_cores(std::size_t count, const Work& work) {
  if (count < 2 || threads_to_be_had() < 2) {
    for (std::size_t i = 0; i < count; ++i) work(i);
  } else {
    tbb::parallel_for(std::size_t{0}, count, work);
  }
}

}  // namespace bushbaby::detail
