#pragma once

#include <algorithm>

namespace noctis {

/// px that the column of cards at a room's right takes of its width: more on a wide window, so that sliders are
/// longer.
inline int panelWidth(int room) {
    constexpr int kNarrowest = 302;
    constexpr int kWidest = 440;
    constexpr double kPart = 0.235;
    return std::clamp(static_cast<int>(room * kPart), kNarrowest, kWidest);
}

}  // namespace noctis
