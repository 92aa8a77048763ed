// A test for a `World` of your own: asks it what the motion step asks, and reports what it gets
// wrong.
//
//     for (const std::string& fault : check_world(my_world, {{0, 0}, {200, 40}})) report(fault);
#pragma once

#include <string>
#include <vector>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

/// What is wrong with a world's answers within `where` (u), in words, at most `most` of them; none
/// if nothing was found. Asks `questions` times, for regions of many sizes that are the same at
/// every call, and holds that
/// - every part is a box or a convex polygon as `Solids` wants it, of finite numbers;
/// - the same question gets the same answer, and a surface or a zone the same traits;
/// - a condition of a part that is solid at times is a tree;
/// - zones are handed over like that too, and none has a border where it says that there is none;
/// - whatever reaches into a region is handed over for it, be it asked for a smaller or a larger
///   one;
/// - what travels is found as a moving platform on its way, and farther by what it travels at the
/// next tick.
[[nodiscard]] std::vector<std::string> check_world(const World& world, const Box& where,
                                                   int questions = 2000, std::size_t most = 10);

}  // namespace bushbaby
