#pragma once

#include <array>
#include <cstddef>

namespace noctis {

/// The planes of DenoiseGuides, all of one stride.
struct GuidePlanes {
    std::array<const float*, 3> position{};
    std::array<const float*, 3> normal{};  ///< 0 where nothing was hit
    const float* footprint = nullptr;
    std::array<const float*, 3> albedo{};  ///< null: it does not count
    std::ptrdiff_t stride = 0;
    int width = 0;
    int height = 0;
};

/// What differences are measured by, and how much of them is noise.
struct NoisePlanes {
    const float* strength = nullptr;
    const float* variance = nullptr;
};

/// The channels of a picture before and after a round of smoothing, and the variance that is left.
struct SmoothedPlanes {
    static constexpr std::size_t kMostChannels = 4;
    std::array<const float*, kMostChannels> from{};
    std::array<float*, kMostChannels> to{};
    std::size_t channels = 0;
    float* variance = nullptr;
};

// One row each. Where nothing was hit there is no noise, as each ray sees the same sky: pixels stay as they
// are. A pixel's result depends on no other's place in the row.

/// Variance of each pixel, from those about it that show the same surface. rays: how many were traced for a
/// pixel, which bounds it; may be none.
void measureNoise(const GuidePlanes& guides, const float* strength, const float* rays,
                  float* variance, int y) noexcept;
/// Each pixel becomes the mean of the 5 x 5 pixels, step apart, that show the same surface and differ by no
/// more than noise.
void smooth(const GuidePlanes& guides, const NoisePlanes& noise, int step,
            const SmoothedPlanes& planes, int y) noexcept;
/// How many of the 24 pixels about each would be smoothed with it, 0..1.
void measureSupport(const GuidePlanes& guides, const NoisePlanes& noise, float* support,
                    int y) noexcept;

}  // namespace noctis
