#pragma once

#include "core/image/camera.h"
#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/denoise.h"

namespace noctis {

/// What is seen through the centres of a frame's pixels, in some of its tiles; elsewhere nothing is.
/// Base colours come only on demand.
DenoiseGuides seenThroughCentres(const Accelerator& accelerator, const Camera& camera, int width,
                                 int height, const std::vector<Tile>& tiles, bool baseColours,
                                 const RunContext& run = {});

}  // namespace noctis
