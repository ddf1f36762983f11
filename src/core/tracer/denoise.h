#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

namespace noctis {

/// What surfaces a picture shows, without noise: it shows the cleaning where edges are.
struct DenoiseGuides {
    Image position;   ///< X Y Z, world
    Image normal;     ///< X Y Z, unit; 0 where nothing was hit
    Image footprint;  ///< Y: how wide a pixel is at the surface, m
    /// R G B: the surfaces' base colour, across whose edges nothing is smoothed. Empty: it does not count.
    Image albedo;
    /// Y: each pixel is the open part of so many rays, which bounds its noise. Empty: nothing does.
    Image rays;
};

/// How much of the 24 pixels about each one may smooth it, 0..1: little where surfaces are small, or
/// change faster than the noise hides.
Image smoothingSupport(const Image& noisy, const DenoiseGuides& guides, const RunContext& run = {});

/// Smooths the noise of a picture, but not across edges of surfaces: an edge-avoiding wavelet, each of
/// its five rounds twice as wide, which stops at other planes and at differences beyond the noise.
/// strength 0 gives the picture itself, 1 the smoothed one, between them a mix of both.
/// noisy: 1 to 4 channels.
/// Errors   Error(ShapeMismatch) if guides are of another size, or there are more channels.
/// Threads  same bits for any number.
/// Source   Dammertz, Sewtz, Hanika, Lensch 2010, Edge-Avoiding A-Trous Wavelet Transform for fast
///          Global Illumination Filtering; the variance's part as in Schied et al. 2017,
///          Spatiotemporal Variance-Guided Filtering, eq. 5.
Image denoised(const Image& noisy, const DenoiseGuides& guides, float strength,
               const RunContext& run = {});

}  // namespace noctis
