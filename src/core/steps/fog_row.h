#pragma once

namespace noctis {

/// Fog along a run of pixels, all in plain numbers.
struct FogRow {
    float start;
    float density;
    float sky;  ///< m; the distance of nothing hit
    float r;
    float g;
    float b;
    // With a height falloff: density at the camera's height, one over the scale height, and the
    // ray's upward part (up + i * upStep) / sqrt(length2 + ((i + side) * sideStep)^2) at pixel i. A
    // scale of 0 is none.
    float inverseScale;
    float up;
    float upStep;
    float length2;
    float side;
    float sideStep;
};

/// r, g, b: changed in place; distance: m, radial. count >= 0, no alignment is asked for.
void fogRow(const FogRow& fog, const float* distance, const float* alpha, float* r, float* g,
            float* b, int count) noexcept;

}  // namespace noctis
