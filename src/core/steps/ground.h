#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the ground step. Units and ranges are declared in ground.cpp.
struct GroundSettings {
    std::string pass = "ground_shadow";
    LinearRgb colour{0.0F, 0.0F, 0.0F};
    float strength = 1.0F;
    float softness = 0.0F;  ///< px
};

StepType groundStep();

}  // namespace noctis
