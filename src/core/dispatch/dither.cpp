#include "core/dispatch/dither.h"

#include "core/image/tiles.h"

#include <cstdint>
#include <vector>

namespace noctis {

namespace {

/// Even between -0.5 and 0.5, both left out: the finaliser of MurmurHash3 over a place.
float noiseAt(int x, int y, int channel) noexcept {
    std::uint32_t h = static_cast<std::uint32_t>(x) * 0x9E3779B1U ^
                      static_cast<std::uint32_t>(y) * 0x85EBCA77U ^
                      static_cast<std::uint32_t>(channel + 1) * 0xC2B2AE3DU;
    h ^= h >> 16U;
    h *= 0x85EBCA6BU;
    h ^= h >> 13U;
    h *= 0xC2B2AE35U;
    h ^= h >> 16U;
    return (static_cast<float>(h >> 10U) + 0.5F) / 4194304.0F - 0.5F;
}

/// Of the way to the next step, so that rounding can't carry what lies on a step away from it.
constexpr float kWithin = 0.998F;

}  // namespace

Image dithered(const Image& picture, int steps) {
    Image out = picture;
    std::vector<float*> to;
    const int alpha = out.channel("A");
    for (int c = 0; c < out.channels(); ++c)
        to.push_back(c == alpha ? nullptr : out.editPlane(c));
    const float step = kWithin / static_cast<float>(steps);
    forEachBand(out.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int c = 0; c < out.channels(); ++c)
                if (float* plane = to[static_cast<std::size_t>(c)])
                    for (int x = 0; x < out.width(); ++x)
                        plane[out.rowStride() * y + x] += step * noiseAt(x, y, c);
    });
    return out;
}

}  // namespace noctis
