#pragma once

#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"

namespace noctis {

/// What the rays through a frame's pixel centres meet first, in packets: some times as fast as one by one.
/// hits: one a pixel of the tile, row by row.
void firstHits(const Accelerator& accelerator, const Camera& camera, int width, int height,
               const Tile& tile, Hit* hits) noexcept;

}  // namespace noctis
