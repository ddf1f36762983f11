#pragma once

#include "core/image/run_context.h"
#include "core/steps/blur_surfaces.h"
#include "core/steps/spread.h"

namespace noctis {

/// The scale a layer is worked at: 1, or coarser where the blur is so wide that nothing is lost.
int layerFactor(int layer) noexcept;

/// Draws a layer's pieces, each spread by its radius, at 1/factor of the size.
WeightedPicture drawLayer(const Image& colour, const Image& radius, const BlurSurfaces& surfaces,
                          int layer, const ApertureKernels& kernels, const RunContext& run);

/// Lays a layer under what is nearer, enlarging it as needed: it is seen through what the nearer ones
/// leave open, so that blurred edges that cross multiply.
void layUnder(WeightedPicture& nearer, const WeightedPicture& layer, int factor,
              const RunContext& run);

}  // namespace noctis
