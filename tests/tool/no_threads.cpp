// Loaded before a command: a machine that has no room for another thread.
#include <cerrno>

#include <pthread.h>

extern "C" int pthread_create(pthread_t* /*thread*/, const pthread_attr_t* /*attributes*/,
                              void* (* /*run*/)(void*), void* /*argument*/) noexcept {
  return EAGAIN;
}
