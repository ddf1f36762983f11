#include "core/recipe/step_type.h"

#include <array>

namespace noctis {

std::string_view phaseName(Phase phase) {
    static constexpr std::array<std::string_view, 4> kNames{"light", "air", "lens", "finish"};
    return kNames[static_cast<std::size_t>(phase)];
}

std::string_view phaseLabel(Phase phase) {
    static constexpr std::array<std::string_view, 4> kLabels{"Light", "Air", "Lens", "Finish"};
    return kLabels[static_cast<std::size_t>(phase)];
}

Settings settingsWith(const StepType& type,
                      const std::vector<std::pair<std::string, Value>>& values) {
    Settings settings = initialSettings(type.parameters);
    for (const auto& [id, value] : values) {
        const std::size_t index = parameterIndex(type.parameters, id);
        settings[index] = checkedValue(type.parameters[index], value);
    }
    return settings;
}

}  // namespace noctis
