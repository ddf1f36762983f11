#pragma once

#include "core/passes/pass_set.h"

namespace noctis {

/// Distances and places at single pixels, derived from one another where they were not measured; what can be
/// derived says canResolve. The set outlives it.
class DerivedPixels {
public:
    explicit DerivedPixels(const PassSet& set);

    [[nodiscard]] CameraRay ray(int x, int y) const {
        return m_rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
    }
    [[nodiscard]] float depth(int x, int y) const;
    [[nodiscard]] float distance(int x, int y) const;
    /// The world's origin where nothing was hit.
    [[nodiscard]] V3f position(int x, int y) const;
    /// In the world; 0 where nothing was hit.
    [[nodiscard]] V3f normal(int x, int y) const;

private:
    const PassSet& m_set;
    FrameRays m_rays;
    M44f m_worldToCamera;
    const Image* m_depth = nullptr;
    const Image* m_distance = nullptr;
    const Image* m_position = nullptr;
    const Image* m_coverage = nullptr;
};

}  // namespace noctis
