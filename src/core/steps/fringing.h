#pragma once

#include "core/image/run_context.h"
#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the fringing step. Units and ranges are declared in fringing.cpp.
struct FringingSettings {
    float strength = 2.0F;  ///< px between red and blue in the corners; red outside, below 0 inside
};

/// Each colour of the spectrum a little larger than the last, about the picture's middle: lateral chromatic aberration.
///
/// Shape    W x H x 3, or 4 with an alpha, which covers what any of the colours covers.
/// Units    strength in pixels of this image.
/// Exact    the mean place of red and of blue is half of strength from green's in the corners; green's stays. The sum of
///          the colours of a grey edge is grey.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
Image fringed(const Image& picture, float strength, const RunContext& run = {});

StepType fringingStep();

}  // namespace noctis
