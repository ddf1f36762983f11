#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

#include <span>

namespace noctis {

/// A Gaussian and its part of a sum.
struct GaussianPart {
    float deviation = 0.0F;  ///< px
    float share = 1.0F;
};

/// An image blurred by a sum of Gaussians; beyond its border there is nothing. Each is blurred at the level of a pyramid
/// where it is a few pixels wide, so that the time doesn't grow with their width.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   Burt and Adelson 1983; what the pyramid itself blurs is taken off the Gaussians' variance.
Image pyramidBlur(const Image& image, std::span<const GaussianPart> parts, const RunContext& run);

/// The same by one Gaussian, as if the image's border went on beyond it.
Image wideBlur(const Image& image, float deviation, const RunContext& run);

}  // namespace noctis
