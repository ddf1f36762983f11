#pragma once

#include "core/recipe/step_type.h"

#include <string>
#include <vector>

namespace noctis {

/// What is done to the light of one group.
struct LightGroupSettings {
    std::string name;
    float strength = 1.0F;
    LinearRgb colour{1.0F, 1.0F, 1.0F};
    bool on = true;
    bool alone = false;  ///< while any group is alone, the others are off
};

/// Settings of the light balance step: groups that are not named keep their light.
struct LightBalanceSettings {
    std::vector<LightGroupSettings> groups;
};

/// What the light of a group is multiplied by.
LinearRgb lightFactor(const std::string& group, const LightBalanceSettings& settings) noexcept;

/// picture + sum of (factor - 1) light: only the difference is laid on, so that all at 1 keeps every
/// bit, even where groups do not add up to the picture.
StepType lightBalanceStep();

}  // namespace noctis
