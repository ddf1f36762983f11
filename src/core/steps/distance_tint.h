#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the distance tint step. Units and ranges are declared in distance_tint.cpp.
struct DistanceTintSettings {
    float nearest = 5.0F;    ///< m along the view: the gradient's beginning
    float farthest = 60.0F;  ///< m, its end
    Gradient colours{{{0.0F, {1.1F, 1.0F, 0.86F}}, {1.0F, {0.82F, 0.96F, 1.2F}}}};
};

/// What light from a depth is multiplied by.
/// Range    depth in m, +inf where nothing was hit: the gradient's end; not a number: 1.
LinearRgb distanceTint(float depth, const DistanceTintSettings& settings) noexcept;

StepType distanceTintStep();

}  // namespace noctis
