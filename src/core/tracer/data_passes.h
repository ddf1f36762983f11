#pragma once

#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/moment.h"
#include "core/tracer/pass_settings.h"

#include <map>

namespace noctis {

/// The frame that passes are traced for.
struct TracedFrame {
    const Camera& camera;
    int width;
    int height;
    std::uint32_t seed;
    const Moment* before = nullptr;  ///< unset: nothing moves
    const Moment* after = nullptr;
};

/// Traces a pass that is measured, not averaged over light, within one tile.
/// accelerator holds what the pass shows; planes are the pass's channels.
void traceDataTile(const TracedFrame& frame, const Accelerator& accelerator,
                   const PassRequest& request, const Tile& tile, const std::vector<float*>& planes,
                   std::ptrdiff_t stride) noexcept;

/// The channels of such a pass's image.
std::vector<std::string> dataChannels(const PassRequest& request);

/// The names a matte can show, by id.
std::map<std::string, std::string> manifestFor(const Scene& scene, PassKind kind);

/// Which instances a pass shows; see instancesNamed.
std::string shownOnly(const PassRequest& request);

/// Of a pixel: more than one blend what it shows, one measures its centre.
int dataSamples(const PassRequest& request);

}  // namespace noctis
