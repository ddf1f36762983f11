#pragma once

#include "core/image/camera.h"
#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/denoise.h"
#include "core/tracer/lighting.h"

namespace noctis {

/// What is seen through the centres of a frame's pixels, in some of its tiles; elsewhere nothing is.
/// light: for a picture of it, where base colours count and the ground that stands in is a surface; or none.
DenoiseGuides seenThroughCentres(const Accelerator& accelerator, const Camera& camera, int width,
                                 int height, const std::vector<Tile>& tiles, const Lighting* light,
                                 const RunContext& run = {});

}  // namespace noctis
