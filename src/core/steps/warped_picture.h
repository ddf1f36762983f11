#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/image/run_context.h"

#include <functional>

namespace noctis {

/// Where the place (x, y) of a result is in its source; px of the image, pixel centres at halves.
using PlaceMap = std::function<V2f(float x, float y)>;

/// A picture as a map shows it; beyond its border its edge goes on. What becomes smaller is averaged.
/// Exact    where the map is the identity.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   the cubic of Catmull and Rom 1974, kept within the four pixels about each place: no light below 0 and no
///          rings about highlights.
Image warpedPicture(const Image& picture, const PlaceMap& sourceOf, const RunContext& run = {});

/// Data by the same map: the nearest sample, nothing blended.
Image warpedData(const Image& data, const PlaceMap& sourceOf, const RunContext& run = {});

}  // namespace noctis
