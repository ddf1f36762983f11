#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class RelightMode { Add, Replace };

/// Settings of the relight step. Units and ranges are declared in relight.cpp.
struct RelightSettings {
    std::string light{};  ///< by name; empty: as set here
    SceneLightKind kind = SceneLightKind::Sun;
    V3f towards{0.4F, 0.7F, 0.6F};
    V3f position{0.0F, 2.0F, 0.0F};  ///< m
    float inner = 20.0F;             ///< degrees
    float outer = 35.0F;             ///< degrees
    float size = 1.0F;               ///< m
    LinearRgb colour{1.0F, 1.0F, 1.0F};
    float strength = 1.0F;   ///< see SceneLight
    float highlight = 1.0F;  ///< how much of the mirrored part is added
    RelightMode mode = RelightMode::Add;
    std::string replaces{};  ///< a light group
    bool shadow = false;
    float length = 0.0F;     ///< m, of the shadow
    float thickness = 0.5F;  ///< m
    float softness = 0.5F;   ///< degrees
};

StepType relightStep();

}  // namespace noctis
