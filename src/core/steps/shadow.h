#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the shadow step. Units and ranges are declared in shadow.cpp.
struct ShadowStepSettings {
    std::string pass = "ground_shadow";
    float strength = 1.0F;
    float softness = 0.0F;  ///< px of the full picture
    LinearRgb colour{0.0F, 0.0F, 0.0F};
};

StepType shadowStep();

}  // namespace noctis
