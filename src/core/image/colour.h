#pragma once

#include "core/image/image.h"

#include <string>
#include <vector>

namespace noctis {

/// Source: IEC 61966-2-1.
float linearFromSrgb(float encoded) noexcept;
float srgbFromLinear(float linear) noexcept;

/// Source: ITU-R BT.709.
[[nodiscard]] inline float luminance(const LinearRgb& c) noexcept {
    return 0.2126F * c.r + 0.7152F * c.g + 0.0722F * c.b;
}

/// Whole pictures through OpenColorIO; a channel named A is left as it is.
Image linearFromSrgb(const Image& encoded);
Image srgbFromLinear(const Image& linear);

/// Multiplies colours by the channel A, or divides by it; where A is 0, dividing leaves them alone.
Image associatedFromStraight(const Image& straight);
Image straightFromAssociated(const Image& associated);

/// How the scene-linear picture is shown, and exported to 8 and 16 bits.
enum class ViewTransform {
    Plain,         ///< the sRGB curve; what is brighter than 1 is cut
    SoftShoulder,  ///< a soft shoulder over 12 stops, highlights desaturate gently
};

std::string_view viewTransformId(ViewTransform view);
std::string_view viewTransformLabel(ViewTransform view);
ViewTransform viewTransformNamed(std::string_view id);

/// A scene-linear picture as it is shown: sRGB-encoded, 0..1.
/// Shape    three or more channels, the first three are R G B; the result has three.
/// Units    exposure in stops.
/// Threads  same bits for any thread count.
Image viewed(const Image& linear, ViewTransform view, float exposure);

}  // namespace noctis
