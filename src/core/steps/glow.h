#pragma once

#include "core/image/run_context.h"
#include "core/recipe/step_type.h"

namespace noctis {

enum class GlowMode { Keep, Add };

/// Settings of the glow step. Units and ranges are declared in glow.cpp.
struct GlowSettings {
    float threshold = 1.0F;  ///< scene-linear
    float radius = 0.04F;    ///< of the picture's width: half of the light stays within
    float strength = 0.3F;
    GlowMode mode = GlowMode::Keep;
    LinearRgb tint{1.0F, 1.0F, 1.0F};
    int streaks = 0;      ///< rays from each highlight; 0: a round halo
    float angle = 30.0F;  ///< degrees, of the first ray, counterclockwise from the right
};

/// Spreads what exceeds the threshold: with e as that part of the picture and K a kernel whose sum is 1, keep gives
/// in + strength (tint K*e - e) and add in + strength tint K*e.
///
/// Shape    picture: W x H x 3, or 4 with an alpha that it is associated with; the result is shaped like it. share: 0..1
///          with one channel or the picture's, of the light that may glow; may be empty.
/// Range    what isn't finite doesn't glow. keep takes no more than there is: strength counts as 1 at most.
/// Errors   Error(ShapeMismatch).
/// Threads  same bits for any thread count; stops early when run.stop is requested.
Image applyGlow(const Image& picture, const GlowSettings& settings, const Image& share = {},
                const RunContext& run = {});

StepType glowStep();

}  // namespace noctis
