#pragma once

#include "core/image/camera.h"

#include <cmath>

namespace noctis {

/// How large a pixel of a frame is in the scene, m.
class PixelSize {
public:
    PixelSize(const Camera& camera, int height) {
        const auto tall = static_cast<float>(height);
        if (camera.orthographic())
            m_always = camera.orthographicHeight / tall;
        else
            m_perMetre = 2.0F * std::tan(0.5F * camera.yfovRadians) / tall;
    }
    /// depth: m along the view; of a parallel view it makes no difference.
    [[nodiscard]] float at(float depth) const noexcept { return m_always + m_perMetre * depth; }

private:
    float m_always = 0.0F;
    float m_perMetre = 0.0F;
};

}  // namespace noctis
