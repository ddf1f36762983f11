#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class LightAxes { Camera, World };
enum class AxisLightMode { Multiply, Add };

/// Settings of the axis light step: each of the six ways from -1 (darker) to 1 (lighter).
struct AxisLightSettings {
    LightAxes axes = LightAxes::Camera;
    AxisLightMode mode = AxisLightMode::Multiply;
    float strength = 1.0F;  ///< of added light
    float right = 0.0F;
    float left = 0.0F;
    float up = 0.0F;
    float down = 0.0F;
    float front = 0.0F;
    float back = 0.0F;
    LinearRgb rightColour{1.0F, 1.0F, 1.0F};
    LinearRgb leftColour{1.0F, 1.0F, 1.0F};
    LinearRgb upColour{1.0F, 1.0F, 1.0F};
    LinearRgb downColour{1.0F, 1.0F, 1.0F};
    LinearRgb frontColour{1.0F, 1.0F, 1.0F};
    LinearRgb backColour{1.0F, 1.0F, 1.0F};
};

StepType axisLightStep();

}  // namespace noctis
