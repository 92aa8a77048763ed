// The version of Bushbaby, in one place: the build reads it from here.
#pragma once

#define BUSHBABY_VERSION_MAJOR 0
#define BUSHBABY_VERSION_MINOR 1
#define BUSHBABY_VERSION_PATCH 0

namespace bushbaby {

inline constexpr const char* kVersion = "0.1.0";

}  // namespace bushbaby
