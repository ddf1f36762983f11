#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class RecolourAs { Tint, Paint };

/// Settings of the recolour step. Units and ranges are declared in recolour.cpp.
struct RecolourSettings {
    LinearRgb colour{0.05F, 0.25F, 0.08F};
    RecolourAs as = RecolourAs::Tint;
    float brightness = 1.0F;  ///< multiplies what comes of it
};

/// Gives things another colour in the light that falls on them. Tint: the colour's hue and saturation at the picture's
/// own luminance. Paint: the picture times the new colour over the surface's own, diffuse.colour, which is exact where
/// all light is diffuse.
StepType recolourStep();

}  // namespace noctis
