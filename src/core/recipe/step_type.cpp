#include "core/recipe/step_type.h"

#include <array>

namespace noctis {

Image maskedLight(const Image& picture, const CarriedMask& mask) {
    if (!mask.ofLight)
        return mask.share;
    Image out = picture;
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x)
                to[out.rowStride() * y + x] *= mask.share(x, y, c);
    }
    return out;
}

std::string_view phaseName(Phase phase) {
    static constexpr std::array<std::string_view, 4> kNames{"light", "air", "lens", "finish"};
    return kNames[static_cast<std::size_t>(phase)];
}

std::string_view phaseLabel(Phase phase) {
    static constexpr std::array<std::string_view, 4> kLabels{"Light", "Air", "Lens", "Finish"};
    return kLabels[static_cast<std::size_t>(phase)];
}

}  // namespace noctis
