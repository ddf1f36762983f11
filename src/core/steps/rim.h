#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the rim step. Units and ranges are declared in rim.cpp.
struct RimSettings {
    float strength = 0.5F;
    float power = 3.0F;
    V3f towards{0.0F, 1.0F, 0.0F};
    float around = 1.0F;  ///< 0..1: 0 just from that direction, 1 from all round
    LinearRgb colour{1.0F, 1.0F, 1.0F};
    bool edges = false;   ///< only where depth ends, instead of wherever surfaces turn away
    float width = 16.0F;  ///< px of the full picture, from where it ends
};

StepType rimStep();

}  // namespace noctis
