#pragma once

#include "core/image/colour.h"
#include "core/passes/pass_set.h"

#include <optional>

namespace noctis {

/// Where a picture has things, and what colour its distance has: what new air starts from.
struct PictureAir {
    float front = 4.0F;    ///< m; a tenth of what is hit is nearer
    float middle = 15.0F;  ///< m; as much of it is nearer as farther
    float back = 60.0F;    ///< m; a twentieth is farther
    std::optional<LinearRgb>
        colour;  ///< of what lies behind and of the sky; none without a picture
};

/// None where the passes hold no distances.
std::optional<PictureAir> pictureAir(const PassSet& passes);

}  // namespace noctis
