#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the airlight step. Units and ranges are declared in airlight.cpp.
struct AirlightSettings {
    std::string light{};  ///< by name; empty: as set here
    SceneLightKind kind = SceneLightKind::Point;
    V3f towards{0.4F, 0.7F, 0.6F};
    V3f position{0.0F, 2.0F, 0.0F};  ///< m
    float inner = 20.0F;             ///< degrees
    float outer = 35.0F;             ///< degrees
    LinearRgb colour{1.0F, 1.0F, 1.0F};
    float strength = 1.0F;  ///< see SceneLight
    float density = 0.02F;  ///< 1/m
    float scatter = 0.4F;   ///< Henyey and Greenstein's g
    float size = 0.01F;     ///< m, of the lamp
    float reach = 0.0F;     ///< m from the camera; 0: endless
    bool shadow = false;
    float thickness = 0.3F;  ///< m
    float softness = 0.5F;   ///< degrees
    LinearRgb nearColour{1.0F, 1.0F, 1.0F};
    LinearRgb farColour{1.0F, 0.55F, 0.25F};
    float colourReach = 0.0F;  ///< m from the lamp; 0: no tint
};

StepType airlightStep();

}  // namespace noctis
