#pragma once

#include <algorithm>
#include <cstddef>

namespace noctis {

/// Picks from sums that grow; gives the index and how far within it.
inline std::size_t pickBySums(const float* sums, std::size_t count, float u, float& within) {
    const float target = u * sums[count - 1];
    const auto* found = std::upper_bound(sums, sums + count, target);
    const auto index = std::min(static_cast<std::size_t>(found - sums), count - 1);
    const float before = index == 0 ? 0.0F : sums[index - 1];
    within =
        std::clamp((target - before) / std::max(sums[index] - before, 1e-20F), 0.0F, 0.999999F);
    return index;
}

}  // namespace noctis
