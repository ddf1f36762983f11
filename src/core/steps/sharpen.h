#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the sharpen step. Units and ranges are declared in sharpen.cpp.
struct SharpenSettings {
    float radius = 1.5F;  ///< px, the deviation of what is taken for detail
    float strength = 0.5F;
    float threshold = 0.02F;  ///< of the brightness around: detail below it stays
    /// How far beyond the brightest and darkest around it an edge may go, in parts of these.
    float limit = 0.1F;
};

/// Detail, the picture beside its own blur, made stronger: in luminance, so that colours stay.
///
/// Shape    picture: W x H x 3, or 4 with an alpha that it is associated with and that stays. blurRadius: px of this
///          image, one channel, of what a lens has blurred already, which is left alone; may be empty.
/// Exact    every bit where there is no detail above the threshold.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
Image sharpened(const Image& picture, const Image& blurRadius, float pixelScale,
                const SharpenSettings& settings, const RunContext& run = {});

StepType sharpenStep();

}  // namespace noctis
