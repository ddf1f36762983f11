#pragma once

#include "core/image/camera.h"
#include "core/image/colour.h"

namespace noctis {

/// Banks of fog: noise that stands in the scene and multiplies the density, with a mean of 1.
struct FogBanks {
    float perMetre = 0.0F;  ///< one over their size; 0: there are none
    float contrast = 0.0F;  ///< 0..1
    V3f drifted{0.0F};      ///< m that they have moved
};

/// Fog along a run of pixels, all in plain numbers. Lengths in m.
struct FogRow {
    float start = 0.0F;
    float density = 0.0F;  ///< 1/m
    float sky = 0.0F;      ///< the distance of nothing hit
    LinearRgb colour{};
    RowOfRays rays{};
    float level = 0.0F;
    float inverseScale = 0.0F;    ///< one over the height over which it thins to 1/e; 0: it doesn't
    float bottom = -kNothingHit;  ///< none below and above these heights
    float top = kNothingHit;
    float softTop = 0.0F;  ///< below the top, over which it falls to none
    FogBanks banks{};
};

/// r, g, b: changed in place; distance: m, radial. count >= 0, no alignment is asked for.
void fogRow(const FogRow& fog, const float* distance, const float* alpha, float* r, float* g,
            float* b, int count) noexcept;

}  // namespace noctis
