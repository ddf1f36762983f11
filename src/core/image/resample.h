#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

namespace noctis {

/// How samples between those of an image are found. Nearest blends none, so it suits data; Area is the mean of
/// what a sample covers, for making smaller.
enum class Resampling { Nearest, Linear, Cubic, Area };

/// The whole image in another size.
/// Source   cv::resize.
Image resized(const Image& image, int width, int height, Resampling how);

/// A picture at 1/factor of its size, each sample the mean of a factor x factor block. For colour.
/// Shape    ceil(width / factor) x ceil(height / factor); factor >= 1.
Image shrinkByMean(const Image& image, int factor, const RunContext& run = {});

/// The same size, each sample the one at the middle of its block: no two distances are blended. For
/// data passes.
Image shrinkByCentre(const Image& image, int factor, const RunContext& run = {});

}  // namespace noctis
