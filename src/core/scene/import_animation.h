#pragma once

#include "core/scene/animation.h"

#include <map>
#include <string>

struct aiScene;

namespace noctis {

/// Adds the keys of all animations of a file to the nodes of these names.
void importKeys(const aiScene& from, const std::map<std::string, int>& nodes, Animation& animation);

}  // namespace noctis
