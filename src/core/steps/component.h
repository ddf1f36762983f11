#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class ComponentMode { Add, Screen, Subtract };

/// Settings of the component step. Units and ranges are declared in component.cpp.
struct ComponentSettings {
    std::string pass = "specular.direct";
    float strength = 1.0F;
    ComponentMode mode = ComponentMode::Add;
    LinearRgb colour{1.0F, 1.0F, 1.0F};
};

StepType componentStep();

}  // namespace noctis
