#pragma once

#include "core/image/image.h"
#include "core/image/tiles.h"

namespace noctis {

/// Gives the pixels of an area that Traced::Second left out what stands between their neighbours: those
/// above and below or those to the sides, the more the more alike the two are, so that edges stay whole.
/// Depth is that of the plane through both, or of one where a step lies between them.
/// shown: 1 or 3 channels. depth: infinite where nothing is. Same strides. area: more than one pixel.
void fillBetweenTraced(Image& shown, Image& depth, const Tile& area, const RunContext& run);

}  // namespace noctis
