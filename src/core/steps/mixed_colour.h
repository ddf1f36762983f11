#pragma once

#include <algorithm>
#include <array>
#include <optional>

namespace noctis {

// The colour of a pixel that shows parts of two surfaces.

/// Less of a surface than this is too little to find its colour by.
inline constexpr float kLeast = 0.02F;

/// How much of a is in a mix of a and b; none if it isn't such a mix.
inline std::optional<float> partOf(const std::array<float, 3>& mix, const std::array<float, 3>& a,
                                   const std::array<float, 3>& b) noexcept {
    float along = 0.0F;
    float length = 0.0F;
    for (std::size_t c = 0; c < 3; ++c) {
        along += (mix[c] - b[c]) * (a[c] - b[c]);
        length += (a[c] - b[c]) * (a[c] - b[c]);
    }
    if (length < 1e-6F)
        return std::nullopt;
    const float part = along / length;
    float off = 0.0F;
    for (std::size_t c = 0; c < 3; ++c) {
        const float d = mix[c] - b[c] - part * (a[c] - b[c]);
        off += d * d;
    }
    if (part < -kLeast || part > 1.0F || off > 0.06F * length)
        return std::nullopt;
    return std::max(part, 0.0F);
}

/// Whether a colour that isn't a mix of the two still belongs to a: like it, or farther from b than it.
inline bool isOf(const std::array<float, 3>& colour, const std::array<float, 3>& a,
                 const std::array<float, 3>& b) noexcept {
    float off = 0.0F;
    float along = 0.0F;
    float length = 0.0F;
    for (std::size_t c = 0; c < 3; ++c) {
        off += (colour[c] - a[c]) * (colour[c] - a[c]);
        along += (colour[c] - b[c]) * (a[c] - b[c]);
        length += (a[c] - b[c]) * (a[c] - b[c]);
    }
    return length >= 1e-6F && (off < 0.25F * length || along > length);
}

/// The colour that gives the mix together with that much of b.
inline std::array<float, 3> remainder(const std::array<float, 3>& mix,
                                      const std::array<float, 3>& b, float ofB) noexcept {
    std::array<float, 3> out{};
    for (std::size_t c = 0; c < 3; ++c)
        out[c] = std::max(0.0F, (mix[c] - ofB * b[c]) / std::max(1.0F - ofB, 0.02F));
    return out;
}

}  // namespace noctis
