#pragma once

#include "core/image/pixel_size.h"
#include "core/tracer/lighting.h"
#include "core/tracer/pass_settings.h"
#include "core/tracer/ray_packets.h"
#include "core/tracer/seen_before.h"

#include <vector>

namespace noctis {

/// What the light of a moving picture is made from.
struct MovingLight {
    const Accelerator& accelerator;
    const Lighting& lighting;
    const BeautySettings& settings;
    const SeenBefore* before;  ///< of a still picture with the same lights, or none
    PixelSize size;
};

/// The light that one tile of a moving picture shows; see MovingPicture.
/// hits, normals: of the tile's rays. width: of the tile. light: one a pixel, 0 before.
void lightTile(const MovingLight& from, const TileRays& seen, const std::vector<Hit>& hits,
               const std::vector<V3f>& normals, int width, std::vector<LinearRgb>& light);

}  // namespace noctis
