// What a machine has beside the language: files as POSIX knows them, or only those of C.
#pragma once

#if defined(__unix__) || defined(__APPLE__)
#define BUSHBABY_HAS_POSIX
#endif

// Some libraries have no <filesystem>, and some no numbers out of a text without a locale.
#if defined(__wasi__)
#define BUSHBABY_PLAIN_LIBRARY
#endif
