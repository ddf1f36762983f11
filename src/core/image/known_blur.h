#pragma once

#include "core/image/image.h"

namespace noctis {

/// A Gaussian blur of one channel with unknown samples: one that isn't finite counts for nothing and stays as
/// it is. Edges of the picture are mirrored. sigma: in pixels. Wide ones are taken at a smaller size.
Image knownBlur(const Image& image, float sigma);

}  // namespace noctis
