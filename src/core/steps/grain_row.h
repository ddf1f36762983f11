#pragma once

#include <cstdint>

namespace noctis {

/// Grain along a run of pixels of a picture of 1/factor of the full one's size.
struct GrainRow {
    float strength = 0.0F;
    float size = 1.0F;  ///< px of the full picture
    float ownShare =
        0.0F;  ///< of each channel's own noise; what they share has the rest of the variance
    std::uint32_t seed = 0;  ///< of the frame
    int factor = 1;
};

/// Adds to each channel noise of the deviation strength sqrt(0.18 max(L, 0.18 / 1024)), with L as the pixel's luminance;
/// of a smaller picture the mean over the full one's pixels.
/// x, y: the first pixel's place; alpha: what the colour is associated with, may be none.
/// Exact    nothing is clipped; noise of one pixel's size is independent between pixels, and the mean of all is 0.
/// Source   a sum of four even numbers stands for a normal one (Irwin and Hall 1927); the numbers are hashes of places
///          (the finaliser of MurmurHash3), so that nothing repeats.
void grainRow(const GrainRow& grain, int x, int y, const float* alpha, float* r, float* g, float* b,
              int count);

}  // namespace noctis
