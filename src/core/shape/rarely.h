// What hardly any tick comes to, kept out of the way of what every tick does: a step has no hot
// place of its own, so that how its many small parts lie decides how long it takes.
#pragma once

#if defined(__GNUC__)
// A function that few ticks call, made small and put elsewhere.
#define BUSHBABY_RARE [[gnu::cold]]
// A function that many ticks call, but that is not to be mixed with its caller.
#define BUSHBABY_APART [[gnu::noinline]]
// A function that is one with its caller.
#define BUSHBABY_WITHIN [[gnu::always_inline]] inline
#else
#define BUSHBABY_RARE
#define BUSHBABY_APART
#define BUSHBABY_WITHIN inline
#endif

namespace bushbaby::detail {

// The same truth, which hardly ever is one.
inline bool rarely(bool what) noexcept {
#if defined(__GNUC__)
  return __builtin_expect(static_cast<long>(what), 0) != 0;
#else
  return what;
#endif
}

}  // namespace bushbaby::detail
