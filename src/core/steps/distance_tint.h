#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the distance tint step. Units and ranges are declared in distance_tint.cpp.
struct DistanceTintSettings {
    float nearest = 5.0F;    ///< m along the view: the gradient's beginning
    float farthest = 60.0F;  ///< m, its end
    Gradient colours{{{0.0F, {1.125F, 1.0F, 0.875F}}, {1.0F, {0.8125F, 0.9375F, 1.1875F}}}};
};

/// What light from a depth is multiplied by.
/// Range    depth in m, +inf where nothing was hit: the gradient's end; not a number: 1.
LinearRgb distanceTint(float depth, const DistanceTintSettings& settings) noexcept;

StepType distanceTintStep();

}  // namespace noctis
