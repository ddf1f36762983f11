#pragma once

#include "core/image/camera.h"
#include "core/scene/scene.h"
#include "core/tracer/sampler.h"

#include <array>
#include <optional>

namespace noctis {

/// The ground that stands in under a scene without light, so that things don't float: level, and without an end.
/// It is part of the backdrop: it has the sky's colour less what things shade, and only the camera sees it.
/// Surfaces, data passes and alpha know nothing of it.
class StandInGround {
public:
    /// level: y, m. group, skyGroup: into lightGroups(scene). skyIrradiance: luminance on a level surface.
    StandInGround(float level, const Light& key, int group, float skyIrradiance, int skyGroup);

    /// Where a ray meets a level ground from above.
    [[nodiscard]] static std::optional<V3f> metAt(float level, const V3f& origin,
                                                  const V3f& direction) noexcept;
    /// Where a ray that met nothing meets this one; a little above, for shadow rays.
    [[nodiscard]] std::optional<V3f> met(const V3f& origin, const V3f& direction) const noexcept;

    /// A part of the ground's light, which is there unless something stands in this direction.
    struct Part {
        V3f direction{0.0F};
        float share = 0.0F;  ///< 0..1; those of all parts add up to 1
        int group = 0;
    };
    /// Of the key light, which is looked for anywhere on its disc, and of the sky.
    [[nodiscard]] std::array<Part, 2> parts(const Sample2& onKey,
                                            const Sample2& onSky) const noexcept;
    /// The colour of a direction's ground is that of all others.
    [[nodiscard]] static bool hasOneColour(const V3f& direction) noexcept {
        return direction.y <= -Sky::kGroundFrom;
    }

private:
    float m_level;
    V3f m_towardsKey;
    float m_keyCosine;  ///< of its disc's half angle
    float m_keyShare;
    int m_keyGroup;
    int m_skyGroup;
};

}  // namespace noctis
