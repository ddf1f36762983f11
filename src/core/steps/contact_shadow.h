#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class ShadowTowards { Sun, Point };

/// Settings of the contact shadow step. Units and ranges are declared in contact_shadow.cpp.
struct ContactShadowSettings {
    std::string light{};  ///< by name; empty: as set here
    ShadowTowards kind = ShadowTowards::Sun;
    V3f towards{0.4F, 0.7F, 0.6F};
    V3f position{0.0F, 2.0F, 0.0F};  ///< m
    float length = 1.0F;             ///< m
    float thickness = 0.3F;          ///< m
    float softness = 1.0F;           ///< degrees
    LinearRgb colour{0.0F, 0.0F, 0.0F};
    float strength = 1.0F;
};

StepType contactShadowStep();

}  // namespace noctis
