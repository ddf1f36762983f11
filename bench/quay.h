#pragma once

#include "core/passes/pass_set.h"
#include "harness.h"

namespace bench {

constexpr int kQuayWidth = 1920;
constexpr int kQuayHeight = 1080;

/// The demo's quay by its nearest pixels: beauty, depth, distance, normal, position.
noctis::PassSet quay(const Demo& demo, int width = kQuayWidth, int height = kQuayHeight);

}  // namespace bench
