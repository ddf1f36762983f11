#pragma once

#include "core/image/tiles.h"
#include "core/passes/pass_set.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/pass_settings.h"

#include <functional>
#include <memory>
#include <optional>

namespace noctis {

/// A thin lens, for beauty traced through it.
struct TracedLens {
    float focusDistance = 5.0F;   ///< m, planar
    float apertureRadius = 0.0F;  ///< m; 0 is a pinhole
    int blades = 0;               ///< fewer than 3: round
    float rotationRadians = 0.0F;

    /// The lens of an f-number and a focal length in mm.
    static TracedLens ofFNumber(float fNumber, float focalLengthMm, float focusDistance);
};

/// What is to be rendered: some passes of one view.
struct RenderRequest {
    View view;
    int width = 1280;
    int height = 720;
    std::vector<PassRequest> passes;
    std::uint32_t seed = 0;
    std::optional<TracedLens> lens;
};

/// Watches a render from any thread. Any of them may be unset.
struct RenderObserver {
    std::function<void(const PassSet&)>
        refined;  ///< after each round, all passes as good as they are
    std::function<void(PassKind, const Tile&)> tileBegun;
    std::function<void(PassKind)> passBegun;
};

/// Renders passes of a scene, progressively: first everything coarsely, then refining in rounds
/// of doubling sample counts. Data passes are centre-sampled and done at once.
/// Exact    same bits for any thread count, and whether watched or not; by pixel, sample and seed
///          alone.
/// Errors   Error(BadSetting), Error(TooLarge); Error(FileAccess, BadFile) of a panorama.
/// Threads  uses all cores. When stopped, returns what there is; callers drop it.
PassSet renderPasses(const Scene& scene, const Accelerator& accelerator,
                     const RenderRequest& request, const RunContext& run = {},
                     const RenderObserver& observer = {});

}  // namespace noctis
