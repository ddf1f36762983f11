#pragma once

#include "core/image/camera.h"

#include <cstdint>

namespace noctis {

/// Of a float's bits: those below a row of the table.
inline constexpr int kScatterRowBits = 19;

/// What a lamp's, spot's or sun's light in the air is made from, all in plain numbers.
struct ScatterRow {
    bool sun = false;
    bool spot = false;
    float sigma = 0.0F;    ///< 1/m
    float scatter = 0.0F;  ///< Henyey and Greenstein's g
    V3f lamp{0.0F};
    V3f axis{0.0F};      ///< where a spot or a sun shines
    float close = 0.0F;  ///< m; rays that pass nearer to the lamp are left out
    float innerCosine = 1.0F;
    float outerCosine = -1.0F;
    float inner = 0.0F;  ///< radians
    float outer = 0.0F;
    /// The table of AirScattering: rows by u from 2^-23, so many to each octave, each with columns + 1 values.
    const float* table = nullptr;
    int columns = 0;
    int rows = 0;
    float leastU = 0.0F;
    float mostU = 0.0F;
};

/// The light of strength 1 along each pixel's ray to a distance, m; NaN where the table can't say it.
/// count: a multiple of 16; distance may be infinite.
void scatterRow(const ScatterRow& row, const RowOfRays& rays, const float* distance, float* light,
                int count) noexcept;

}  // namespace noctis
