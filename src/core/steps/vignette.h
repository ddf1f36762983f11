#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the vignette step. Units and ranges are declared in vignette.cpp.
struct VignetteSettings {
    bool natural = false;      ///< by the fourth power of the cosine of the view's own angle
    float strength = 0.5F;     ///< how much of the light is lost outside
    float inner = 0.4F;        ///< half diagonals, where it begins
    float outer = 1.1F;        ///< half diagonals, where it is full
    float stretch = 0.0F;      ///< -1..1: taller below 0, wider above
    V2f centre{-1.0F, -1.0F};  ///< px of the full picture; below 0: its middle
    LinearRgb colour{};        ///< that is left outside
    float blur = 0.0F;         ///< px, the deviation where it is full
};

/// Light lost towards a picture's edge: times cos^4 of the angle from the camera's axis, and times an ellipse.
///
/// Shape    W x H x 3, or 4 with an alpha, which only blur changes.
/// Exact    cos^4 within 1e-5; every bit where nothing is lost.
/// Errors   none. A parallel view loses nothing naturally.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   the cosine-fourth law of a thin lens.
Image vignetted(const Image& picture, const Camera& camera, float pixelScale,
                const VignetteSettings& settings, const RunContext& run = {});

StepType vignetteStep();

}  // namespace noctis
