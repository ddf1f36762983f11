#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the step that takes haze away: those of the fog it undoes. Units and ranges are declared in clear_air.cpp.
struct ClearAirSettings {
    float density = 0.0F;  ///< 1/m
    float start = 4.0F;    ///< m from the camera
    LinearRgb colour{0.18F, 0.22F, 0.28F};
    float least = 0.05F;  ///< of what gets through; below it, haze stays
};

StepType clearAirStep();

}  // namespace noctis
