#pragma once

#include "core/image/image.h"
#include "core/passes/pass_set.h"

#include <optional>

namespace noctis {

/// Haze that a picture has in it.
struct PictureHaze {
    float density = 0.0F;  ///< 1/m
    float start = 0.0F;    ///< m
    LinearRgb colour{};
};

/// Read from how the darkest things at each distance rise towards the colour of the farthest.
/// None without a picture or distances, or where nothing rises.
/// Source   the darkest values of a haze-free picture are near 0: He, Sun and Tang 2009; here per distance, so that the
///          law of the air is fitted instead of guessed pixel by pixel.
std::optional<PictureHaze> pictureHaze(const PassSet& passes);

}  // namespace noctis
