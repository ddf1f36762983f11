#pragma once

#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/pass_settings.h"

namespace noctis {

/// The frame that passes are traced for.
struct TracedFrame {
    const Accelerator& accelerator;
    const Camera& camera;
    int width;
    int height;
    std::uint32_t seed;
};

/// Traces depth, distance, position, normal, mist, coverage or a matte within one tile.
/// image has the pass's channels.
void traceDataTile(const TracedFrame& frame, const PassRequest& request, const Tile& tile,
                   const std::vector<float*>& planes, std::ptrdiff_t stride) noexcept;

/// The channels of such a pass's image.
std::vector<std::string> dataChannels(const PassRequest& request);

}  // namespace noctis
