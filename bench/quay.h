#pragma once

#include "core/passes/pass_set.h"
#include "harness.h"

namespace bench {

constexpr int kQuayWidth = 1920;
constexpr int kQuayHeight = 1080;

/// The demo's quay at 1920x1080, by its nearest pixels: beauty, depth, distance, normal, position.
noctis::PassSet quay(const Demo& demo);

}  // namespace bench
