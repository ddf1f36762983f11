#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"
#include "core/steps/spread.h"

#include <functional>

namespace noctis {

// A picture cut into layers by how much and on which side of the focus they blur. Layer 0 is sharp,
// positive ones lie behind and negative ones before it; each holds about twice the radius of the
// one nearer to 0. Between neighbours pixels go over softly, so that no seam shows on a receding
// ground.

/// A pixel's share in a layer.
struct LayerShare {
    int layer = 0;
    float share = 1.0F;
};

/// The one or two layers of a signed radius in pixels; the shares sum to 1.
struct LayerShares {
    LayerShare first;
    LayerShare second;  ///< share 0: none
};
LayerShares layersOf(float signedRadius) noexcept;

/// The scale a layer is worked at: 1, or coarser where the blur is so wide that nothing is lost.
int layerFactor(int layer) noexcept;

/// Draws a layer's pixels, spread by their radii, at 1/factor of the size.
/// radius: signed, W x H; colour: three planes; share(x, y) gives each pixel's part in the layer.
WeightedPicture drawLayer(const Image& colour, const Image& radius, int layer,
                          const ApertureKernels& kernels, const RunContext& run);

/// Lays a layer under what is nearer, enlarging it as needed: it fills what the nearer ones left
/// open, up to its own weight. So two layers that share one surface make up one opaque surface.
void layUnder(WeightedPicture& nearer, const WeightedPicture& layer, int factor,
              const RunContext& run);

/// Colour and radius of what lies behind the blurred foreground, guessed from beside it: pixels
/// whose radius is below -1 are filled from the others, from coarse to fine (pull and push). Source
/// Gortler et al. 1996, The Lumigraph, 3.4.
void fillBehind(Image& colour, Image& radius, const RunContext& run);

}  // namespace noctis
