#pragma once

namespace noctis {

/// Shade along a run of pixels, all in plain numbers.
struct OcclusionRow {
    float strength;
    float black;
    float perOpen;  ///< 1 / (white - black)
    float gamma;
    float tint[3];
    float perBright;  ///< 1 / luminance from which nothing is shaded; 0 shades everywhere
};

/// r, g, b: changed in place; open: 0..1. A NaN keeps its pixel.
void occlusionRow(const OcclusionRow& shade, const float* open, float* r, float* g, float* b,
                  int count) noexcept;

}  // namespace noctis
