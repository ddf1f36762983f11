#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the grain step. Units and ranges are declared in grain.cpp.
struct GrainSettings {
    float strength = 0.07F;  ///< deviation where the picture is middle grey, over that grey
    float size = 1.5F;       ///< px of the full picture
    int seed = 1;
    float colour = 0.3F;  ///< 0: the same in all channels; 1: each its own
};

StepType grainStep();

}  // namespace noctis
