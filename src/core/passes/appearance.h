#pragma once

#include "core/passes/pass.h"

namespace noctis {

/// The colour of a place on the depth axis, 0 near (brass) to 1 far (indigo), sRGB-encoded.
LinearRgb depthRampColour(float place) noexcept;

/// Position of a distance between near and far, 0..1, on a logarithmic axis.
float placeOnDepthAxis(float metres, float nearest, float farthest) noexcept;

/// The range of distances worth showing: from the nearest to nearly the farthest finite one.
struct DepthRange {
    float nearest = 0.1F;
    float farthest = 100.0F;
};
DepthRange depthRangeOf(const Image& depth);

/// A data pass as a picture to look at, sRGB-encoded 0..1, R G B: distances on the depth ramp, directions
/// as colours, positions by axis, mattes in a colour a name, the rest as grey.
Image appearanceOf(const Pass& pass);

/// A distance pass on a ramp between these distances.
Image rampPicture(const Image& distance, const DepthRange& range);

/// One channel as grey: of colours sRGB-encoded, of data from its least to its largest value.
Image channelAppearance(const Pass& pass, int channel);

}  // namespace noctis
