#pragma once

#include "core/passes/pass_set.h"

#include <string>
#include <vector>

namespace noctis {

/// Makes light that was cleaned pass by pass add up to the cleaned beauty again: at each pixel, groups and
/// parts are scaled alike. It acts on the groups only if all of them are in the set, on the parts only if
/// all of those are, and on neither without beauty. Where a sum is 0, it stays 0.
void makeLightAddUp(PassSet& set, const std::vector<std::string>& groups);

}  // namespace noctis
