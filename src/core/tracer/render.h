#pragma once

#include "core/image/tiles.h"
#include "core/passes/pass_set.h"
#include "core/scene/moved_places.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/data_passes.h"
#include "core/tracer/lens.h"
#include "core/tracer/panorama.h"
#include "core/tracer/pass_settings.h"

#include <functional>
#include <memory>
#include <optional>

namespace noctis {

/// What to render: some passes of one view.
struct RenderRequest {
    View view;
    int width = 1280;
    int height = 720;
    std::vector<PassRequest> passes;
    std::uint32_t seed = 0;
    std::optional<TracedLens> lens;
    /// How light is traced for passes made with beauty, where beauty itself is not among the passes.
    Settings light = initialSettings(passParameters(PassKind::Beauty));
    std::optional<Tile> crop;  ///< only these pixels; the others are background
    MovedPlaces moved;
    std::shared_ptr<PanoramaCache> panoramas;  ///< unset: a panorama is read for this render alone
    std::optional<Moment> before;
    std::optional<Moment> after;
    double framesPerSecond = 24.0;
    /// Somebody watches: each picture is cleaned, and no rough one comes first.
    bool watched = false;
};

/// The tiles of a request's frame, cut to its crop.
std::vector<Tile> tilesOf(const RenderRequest& request, int side);

/// The frame of a request, which it points into.
TracedFrame tracedFrame(const RenderRequest& request);

/// Gives a still that asks for vectors the moments before and after it, where it has none: it is the first
/// frame of the scene's motion, if there is any and the scene stands at its start.
RenderRequest withMotion(const Scene& scene, RenderRequest request);

/// Watches a render from any thread. Any of them may be unset.
struct RenderObserver {
    /// After each round, all passes as good as they are, each with a sample a pixel at least. The first
    /// of a large frame comes from a quarter of its size, a sample for sixteen pixels.
    std::function<void(const PassSet&)> refined;
    std::function<void(PassKind, const Tile&)> tileBegun;
    std::function<void(PassKind)> passBegun;
};

/// Renders passes of a scene, progressively: first everything coarsely, then refining in rounds
/// of doubling sample counts. Data passes are centre-sampled and done at once.
/// Exact    same bits for any thread count, and whether watched or not; by pixel, sample and seed
///          alone (unless it stops after a set time).
/// Errors   Error(BadSetting), Error(TooLarge); Error(FileAccess, BadFile) of a panorama.
/// Threads  uses all cores. When stopped, returns what there is; callers drop it.
PassSet renderPasses(const Scene& scene, const Accelerator& accelerator,
                     const RenderRequest& request, const RunContext& run = {},
                     const RenderObserver& observer = {});

}  // namespace noctis
