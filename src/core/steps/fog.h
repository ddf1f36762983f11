#pragma once

#include "core/image/camera.h"
#include "core/image/run_context.h"
#include "core/recipe/step_type.h"

namespace noctis {

/// A height that is no limit, m; its opposite for the bottom.
inline constexpr float kNoHeight = 1e5F;

/// Settings of the fog step. These are the defaults; units and ranges are declared in fog.cpp.
struct FogSettings {
    float start = 4.0F;     ///< m from the camera
    float density = 0.02F;  ///< 1/m; at level, with a height falloff
    LinearRgb colour{0.18F, 0.22F, 0.28F};
    bool byHeight = false;
    float level = 0.0F;         ///< m, world height where density holds
    float scaleHeight = 5.0F;   ///< m over which density falls to 1/e
    float skyDistance = 0.0F;   ///< m to where nothing was hit; 0: endlessly far
    float bottom = -kNoHeight;  ///< m, world height; none below
    float top = kNoHeight;      ///< m, world height; none above
    float softTop = 0.0F;       ///< m below the top over which it falls to none
    bool banks = false;         ///< noise in the scene multiplies the density, with a mean of 1
    float bankSize = 6.0F;      ///< m
    float bankContrast = 0.7F;  ///< 0..1
    V3f drift{0.0F};            ///< m/s
};

/// Blends a picture towards the fog's colour by the air between camera and surface.
///
/// Shape    colour: W x H x 3, or 4 with an alpha that it is associated with; distance: W x H x 1; the result is shaped like colour.
/// Units    distance (radial), start: m; density: 1/m; colours: scene-linear RGB.
/// Range    distance >= 0, +inf where nothing was hit; a NaN distance keeps its pixel.
/// Exact    density 0 returns colour bit for bit. Otherwise within kFogTolerance of the law.
/// Errors   Error(ShapeMismatch). Checked before any work.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   Beer-Lambert law, T = exp(-integral of density), out = in T + colour (1 - T); with
/// height,
///          density exp(-(y - level)/scaleHeight) between bottom and top, integrated in closed form along the ray;
///          what banks add to that is summed in steps that grow with the distance.
/// seconds: since banks began to drift.
Image applyFog(const Image& colour, const Image& distance, const Camera& camera,
               const FogSettings& settings, const RunContext& run = {}, double seconds = 0.0);

inline constexpr float kFogTolerance = 1e-5F;

/// The part of a surface's light that gets through, along a level ray at the fog's level.
float fogTransmittance(float distance, const FogSettings& settings) noexcept;

StepType fogStep();

}  // namespace noctis
