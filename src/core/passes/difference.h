#pragma once

#include "core/passes/pass_set.h"

#include <string>
#include <vector>

namespace noctis {

/// What differs between a frame and a new render of it, in whole sentences: size, camera, passes that came or went,
/// ranges that are others by more than a hundredth. Empty: nothing.
std::vector<std::string> differencesOf(const PassSet& before, const PassSet& now);

}  // namespace noctis
