#pragma once

#include "core/image/camera.h"
#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/denoise.h"
#include "core/tracer/lighting.h"

#include <optional>
#include <vector>

namespace noctis {

/// What is seen through the centres of a frame's pixels, in some of its tiles; elsewhere nothing is.
/// light: for a picture of it, where base colours count and the ground that stands in is a surface; or none.
DenoiseGuides seenThroughCentres(const Accelerator& accelerator, const Camera& camera, int width,
                                 int height, const std::vector<Tile>& tiles, const Lighting* light,
                                 const RunContext& run = {});

/// The guides of a render's cleaning, made when they are first needed. Those of light show the surfaces' colours,
/// and the ground that stands in; those of occlusion neither.
class CleaningGuides {
public:
    /// Accelerator, camera and tiles outlive this.
    CleaningGuides(const Accelerator& accelerator, const Camera& camera, int width, int height,
                   const std::vector<Tile>& tiles);

    const DenoiseGuides& ofLight(const Lighting& lighting, const RunContext& run);
    const DenoiseGuides& ofOcclusion(const RunContext& run);

private:
    [[nodiscard]] DenoiseGuides seen(const Lighting* light, const RunContext& run) const;

    const Accelerator& m_accelerator;
    const Camera& m_camera;
    const std::vector<Tile>& m_tiles;
    int m_width;
    int m_height;
    bool m_shared = false;  ///< those of light, but for the colours, are those of occlusion
    std::optional<DenoiseGuides> m_light;
    std::optional<DenoiseGuides> m_occlusion;
};

}  // namespace noctis
