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

}  // namespace noctis
