#pragma once

#include "core/scene/animation.h"

#include <cstddef>
#include <map>
#include <string>

struct aiScene;

namespace noctis {

/// Adds the keys of all animations of a file to the nodes of these names.
/// Result   how many are left out: their time or value isn't finite.
std::size_t importKeys(const aiScene& from, const std::map<std::string, int>& nodes,
                       Animation& animation);

}  // namespace noctis
